/** Writes the clip file that the player reads. */
import {
	CLIP_FILE,
	CLIP_FILE_VERSION,
	NAMED,
	REACH,
	type ClipFile,
	type FileBlend,
	type FileClip,
	type FileCurve,
	type FilePart,
	type FileVector,
} from '../../../player/file/format';
import { evaluateCurve } from '../../../player/curve/evaluate';
import type { PoseLayout } from '../../../player/layout';
import { TICKS_PER_SECOND } from '../../../player/time';
import type { CompiledChannel, CompiledClip, CompiledVector } from '../../clip/compile';
import { contextOfChannel } from '../../clip/context';
import { traceOf } from '../../clip/trace';
import { spanOf } from '../../curve/compile';
import { PLAYS_ONCE } from '../../curve/handles';
import { progressKeys } from '../../curve/vector';
import { cuesOfClip, type Blend, type Doc, type Part } from '../../document/types';
import { encodeComputed } from './computed';
import { mixesIn, triggersIn } from './triggers';
import { differences, encodeCurve, quantumWithin, ShapeTable, writeSpans } from './encode';

/** What a file is made of: clips compiled together, with their names in it. */
export interface ClipsToWrite {
	doc: Doc;
	parts: readonly Part[];
	partNames: ReadonlyMap<string, string>;
	clips: readonly { compiled: CompiledClip; name: string }[];
	/** How far each target of the clips' layout may be off in a clip: its own units, degrees for rotations. */
	boundOf: (clip: number, target: number) => number;
}

/** Shares of a rotation's bound that each of its three angles is given. */
const ANGLES = 3;
/** Quaternion components that are off by a half of this share of a turn in radians turn by less than that. */
const TURN_SHARE = 0.5;
const RADIANS = Math.PI / 180;
/** Steps of the easing of a blend. */
const EASE_QUANTUM = 1e-6;

class Writer {
	readonly table = new ShapeTable();

	constructor(
		private readonly wanted: ClipsToWrite,
		private readonly layout: PoseLayout,
	) {}

	private targetAt(place: number): number {
		return this.layout.targets.findIndex(({ at, size }) => place >= at && place < at + size);
	}

	/** A place in a pose as the file calls it. */
	private addressOf(place: number): { part: number; path: string } {
		const { part, path, kind, at } = this.layout.targets[this.targetAt(place)];
		const own = { part: this.wanted.parts.findIndex(({ id }) => id === part) };
		if (kind === 'rotation') return { ...own, path: 'orientation' };
		const plain = kind === 'angles' ? 'rotation' : path;
		const names = NAMED[plain];
		return { ...own, path: names ? `${plain}.${names[place - at]}` : plain };
	}

	/** The bound of one number of a target. */
	private numberBound(clip: number, target: number): number {
		const { kind } = this.layout.targets[target];
		return this.wanted.boundOf(clip, target) / (kind === 'angles' ? ANGLES : 1);
	}

	curve(clip: number, { channel, curve, place, change }: CompiledChannel): FileCurve {
		const own = this.wanted.clips[clip].compiled.clip;
		const { keys, ends, accumulates } = channel;
		const context = contextOfChannel(channel, own);
		const target = this.targetAt(place);
		const { curve: written } = encodeCurve(
			{
				times: keys.map(({ t }) => t),
				values: keys.map(({ v }) => v),
				spans: keys.slice(1).map((_, i) => spanOf(keys, i, context)),
				ends,
			},
			{ read: (t) => evaluateCurve(curve, t), marks: curve.times, endSlopes: curve.endSlopes },
			this.numberBound(clip, target),
			own.length,
			this.table,
		);
		const file: FileCurve = { ...this.addressOf(place), ...written };
		if (accumulates) file.gain = change;
		return file;
	}

	computed(clip: number, place: number): FileCurve {
		const { compiled } = this.wanted.clips[clip];
		const target = this.targetAt(place);
		const bound = this.numberBound(clip, target);
		const { curve } = encodeComputed(traceOf(compiled, place), bound, compiled.length, this.table);
		return { ...this.addressOf(place), ...curve };
	}

	vector(clip: number, { channel, vector, place }: CompiledVector): FileVector {
		const { keys } = channel;
		const target = this.targetAt(place);
		const { mix, progress, tangents } = vector;
		const bound = this.wanted.boundOf(clip, target);
		const quantum = quantumWithin(mix === 'turn' ? TURN_SHARE * RADIANS * bound : 2 * bound);
		const rows = keys.flatMap((key) => (key.vector ?? []).map((n) => Math.round(n / quantum)));
		const context = contextOfChannel(channel, this.wanted.clips[clip].compiled.clip);
		const steps = progressKeys(keys);
		const spans = steps.slice(1).map((_, i) => spanOf(steps, i, { ...context, accumulates: false }));
		const file: FileVector = {
			...this.addressOf(place),
			mix,
			times: differences(keys.map(({ t }) => t)),
			quantum,
			rows: differences(rows, 4),
			spans: writeSpans(spans, progress.values, progress.values, 1 / REACH, this.table),
		};
		if (progress.before !== 'hold') file.before = progress.before;
		if (progress.after !== 'hold') file.after = progress.after;
		if (tangents)
			file.tangents = spans.map((_, i) => {
				const row = [...tangents.subarray(8 * i, 8 * i + 8)];
				return row.some(Number.isNaN) ? null : row.map((n) => Math.round(n / quantum));
			});
		return file;
	}

