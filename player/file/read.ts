/** Reads a clip file into what a player plays. */
import type { BlendSpec, ClipSet, Names, PlayerClip } from '../clips';
import { ActiveSpans } from '../curve/active-spans';
import { buildCurve, THIRD, type Span } from '../curve/build';
import { evaluateCurve } from '../curve/evaluate';
import type { FlatCurve } from '../curve/flat';
import { buildVector } from '../curve/vector';
import { makeLayout, placeOf, type PoseLayout, type TargetKind } from '../layout';
import { eulerInto } from '../maths/quaternion';
import { mixClip } from '../mix';
import type { Motion } from '../motion';
import { checkFile } from './check';
import {
	CLIP_FILE,
	CLIP_FILE_VERSION,
	FILE_CUBIC,
	FILE_HOLD,
	FILE_LINEAR,
	FILE_SHAPE,
	NAMED,
	REACH,
	type ClipFile,
	type FileBlend,
	type FileClip,
	type FileCurve,
	type FileMix,
	type FilePart,
	type FileShape,
	type FileVector,
} from './format';

const ONCE: NonNullable<FileClip['loop']> = { mode: 'once' };

/** Clips of a file, with its parts. */
export interface ReadClips<N extends Names = Names> extends ClipSet<N> {
	readonly space: ClipFile['space'];
	readonly parts: readonly (FilePart & { name: N['part'] })[];
}

/** How two values of a path are mixed. */
function kindOf(path: string): TargetKind {
	if (path === 'rotation' || path === 'angles' || path === 'colour') return path;
	return path === 'visible' ? 'switch' : 'number';
}

/** Where a curve's number lies: three angles make a rotation, which an orientation is as it is. */
function placeIn(path: string): { path: string; component: number } {
	const [own, component] = path.split('.');
	if (own === 'orientation') return { path: 'rotation', component: 0 };
	const names = NAMED[own];
	return { path: own === 'rotation' ? 'angles' : own, component: names ? names.indexOf(component) : 0 };
}

function restOf({ rest = {}, order = 'XYZ' }: FilePart, path: string): ArrayLike<number> {
	const angles = rest.rotation ?? [0, 0, 0];
	if (path === 'angles') return angles;
	if (path !== 'rotation') return rest[path] ?? (path === 'scale' ? [1, 1, 1] : [0, 0, 0]);
	const rotation = new Float64Array(4);
	eulerInto(angles[0], angles[1], angles[2], order, rotation);
	return rotation;
}

/** The layout of what some clip of a file moves. */
function layoutIn({ parts, clips }: ClipFile): PoseLayout {
	const moved = parts.map(() => new Set<string>());
	for (const { curves, vectors = [] } of clips)
		for (const own of [...curves, ...vectors]) {
			const { path } = placeIn(own.path);
			moved[own.part].add(path);
			if (path === 'angles') moved[own.part].add('rotation');
		}
	return makeLayout(
		parts.flatMap((part, i) =>
			[...moved[i]].map((path) => ({
				part: part.name,
				path,
				kind: kindOf(path),
				rest: restOf(part, path),
			})),
		),
	);
}

/** Adds up what is written as differences, `stride` numbers a step. */
function added(differences: readonly number[], quantum: number, stride = 1): number[] {
	const sums: number[] = [];
	differences.forEach((by, i) => sums.push(i < stride ? by : sums[i - stride] + by));
	return sums.map((sum) => sum * quantum);
}

/** What each of `count` spans does, from their numbers. */
function spansOf(
	written: readonly number[] | number,
	count: number,
	quantum: number,
	shapes: readonly FileShape[],
) {
	const spans: Span[] = [];
	if (typeof written === 'number') written = new Array<number>(count).fill(written);
	let at = 0;
	const next = () => written[at++];
	while (spans.length < count) {
		const kind = next();
		if (kind === FILE_HOLD) spans.push({ kind: 'hold' });
		else if (kind === FILE_LINEAR) spans.push({ kind: 'linear' });
		else if (kind >= FILE_SHAPE) spans.push(shapes[kind - FILE_SHAPE]);
		else {
			const isCubic = kind === FILE_CUBIC;
			const [outReach, inReach] = isCubic ? [THIRD, THIRD] : [next() / REACH, next() / REACH];
			spans.push({ outReach, inReach, outRise: next() * quantum, inRise: next() * quantum });
		}
	}
	return spans;
}

const endsOf = ({ before = 'hold', after = 'hold' }: Pick<FileCurve, 'before' | 'after'>) => ({
	before,
	after,
});

/** A curve of numbers, in value units over ticks. */
export function curveIn(file: FileCurve, shapes: readonly FileShape[]): FlatCurve {
	const { quantum, slopes } = file;
	const times = added(file.times, 1);
	const spans = spansOf(file.spans, times.length - 1, quantum, shapes);
	const curve = buildCurve(times, added(file.values, quantum), endsOf(file), (span) => spans[span]);
	if (slopes) curve.endSlopes.set(slopes);
	return curve;
}

