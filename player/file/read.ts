/** Reads a clip file into what a player plays. */
import type { BlendSpec, ClipSet, PlayerClip } from '../clips';
import type { Cue } from '../cues';
import { ActiveSpans } from '../curve/active-spans';
import { buildCurve, THIRD, type SpanHandles } from '../curve/build';
import { evaluateCurve } from '../curve/evaluate';
import type { FlatCurve } from '../curve/flat';
import { buildVector } from '../curve/vector';
import type { Shape } from '../easing/shape';
import { makeLayout, placeOf, type PoseLayout } from '../layout';
import type { Motion, Turn } from '../motion';
import {
	CLIP_FILE,
	CLIP_FILE_VERSION,
	FILE_CUBIC,
	FILE_HOLD,
	FILE_LINEAR,
	FILE_SHAPE,
	REACH,
	type ClipFile,
	type FileBlend,
	type FileClip,
	type FileCurve,
	type FileVector,
} from './format';

/** Clips of a file, with its parts. */
export interface ReadClips extends ClipSet {
	readonly space: ClipFile['space'];
	/** With the place of each one's parent, −1 for none. */
	readonly parts: ClipFile['parts'];
}

/** Adds up what is written as differences, `stride` numbers a step. */
function added(differences: readonly number[], quantum: number, stride = 1): number[] {
	const sums: number[] = [];
	differences.forEach((by, i) => sums.push(i < stride ? by : sums[i - stride] + by));
	return sums.map((sum) => sum * quantum);
}

type Span = SpanHandles | Shape;

/** What each of `count` spans does, from their numbers. */
function spansOf(
	written: readonly number[] | number,
	count: number,
	quantum: number,
	shapes: readonly Shape[],
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
export function curveIn(file: FileCurve, shapes: readonly Shape[]): FlatCurve {
	const { quantum, slopes } = file;
	const times = added(file.times, 1);
	const spans = spansOf(file.spans, times.length - 1, quantum, shapes);
	const curve = buildCurve(times, added(file.values, quantum), endsOf(file), (span) => spans[span]);
	if (slopes) curve.endSlopes.set(slopes);
	return curve;
}

function vectorIn(file: FileVector, shapes: readonly Shape[]) {
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

function motionIn({ shapes, targets, parts }: ClipFile, file: FileClip, layout: PoseLayout): Motion {
	const curves = file.curves.map((own) => curveIn(own, shapes));
	const places = file.curves.map(({ target, component }) => layout.targets[target].at + component);
	const turns: Turn[] = [];
	layout.targets.forEach(({ part, kind, at }, i) => {
		// Angles become a rotation where the clip moves one of them.
		if (kind === 'angles' && file.curves.some(({ target }) => target === i))
			turns.push({
				angles: at,
				rotation: placeOf(layout, part, 'rotation'),
				order: parts[targets[i].part].order,
			});
	});
	return {
		layout,
		length: file.length,
		loop: file.loop,
		spans: new ActiveSpans(curves),
		places: Int32Array.from(places),
		gains: Float64Array.from(file.curves, ({ gain = 0 }) => gain),
		travels: places.filter((_, i) => file.curves[i].gain !== undefined),
		vectors: file.vectors.map((own) => ({
			vector: vectorIn(own, shapes),
			place: layout.targets[own.target].at,
		})),
		turns,
		compute: null,
	};
}

/** Ticks of the span that a blend's easing is. */
const EASE_TICKS = 1e6;

function blendIn({ kind, seconds, start, ease }: FileBlend, shapes: readonly Shape[]): BlendSpec {
	if (!ease) return { kind, seconds, start };
	const [span] = spansOf(ease.span, 1, ease.quantum, shapes);
	const curve = buildCurve([0, EASE_TICKS], [0, 1], endsOf({}), () => span);
	return { kind, seconds, start, ease: (x) => evaluateCurve(curve, x * EASE_TICKS) };
}

/**
 * The clips of a file, by their names. Throws a TypeError for what is no clip file, or one of a newer version than is known
 * here.
 */
export function readClips(json: unknown): ReadClips {
	const file = json as ClipFile;
	if (file?.format !== CLIP_FILE) throw new TypeError('this is no clip file');
	if (!(file.version <= CLIP_FILE_VERSION))
		throw new TypeError(`clip files of version ${file.version} are newer than this player`);
	const { parts, shapes, clips, blends, space } = file;
	const layout = makeLayout(file.targets.map((target) => ({ ...target, part: parts[target.part].name })));
	const between = new Map(
		blends.map((blend): [string, BlendSpec] => [`${blend.from} ${blend.to}`, blendIn(blend, shapes)]),
	);
	const places = new Map(clips.map(({ name }, i) => [name, i]));
	return {
		layout,
		parts,
		space,
		blendOf: (from, to) => between.get(`${places.get(from)} ${places.get(to)}`),
		clips: new Map(
			clips.map((own): [string, PlayerClip] => {
				const { name, cues } = own;
				return [name, { name, motion: motionIn(file, own, layout), cues: cues as Cue[] }];
			}),
		),
	};
}
