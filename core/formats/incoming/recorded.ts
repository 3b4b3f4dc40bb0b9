/** Takes of what a file says by samples so dense that nobody set them as keys. */
import { curveOf, vectorOf } from '../../clip/compile';
import { CLEANING, MOST_TAKE_COLUMNS, type Cleaning, type Take, type TakeColumn } from '../../document/takes';
import { AXES, channelsOfClip, clipsInOrder, kindOf, type Clip, type Doc } from '../../document/types';
import { MOST_TAKE_SAMPLES, writeTakeFile } from '../../takes/samples-file';
import { shortName } from '../../text';
import { evaluateCurve } from '../../../player/curve/evaluate';
import { evaluateVector } from '../../../player/curve/vector';
import { closestEuler, toEuler, type Quaternion } from '../../../player/maths/quaternion';
import type { Four, Vec3 } from '../../../player/maths/vector';
import { TICKS_PER_SECOND } from '../../../player/time';
import type { TakenIn } from '../format';

export interface RecordedColumn extends TakeColumn {
	clip: string;
	/** Whole ticks, rising. */
	times: ArrayLike<number>;
	values: ArrayLike<number>;
}

/** Fewer samples, or fewer a second, are keys. */
const LEAST_SAMPLES = 24;
const LEAST_RATE = 12;
const MOST_FILE_BYTES = 30_000_000;
/** Between keys a clip is looked at so often a second. */
const SHOWN_RATE = 60;

export function isRecording(times: ArrayLike<number>): boolean {
	const last = times.length - 1;
	const rate = (last * TICKS_PER_SECOND) / (times[last] - times[0]);
	return times.length >= LEAST_SAMPLES && times.length <= MOST_TAKE_SAMPLES && rate >= LEAST_RATE;
}

/** Samples that are farther apart than so many of them mostly are, and than so many seconds, have a gap between them. */
const GAP_TIMES = 4;
const LEAST_GAP_SECONDS = 0.1;

/** Samples with one of no value in each gap: nothing was told there. */
export function withGaps(
	times: ArrayLike<number>,
	values: ArrayLike<number>,
): { times: ArrayLike<number>; values: ArrayLike<number> } {
	const least = LEAST_GAP_SECONDS * TICKS_PER_SECOND;
	const spacing = Float64Array.from({ length: times.length - 1 }, (_, i) => times[i + 1] - times[i]);
	if (spacing.every((own) => own <= least)) return { times, values };
	const usual = spacing.slice().sort()[spacing.length >> 1];
	const gap = Math.max(GAP_TIMES * usual, least);
	if (spacing.every((own) => own <= gap)) return { times, values };
	const out: { times: number[]; values: number[] } = { times: [], values: [] };
	const put = (t: number, v: number) => {
		out.times.push(t);
		out.values.push(v);
	};
	for (let i = 0; i < times.length; i++) {
		put(times[i], values[i]);
		if (spacing[i] > gap) put(times[i] + usual, NaN);
	}
	// Gaps count as samples, of which a take has so many at most.
	return out.times.length > MOST_TAKE_SAMPLES ? { times, values } : out;
}

/** What comes from a file has been cleaned by somebody, or is to stay as it is until somebody cleans it. */
const FILE_CLEANING: Cleaning = { ...CLEANING, spikes: false, smoothing: 'none', tolerance: 0.005 };

/** As many as the project keeps in one file. */
const mostColumns = (samples: number) =>
	Math.min(MOST_TAKE_COLUMNS, Math.max(1, Math.floor(MOST_FILE_BYTES / 4 / samples) - 1));

const isSame = (a: ArrayLike<number>, b: ArrayLike<number>) =>
	a === b || (a.length === b.length && Array.prototype.every.call(a, (t: number, i: number) => t === b[i]));

async function sha256(content: Uint8Array<ArrayBuffer>): Promise<string> {
	const digest = new Uint8Array(await globalThis.crypto.subtle.digest('SHA-256', content));
	return [...digest].map((byte) => byte.toString(16).padStart(2, '0')).join('');
}

/** A take for each clip and each list of times, with the file of its samples. */
export async function takesOfColumns(
	doc: Doc,
	columns: readonly RecordedColumn[],
): Promise<{ takes: Doc['takes']; files: TakenIn['files'] }> {
	const groups: RecordedColumn[][] = [];
	for (const column of columns) {
		const known = groups.findLast(([{ clip, times }]) => clip === column.clip && isSame(times, column.times));
		if (known && known.length < mostColumns(column.times.length)) known.push(column);
		else groups.push([column]);
	}
	const takes: Record<string, Take> = {};
	const files: { id: string; name: string; content: Uint8Array }[] = [];
	for (const [i, group] of groups.entries()) {
		const { clip, times } = group[0];
		const content = writeTakeFile({
			times: Uint32Array.from(times),
			columns: group.map(({ values }) => Float32Array.from(values)),
		});
		const id = `k${Object.keys(doc.takes).length + i}`;
		const asset = await sha256(content);
		files.push({ id: asset, name: `${doc.clips[clip].name}.take`, content });
		takes[id] = {
			type: 'take',
			id,
			name: shortName(groups.length > 1 ? `take ${i + 1}` : doc.clips[clip].name, 120, 'take'),
			order: doc.clips[clip].order,
			clip,
			asset,
			samples: times.length,
			from: times[0],
			to: times[times.length - 1],
			columns: group.map(({ part, property, component, index }) => ({
				part,
				property,
				component,
				...(index === undefined ? {} : { index }),
			})),
			cleaning: FILE_CLEANING,
		};
	}
	return { takes, files };
}