	clip(index: number): FileClip {
		const { compiled, name } = this.wanted.clips[index];
		const { clip, channels, vectors, formulas } = compiled;
		const cues = cuesOfClip(this.wanted.doc, clip.id);
		const file: FileClip = {
			name,
			length: clip.length,
			curves: [
				...channels.map((channel) => this.curve(index, channel)),
				...[...formulas.places].map((place) => this.computed(index, place)),
			],
		};
		const { mode, count, pause } = clip.loop;
		if (mode !== 'once') file.loop = { mode, ...(count !== null && { count }), ...(pause > 0 && { pause }) };
		if (vectors.length > 0) file.vectors = vectors.map((vector) => this.vector(index, vector));
		if (cues.length > 0) file.cues = cues.map(({ name, t, payload }) => ({ name, t, payload }));
		return file;
	}

	blend({ kind, seconds, start, shape }: Blend, from: number, to: number): FileBlend {
		const own: FileBlend = { from, to, kind, seconds };
		if (start !== 'start') own.start = typeof start === 'number' ? { seconds: start } : start;
		if (shape.kind === 'linear') return own;
		const keys = [
			{ t: 0, v: 0, shape },
			{ t: 1, v: 1, shape },
		];
		const span = [spanOf(keys, 0, PLAYS_ONCE)];
		const written = writeSpans(span, [0, 1], [0, 1], EASE_QUANTUM, this.table);
		return { ...own, ease: { quantum: EASE_QUANTUM, span: [written].flat() } };
	}
}

/** Paths of a pose whose rest a file says otherwise. */
const MADE_OF_ANGLES = ['angles', 'rotation'];

/** A part, without what is as it is where nothing is said; with the rest of what moves of it. */
function filePart(part: Part, parts: readonly Part[], name: string, { targets, rest }: PoseLayout): FilePart {
	const { eulerOrder, rest: own } = part;
	const said: Record<string, number[]> = {};
	if (own.translation.some((v) => v !== 0)) said.translation = [...own.translation];
	if (own.rotation.some((v) => v !== 0)) said.rotation = [...own.rotation];
	if (own.scale.some((v) => v !== 1)) said.scale = [...own.scale];
	for (const { part: id, path, at, size } of targets)
		if (id === part.id && !MADE_OF_ANGLES.includes(path) && !(path in own && path !== 'opacity'))
			said[path] = [...rest.subarray(at, at + size)].map((n) => Number(n.toPrecision(6)));
	const parent = parts.findIndex(({ id }) => id === part.parent);
	const file: FilePart = { name };
	if (parent >= 0) file.parent = parent;
	if (eulerOrder !== 'XYZ') file.order = eulerOrder;
	if (Object.keys(said).length > 0) file.rest = said;
	if (part.numbers?.length)
		file.numbers = Object.fromEntries(part.numbers.map(({ key, name: called }) => [key, called]));
	return file;
}

/** The file, its clips in the order in which they are given. Throws a RangeError where a bound cannot be kept. */
export function writeClips(wanted: ClipsToWrite): ClipFile {
	const { doc, parts, partNames, clips } = wanted;
	const layout = clips[0].compiled.layout;
	const writer = new Writer(wanted, layout);
	const placeOfClip = new Map(clips.map(({ compiled }, i) => [compiled.clip.id, i]));
	const names = new Map(clips.map(({ compiled, name }) => [compiled.clip.id, name]));
	const written = clips.map((_, i) => writer.clip(i));
	const blends = Object.values(doc.blends).flatMap((blend) => {
		const [from, to] = [placeOfClip.get(blend.from), placeOfClip.get(blend.to)];
		return from === undefined || to === undefined ? [] : writer.blend(blend, from, to);
	});
	return {
		format: CLIP_FILE,
		version: CLIP_FILE_VERSION,
		ticks: TICKS_PER_SECOND,
		space: doc.project.space,
		parts: parts.map((part) => filePart(part, parts, partNames.get(part.id)!, layout)),
		shapes: writer.table.shapes,
		clips: written,
		blends,
		...mixesIn(doc, names),
		...triggersIn(doc, names, partNames),
	};
}