function vectorIn(file: FileVector, shapes: readonly FileShape[]) {
	const { quantum, mix, tangents } = file;
	const times = added(file.times, 1);
	const spans = spansOf(file.spans, times.length - 1, 1 / REACH, shapes);
	const steps = times.map((_, i) => i);
	const rows = added(file.rows, quantum, 4);
	if (mix === 'turn')
		// Units again, after their rounding.
		for (let at = 0; at < rows.length; at += 4) {
			const length = Math.hypot(...rows.slice(at, at + 4)) || 1;
			for (let k = at; k < at + 4; k++) rows[k] /= length;
		}
	return buildVector(
		buildCurve(times, steps, endsOf(file), (span) => spans[span]),
		mix,
		rows,
		tangents
			? Float64Array.from(
					[...tangents, null].flatMap(
						(row) => row?.map((n) => n * quantum) ?? new Array<number>(8).fill(NaN),
					),
				)
			: null,
	);
}

function motionIn({ shapes, parts }: ClipFile, file: FileClip, layout: PoseLayout): Motion {
	const { curves, vectors = [], length } = file;
	const { mode, count = null, pause = 0 } = file.loop ?? ONCE;
	const placeOfCurve = (own: { part: number; path: string }) => {
		const { path, component } = placeIn(own.path);
		return placeOf(layout, parts[own.part].name, path) + component;
	};
	const places = curves.map(placeOfCurve);
	// Angles become a rotation where the clip moves one of them.
	const turned = new Set(curves.filter(({ path }) => path.startsWith('rotation.')).map(({ part }) => part));
	return {
		layout,
		length,
		loop: { mode, count, pause },
		spans: new ActiveSpans(curves.map((own) => curveIn(own, shapes))),
		places: Int32Array.from(places),
		gains: Float64Array.from(curves, ({ gain = 0 }) => gain),
		travels: places.filter((_, i) => curves[i].gain !== undefined),
		vectors: vectors.map((own) => ({ vector: vectorIn(own, shapes), place: placeOfCurve(own) })),
		turns: [...turned].map((part) => {
			const { name, order = 'XYZ' } = parts[part];
			return {
				angles: placeOf(layout, name, 'angles'),
				rotation: placeOf(layout, name, 'rotation'),
				order,
			};
		}),
		compute: null,
	};
}

/** Ticks of the span that a blend's easing is. */
const EASE_TICKS = 1e6;

function blendIn({ kind, seconds, start, ease }: FileBlend, shapes: readonly FileShape[]): BlendSpec {
	if (!ease) return { kind, seconds, start };
	const [span] = spansOf(ease.span, 1, ease.quantum, shapes);
	const curve = buildCurve([0, EASE_TICKS], [0, 1], endsOf({}), () => span);
	return { kind, seconds, start, ease: (x) => evaluateCurve(curve, x * EASE_TICKS) };
}

/**
 * The clips of a file, by their names; that they are those of N is taken on trust. Throws a TypeError for what is no clip file or
 * one of a newer version than is known here, and with a JSON pointer where something in it is wrong.
 */
export function readClips<N extends Names = Names>(json: unknown): ReadClips<N> {
	const file = json as ClipFile;
	if (file?.format !== CLIP_FILE) throw new TypeError('this is no clip file');
	if (!(file.version <= CLIP_FILE_VERSION))
		throw new TypeError(`clip files of version ${file.version} are newer than this player`);
	checkFile(json as Record<string, unknown>);
	const { parts, shapes, clips, blends, mixes = [], triggers, layers, space } = file as ClipFile<N>;
	const layout = layoutIn(file);
	const between = new Map(
		blends.map((blend): [string, BlendSpec] => [`${blend.from} ${blend.to}`, blendIn(blend, shapes)]),
	);
	const places = new Map(clips.map(({ name }, i) => [name, i]));
	const read = clips.map((own): PlayerClip<N['cue']> => {
		const { name, cues = [] } = own;
		return { name, motion: motionIn(file, own, layout), cues: cues as N['cue'][] };
	});
	const mixOf = new Map(mixes.map((mix) => [mix.name, mix]));
	const mixIn = ({ name, parameter, stops }: FileMix) =>
		mixClip(
			name,
			layout,
			parameter,
			stops.map(({ clip, at }) => ({ key: clips[clip].name, clip: read[clip], at })),
		);
	return {
		layout,
		parts,
		space,
		triggers,
		layers,
		blendOf(from, to) {
			const mix = mixOf.get(to) ?? mixOf.get(from);
			if (mix) return { kind: 'crossfade', seconds: mix.seconds };
			return between.get(`${places.get(from)} ${places.get(to)}`);
		},
		clips: new Map([...read, ...mixes.map(mixIn)].map((own) => [own.name, own])),
	};
}
