/** The clip file as a way for clips to leave: written, read back, played by the player that ships, and measured. */
import { strToU8 } from 'fflate';
import {
	FILE_BEZIER,
	FILE_CUBIC,
	FILE_HOLD,
	FILE_LINEAR,
	FILE_SHAPE,
	type ClipFile,
	type FileClip,
	type FileCurve,
	type FileVector,
} from '../../../player/file/format';
import { readClips } from '../../../player/file/read';
import { placeOf } from '../../../player/layout';
import { evaluateRound, type Motion } from '../../../player/motion';
import { angleBetween } from '../../../player/maths/quaternion';
import { TICKS_PER_SECOND, ticksToSeconds } from '../../../player/time';
import { compileTogether, partTree, type CompiledClip } from '../../clip/compile';
import { worldMatrix } from '../../clip/path';
import { partMatrix, type Posed } from '../../clip/layout';
import { multiplyMatrices, type Matrix } from '../../pose/matrix';
import { traceOf } from '../../clip/trace';
import type { Clip, Doc } from '../../document/types';
import { DEFAULT_BOUNDS, type Bounds } from '../../tracks/bounds';
import { boundsIn, looksOf } from '../../tracks/targets';
import { NO_ORIGIN_ERRORS, OriginWatch, worseOrigins, type OriginErrors } from '../../tracks/origin-errors';
import type { ClipReport, TrackReport } from '../../tracks/report';
import { uniqueNames, type Shipped, type Shipper, type ShipOptions } from '../../tracks/ship';
import { jumpsOf } from './computed';
import { NEAR_A_JUMP } from './encode';
import { writeClips } from './write';

const BAKED_RATE = 60;
const ORIGIN_LOOKS = 240;
/** Paths that place a part and what hangs on it. */
const PLACING = ['translation', 'rotation', 'scale'];

/** Writes what a file's motion shows into poses of a clip's own layout. */
type Replay = (t: number, out: Float64Array) => void;

function replayOf({ layout }: CompiledClip, read: Motion, names: ReadonlyMap<string, string>): Replay {
	const pose = read.layout.rest.slice();
	const places = layout.targets.map(({ part, path }) => placeOf(read.layout, names.get(part)!, path));
	return (t, out) => {
		evaluateRound(read, t, 0, pose);
		layout.targets.forEach(({ at, size }, i) => {
			// Angles that only a formula reads are not in the file.
			if (places[i] >= 0) out.set(pose.subarray(places[i], places[i] + size), at);
		});
	};
}

/** How far each target of a file's motion is off at most, and where. */
function measure(
	compiled: CompiledClip,
	replay: Replay,
	looks: Float64Array,
): { error: number; at: number }[] {
	const { layout, formulas } = compiled;
	const jumps = [...formulas.places].map((place) => ({
		place,
		at: jumpsOf(traceOf(compiled, place).pieces, compiled.length),
	}));
	const [truth, played] = [layout.rest.slice(), layout.rest.slice()];
	const worst = layout.targets.map(() => ({ error: 0, at: 0 }));
	for (const t of looks) {
		evaluateRound(compiled, t, 0, truth);
		replay(t, played);
		const torn = jumps.filter(({ at }) => at.some((jump) => Math.abs(jump - t) <= NEAR_A_JUMP));
		layout.targets.forEach(({ part, kind, at, size }, i) => {
			const angles = kind === 'rotation' ? placeOf(layout, part, 'angles') : -1;
			const own = (place: number) =>
				(place >= at && place < at + size) || (angles >= 0 && place >= angles && place < angles + 3);
			if (kind === 'angles' || torn.some(({ place }) => own(place))) return;
			let error = 0;
			if (kind === 'rotation') error = angleBetween(truth.subarray(at, at + 4), played.subarray(at, at + 4));
			else for (let k = at; k < at + size; k++) error = Math.max(error, Math.abs(truth[k] - played[k]));
			if (error > worst[i].error) worst[i] = { error, at: t };
		});
	}
	return worst;
}

