/** One (node, path) of an exported clip: its source in glTF's units, and the sampler where the motion is exactly one. */
import type { CompiledClip, CompiledVector } from '../../clip/compile';
import { numberPlace } from '../../clip/layout';
import { mergePieces, piecesOver, traceOf, type Trace } from '../../clip/trace';
import { SPAN_CUBIC, SPAN_HOLD, SPAN_LINEAR, STRIDE } from '../../../player/curve/flat';
import { evaluateCurve } from '../../../player/curve/evaluate';
import { evaluateVector } from '../../../player/curve/vector';
import type { Clip, Doc, Part } from '../../document/types';
import type { Space } from '../../pose/space';
import type { Vec3 } from '../../../player/maths/vector';
import { float32Before, type Sampler } from '../../fit/sampler';
import { JUST_BEFORE, type Source } from '../../fit/source';
import { eulerInto } from '../../../player/maths/quaternion';
import { rotationFactors, translationFactors } from '../../pose/space';
import { TICKS_PER_SECOND, ticksToSeconds } from '../../../player/time';

export type PathName = 'translation' | 'rotation' | 'scale';
export const PATHS: readonly PathName[] = ['translation', 'rotation', 'scale'];

/** A component of a path with the factor that carries it into glTF's units. */
interface ComponentTrace extends Trace {
	factor: number;
}

export interface PathSource {
	part: Part;
	path: PathName;
	source: Source;
	components: ComponentTrace[];
	/** Range of the widest component, in the path's own units; 180° for rotations. */
	range: number;
	/** Largest absolute value, for the float32 floor of a bound. */
	largest: number;
	/** Whether the bound holds everywhere: of what a formula computes it is measured closely, and no more. */
	guaranteed: boolean;
}

/** Places a second at which what a formula computes is measured: a peak of a few milliseconds is found. */
export const FORMULA_LOOKS = 480;

function factorsOf(path: PathName, space: Space): Vec3 {
	if (path === 'scale') return [1, 1, 1];
	return path === 'translation' ? translationFactors(space) : rotationFactors(space);
}

/** What turns a part by an orientation channel, in glTF's space: mirrored axes mirror the turn. */
function orientationSource(vector: CompiledVector, clip: Clip, factors: Vec3): Source {
	return {
		size: 4,
		start: 0,
		end: clip.length,
		pieces: piecesOver(vector.channel, clip.length),
		evaluate(t, out) {
			evaluateVector(vector.vector, t, out);
			for (let k = 0; k < 3; k++) out[k] *= factors[k];
		},
	};
}

/** The source of a part's path in a clip, or null where nothing moves it. */
export function pathSource(doc: Doc, compiled: CompiledClip, part: Part, path: PathName): PathSource | null {
	const { clip } = compiled;
	const factors = factorsOf(path, doc.project.space);
	const rotates = path === 'rotation';
	const vector = rotates
		? compiled.vectors.find(({ channel, vector: own }) => channel.part === part.id && own.mix === 'turn')
		: undefined;
	if (vector) {
		const source = orientationSource(vector, clip, factors);
		return { part, path, source, components: [], range: 180, largest: 1, guaranteed: true };
	}
	const place = numberPlace(compiled.layout, part.id, path, 'x');
	if (place < 0) return null;
	const components = factors.map((factor, i): ComponentTrace => ({
		...traceOf(compiled, place + i),
		factor,
	}));
	if (components.every(({ channel, formula }) => !channel && !formula)) return null;
	const guaranteed = components.every(({ formula }) => !formula);
	const values = new Float64Array(3);
	const read = (t: number, out: Float64Array) => {
		for (let i = 0; i < 3; i++) out[i] = components[i].factor * components[i].read(t);
	};
	const source: Source = {
		size: rotates ? 4 : 3,
		start: 0,
		end: clip.length,
		pieces: mergePieces(components.map((component) => component.pieces)),
		looks: guaranteed ? undefined : FORMULA_LOOKS,
		evaluate: rotates
			? (t, out) => {
					read(t, values);
					eulerInto(values[0], values[1], values[2], part.eulerOrder, out);
				}
			: read,
	};
	const low = [Infinity, Infinity, Infinity];
	const high = [-Infinity, -Infinity, -Infinity];
	const grid = Array.from({ length: 257 }, (_, i) => (clip.length * i) / 256);
	for (const t of [...grid, ...source.pieces.map((p) => p.t)]) {
		read(t, values);
		values.forEach((v, i) => {
			low[i] = Math.min(low[i], v);
			high[i] = Math.max(high[i], v);
		});
	}
	return {
		part,
		path,
		source,
		components,
		range: rotates ? 180 : Math.max(...high.map((h, i) => h - low[i])),
		largest: rotates ? 1 : Math.max(...high.map(Math.abs), ...low.map(Math.abs)),
		guaranteed,
	};
}

type Form = 'constant' | 'hold' | 'linear' | 'cubic' | 'other';