/** The four numbers of a colour, a column each. */
export function colourColumns(
	{ clip, part }: { clip: string; part: string },
	times: ArrayLike<number>,
	colours: readonly Readonly<Four>[],
): RecordedColumn[] {
	return [0, 1, 2, 3].map((index) => ({
		clip,
		part,
		property: 'colour',
		component: 'value',
		index,
		times,
		values: colours.map((own) => own[index]),
	}));
}

/** Channels of straight keys that are as dense as a recording, as a file that has nothing else says one. */
function denseColumns(doc: Doc): RecordedColumn[] {
	return Object.values(doc.channels).flatMap(({ clip, part, property, component, keys }) => {
		const isDense = keys.every(({ shape }) => shape.kind === 'linear') && isRecording(keys.map(({ t }) => t));
		if (!isDense) return [];
		if (property === 'colour')
			return colourColumns(
				{ clip, part },
				keys.map(({ t }) => t),
				keys.map(({ vector }) => vector!),
			);
		if (kindOf(property) !== 'number') return [];
		return [
			{ clip, part, property, component, times: keys.map(({ t }) => t), values: keys.map(({ v }) => v) },
		];
	});
}

/** Times at which all of a clip is told: where keys are, and evenly between them where they are far apart. */
function timesOf(doc: Doc, clip: Clip): number[] {
	const marks = new Set([0, clip.length]);
	for (const { keys } of channelsOfClip(doc, clip.id))
		for (const { t } of keys) if (t <= clip.length) marks.add(t);
	const apart = TICKS_PER_SECOND / SHOWN_RATE;
	const sorted = [...marks].sort((a, b) => a - b);
	return sorted.flatMap((t, i) => {
		const next = sorted[i + 1] ?? t;
		const parts = Math.max(1, Math.ceil((next - t) / apart));
		return Array.from({ length: parts }, (_, k) => Math.round(t + ((next - t) * k) / parts));
	});
}

/** What a clip does, sampled: its numbers, its colours, and its orientations as angles. */
function columnsOfClip(doc: Doc, clip: Clip): RecordedColumn[] {
	const times = timesOf(doc, clip);
	return channelsOfClip(doc, clip.id).flatMap((channel): RecordedColumn[] => {
		const { part, property, component } = channel;
		if (kindOf(property) === 'number') {
			const curve = curveOf(channel, clip);
			return [
				{
					clip: clip.id,
					part,
					property,
					component,
					times,
					values: times.map((t) => evaluateCurve(curve, t)),
				},
			];
		}
		if (property !== 'orientation' && property !== 'colour') return [];
		const vector = vectorOf(channel, clip);
		const out: Four = [0, 0, 0, 1];
		if (property === 'colour') {
			const colours = times.map((t): Four => {
				evaluateVector(vector, t, out);
				return [...out];
			});
			return colourColumns({ clip: clip.id, part }, times, colours);
		}
		const order = doc.parts[part].eulerOrder;
		let previous: Vec3 = [0, 0, 0];
		const turns = times.map((t) => {
			evaluateVector(vector, t, out);
			return (previous = closestEuler(toEuler([...out] as Quaternion, order), previous, order));
		});
		return AXES.map((axis, k) => ({
			clip: clip.id,
			part,
			property: 'rotation',
			component: axis,
			times,
			values: turns.map((own) => own[k]),
		}));
	});
}

async function withTakesOf(read: TakenIn, columns: readonly RecordedColumn[]): Promise<TakenIn> {
	if (columns.length === 0) return read;
	const { takes, files } = await takesOfColumns(read.doc, columns);
	return {
		...read,
		doc: { ...read.doc, takes: { ...read.doc.takes, ...takes } },
		files: [...read.files, ...files],
	};
}

/** What came in, with a take of each channel that is as dense as a recording. */
export function withDenseTakes(read: TakenIn): Promise<TakenIn> {
	return withTakesOf(read, denseColumns(read.doc));
}

/** What came in, with a take of each clip of which there is none: of what it does. */
export function withAllTakes(read: TakenIn): Promise<TakenIn> {
	const taken = new Set(Object.values(read.doc.takes).map(({ clip }) => clip));
	const left = clipsInOrder(read.doc).filter(({ id }) => !taken.has(id));
	return withTakesOf(
		read,
		left.flatMap((clip) => columnsOfClip(read.doc, clip)),
	);
}