/** How far origins are off in the world. */
function originErrors(compiled: CompiledClip, replay: Replay, space: number): OriginErrors {
	const { clip, layout, parts, indexOfPart } = compiled;
	const truth = { layout, pose: layout.rest.slice() };
	const played = { layout, pose: layout.rest.slice() };
	const placed = new Set(layout.targets.filter(({ path }) => PLACING.includes(path)).map(({ part }) => part));
	// Parents come first: a part moves in the world where it does, or its parent.
	for (const { id, parent } of parts) if (parent !== null && placed.has(parent)) placed.add(id);
	const moving = parts.filter(({ id }) => placed.has(id));
	// What stands still above it is the same all the time.
	const still = new Map(
		moving.map(({ parent }) => [
			parent,
			parent !== null && !placed.has(parent) ? worldMatrix(compiled, parent, truth) : null,
		]),
	);
	const here: Matrix[] = [];
	const there: Matrix[] = [];
	const watch = new OriginWatch(clip.name, 1, space);
	for (let i = 0; i <= ORIGIN_LOOKS; i++) {
		// Off the frame grid on purpose: keys often stand on it.
		const t = Math.min(clip.length, (clip.length * (i + 0.37)) / ORIGIN_LOOKS);
		evaluateRound(compiled, t, 0, truth.pose);
		replay(t, played.pose);
		for (const part of moving) {
			const own = indexOfPart.get(part.id)!;
			const above = part.parent === null ? -1 : indexOfPart.get(part.parent)!;
			const within = (posed: Posed, all: readonly Matrix[]) => {
				const parent = still.get(part.parent) ?? all[above];
				return parent ? multiplyMatrices(parent, partMatrix(posed, part)) : partMatrix(posed, part);
			};
			const [a, b] = [(here[own] = within(truth, here)), (there[own] = within(played, there))];
			watch.look(part, ticksToSeconds(t), a, b);
		}
	}
	return watch.found;
}

const NAMES: Readonly<Record<number, string>> = {
	[FILE_HOLD]: 'hold',
	[FILE_LINEAR]: 'linear',
	[FILE_CUBIC]: 'cubic',
	[FILE_BEZIER]: 'bezier',
};

/** What the spans of a curve are, each word once. */
function wordsOf({ shapes }: ClipFile, { spans }: FileCurve | FileVector): string[] {
	const codes = [spans].flat();
	const words = new Set<string>();
	for (let i = 0; i < codes.length; i++) {
		const code = codes[i];
		words.add(NAMES[code] ?? shapes[code - FILE_SHAPE].kind);
		if (code === FILE_CUBIC) i += 2;
		else if (code === FILE_BEZIER) i += 4;
	}
	return words.size === 0 ? ['constant'] : [...words];
}

function reportsOf(
	file: ClipFile,
	written: FileClip,
	compiled: CompiledClip,
	bounds: readonly number[],
	worst: readonly { error: number; at: number }[],
): TrackReport[] {
	const { clip, layout, formulas } = compiled;
	return layout.targets.flatMap(({ part, path, kind, at, size }, i): TrackReport[] => {
		const place = compiled.indexOfPart.get(part)!;
		const called = kind === 'angles' ? 'rotation' : path;
		const inFile = kind === 'rotation' ? 'orientation' : called;
		const own = [...written.curves, ...(written.vectors ?? [])].filter(
			(curve) => curve.part === place && curve.path.split('.')[0] === inFile,
		);
		if (own.length === 0) return [];
		// Angles are told as the rotation that is made of them.
		const shown =
			kind === 'angles' ? layout.targets.findIndex((t) => t.part === part && t.path === 'rotation') : i;
		const { error, at: errorAt } = worst[shown];
		const isComputed = Array.from({ length: size }, (_, k) => at + k).some((k) => formulas.places.has(k));
		const frames = Math.ceil(ticksToSeconds(clip.length) * BAKED_RATE) + 1;
		const numbers = layout.targets[shown].size;
		return [
			{
				id: `${clip.id}/${part}/${called}`,
				part: file.parts[place].name,
				path: called,
				encoding: [...new Set(own.flatMap((curve) => wordsOf(file, curve)))].join(', '),
				exact: !isComputed && error <= 1e-9 * bounds[i],
				guaranteed: !isComputed,
				keys: own.reduce((sum, { times }) => sum + times.length, 0),
				bytes: own.reduce((sum, curve) => sum + JSON.stringify(curve).length, 0),
				bakedBytes: 4 * frames * (1 + numbers),
				bound: bounds[i],
				error,
				errorAt: errorAt / TICKS_PER_SECOND,
			},
		];
	});
}