/** What a component does between two neighbouring ticks of the merged list. */
function formOf(component: ComponentTrace, from: number, to: number): Form {
	const { curve, channel, formula } = component;
	if (formula) return 'other';
	if (!curve || !channel || curve.count === 1) return 'constant';
	const middle = (from + to) / 2;
	const first = curve.times[0];
	const last = curve.times[curve.count - 1];
	if (middle < first || middle > last) {
		const kind = middle < first ? channel.ends.before : channel.ends.after;
		return kind === 'hold' ? 'constant' : kind === 'straight' ? 'linear' : 'other';
	}
	let span = 0;
	while (span < curve.count - 2 && curve.times[span + 1] <= middle) span++;
	switch (curve.kinds[span]) {
		case SPAN_HOLD:
			return curve.values[span] === curve.values[span + 1] ? 'constant' : 'hold';
		case SPAN_LINEAR:
			return curve.values[span] === curve.values[span + 1] ? 'constant' : 'linear';
		case SPAN_CUBIC:
			return 'cubic';
		default:
			return 'other';
	}
}

/** Slope of a component on one side of a tick, in its own glTF units a second. */
function slopeBeside(component: ComponentTrace, from: number, to: number, atEnd: boolean): number {
	const { curve, factor } = component;
	if (!curve || curve.count === 1) return 0;
	const middle = (from + to) / 2;
	const last = curve.count - 1;
	if (middle < curve.times[0])
		return curve.before === 'straight' ? curve.endSlopes[0] * factor * TICKS_PER_SECOND : 0;
	if (middle > curve.times[last])
		return curve.after === 'straight' ? curve.endSlopes[1] * factor * TICKS_PER_SECOND : 0;
	let span = 0;
	while (span < last - 1 && curve.times[span + 1] <= middle) span++;
	const k = curve.coefficients;
	const c = span * STRIDE;
	if (curve.kinds[span] > SPAN_CUBIC) return 0;
	const x = ((atEnd ? to : from) - curve.times[span]) * k[c];
	return ((3 * k[c + 1] * x + 2 * k[c + 2]) * x + k[c + 3]) * k[c] * factor * TICKS_PER_SECOND;
}

/** Turns of an exact LINEAR rotation stay well below 180°. */
const EXACT_TURN = 120;

/**
 * The sampler that is exactly the path, where there is one: STEP for holds alone, LINEAR for straight spans (and
 * turns about one axis), CUBICSPLINE for cubic polynomials. Null where a fit is needed.
 */
export function exactSampler(path: PathSource): Sampler | null {
	const { source, components } = path;
	const { size, end } = source;
	const ticks = [0, ...source.pieces.map((p) => p.t).filter((t) => t > 0 && t < end), end];
	const forms = ticks.slice(0, -1).map((from, i) => components.map((c) => formOf(c, from, ticks[i + 1])));
	const all = forms.flat();
	// An orientation has no components: its turns are fitted.
	if (components.length === 0 || all.includes('other')) return null;
	const turning = components.filter((c) => c.curve && c.curve.count > 1).length;
	const rotates = size === 4;
	const holds = all.includes('hold');
	const interpolation =
		!all.includes('linear') && !all.includes('cubic')
			? 'STEP'
			: all.includes('cubic')
				? 'CUBICSPLINE'
				: 'LINEAR';
	if (rotates && interpolation !== 'STEP' && (interpolation === 'CUBICSPLINE' || turning > 1)) return null;

	const times: number[] = [];
	const values: number[] = [];
	const value = new Float64Array(size);
	const push = (time: number, tick: number, slopeIn: number[], slopeOut: number[]) => {
		const rounded = Math.fround(time);
		if (times.length > 0 && rounded <= times.at(-1)!) return;
		source.evaluate(tick, value);
		if (rotates && times.length > 0) {
			const at = values.length - 4;
			if (
				value[0] * values[at] +
					value[1] * values[at + 1] +
					value[2] * values[at + 2] +
					value[3] * values[at + 3] <
				0
			) {
				for (let k = 0; k < 4; k++) value[k] = -value[k];
			}
		}
		times.push(rounded);
		if (interpolation === 'CUBICSPLINE') values.push(...slopeIn, ...value, ...slopeOut);
		else values.push(...value);
	};
	const slopes = (i: number, atEnd: boolean) =>
		i < 0 || i >= forms.length
			? [0, 0, 0]
			: components.map((c) => slopeBeside(c, ticks[i], ticks[i + 1], atEnd));
	ticks.forEach((tick, i) => {
		const seconds = ticksToSeconds(tick);
		const jumps = interpolation !== 'STEP' && holds && i > 0 && forms[i - 1].includes('hold');
		if (jumps) push(float32Before(Math.fround(seconds)), tick - JUST_BEFORE, slopes(i - 1, true), [0, 0, 0]);
		if (rotates && interpolation === 'LINEAR' && i > 0 && !jumps) {
			const turn = components.reduce((sum, c) => {
				if (!c.curve) return sum;
				const change = evaluateCurve(c.curve, tick - JUST_BEFORE) - evaluateCurve(c.curve, ticks[i - 1]);
				return sum + Math.abs(change);
			}, 0);
			const pieces = Math.ceil(turn / EXACT_TURN);
			for (let j = 1; j < pieces; j++) {
				const between = ticks[i - 1] + ((tick - ticks[i - 1]) * j) / pieces;
				push(ticksToSeconds(between), Math.fround(ticksToSeconds(between)) * TICKS_PER_SECOND, [], []);
			}
		}
		push(seconds, tick, jumps ? [0, 0, 0] : slopes(i - 1, true), slopes(i, false));
	});
	const isConstant = all.every((form) => form === 'constant');
	return {
		interpolation,
		size,
		times: Float32Array.from(isConstant ? [0] : times),
		values: Float32Array.from(isConstant ? values.slice(0, size) : values),
	};
}