interface Proven {
	text: string;
	clips: ClipReport[];
	origins: OriginErrors;
	/** What is off by more than it may be, in words. */
	over: string | null;
}

/** Writes a file that uses a share of its bounds. */
function write(doc: Doc, clips: readonly Clip[], bounds: Bounds, share: number) {
	const { parts } = partTree(doc);
	const names = uniqueNames(clips);
	const partNames = uniqueNames(parts);
	const compiled = compileTogether(doc, clips);
	const looks = compiled.map(looksOf);
	const limits = compiled.map((own, i) => boundsIn(own, looks[i], bounds));
	const file = writeClips({
		doc,
		parts,
		partNames,
		clips: compiled.map((own) => ({ compiled: own, name: names.get(own.clip.id)! })),
		boundOf: (clip, target) => share * limits[clip][target],
	});
	return { file, text: JSON.stringify(file), compiled, names, partNames, looks, limits };
}

/** A clip file that is written but not played, for those who look at it at once: half of its bounds is left for what it may miss. */
export function draftClips(doc: Doc, clips: readonly Clip[], bounds: Bounds): Uint8Array {
	return strToU8(write(doc, clips, bounds, 0.5).text);
}

/** Writes a file that uses a share of its bounds, and plays it. */
function writeAndPlay(doc: Doc, clips: readonly Clip[], bounds: Bounds, share: number): Proven {
	const { file, text, compiled, names, partNames, looks, limits } = write(doc, clips, bounds, share);
	const read = readClips(JSON.parse(text));
	let origins = NO_ORIGIN_ERRORS;
	// What counts as standing is told in metres: a pixel is a hundredth of one.
	const space = doc.project.space === 'world' ? 1 : 100;
	let over: string | null = null;
	const reports = compiled.map((own, i): ClipReport => {
		const replay = replayOf(own, read.clips.get(names.get(own.clip.id)!)!.motion, partNames);
		const tracks = reportsOf(file, file.clips[i], own, limits[i], measure(own, replay, looks[i]));
		const bad = tracks.find(({ error, bound }) => !(error <= bound));
		if (bad)
			over = `${own.clip.name} · ${bad.part} · ${bad.path}: played with an error of ${bad.error}, over ${bad.bound}`;
		origins = worseOrigins(origins, originErrors(own, replay, space));
		const seconds = ticksToSeconds(own.length);
		return { clip: own.clip.id, name: own.clip.name, seconds, tracks, leftOut: [] };
	});
	return { text, clips: reports, origins, over };
}

/** Of the bounds; a smaller one where places between those that the writer looks at are farther off. */
const SHARES = [1, 0.5, 0.2];

async function ship(
	doc: Doc,
	clips: readonly Clip[],
	{ bounds = DEFAULT_BOUNDS }: ShipOptions,
): Promise<Shipped> {
	let over = '';
	for (const share of SHARES) {
		const proven = writeAndPlay(doc, clips, bounds, share);
		if (proven.over === null)
			return { bytes: strToU8(proven.text), clips: proven.clips, plainer: [], ...proven.origins };
		over = proven.over;
	}
	throw new RangeError(over);
}

export const clipFileShipper: Shipper = { ship };
