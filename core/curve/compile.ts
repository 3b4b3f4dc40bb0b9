/** Turns the keys of a channel into flat typed arrays, once an edit, for the player's evaluator. */
import { bounceContacts } from '../../player/easing/bounce';
import { springSettleSeconds } from '../../player/easing/ease';
import { dampingRatio } from '../../player/easing/spring';
import { stepTimes, stopsEase } from '../../player/easing/steps';
import { buildCurve, isThird, type Span } from '../../player/curve/build';
import {
	SPAN_BEZIER,
	SPAN_CUBIC,
	SPAN_EASE,
	SPAN_LINEAR,
	SPAN_VALUE,
	STRIDE,
	type Ends,
	type FlatCurve,
} from '../../player/curve/flat';
import type { Shape, SpringShape } from '../../player/easing/shape';
import { TICKS_PER_SECOND } from '../../player/time';
import { easeEndSlopes, springEndSlopes } from '../easing/end-slopes';
import type { Degree, Piece } from './piece';
import { spanHandles, type CurveContext } from './handles';
import type { Key } from './types';

/** At most so many swings of a spring are told apart as pieces. */
const MOST_SWINGS = 500;

/** Fractions of a span at which a ringing spring has swung once more, so that fast ones are not sampled too thinly. */
function springSwings(shape: SpringShape, change: number, spanTicks: number): number[] {
	const zeta = dampingRatio(shape);
	if (zeta >= 1) return [];
	const swing = Math.PI / (Math.sqrt(shape.stiffness / shape.mass) * Math.sqrt(1 - zeta * zeta));
	const spanSeconds = spanTicks / TICKS_PER_SECOND;
	const seconds = shape.time === 'real' ? spanSeconds : springSettleSeconds(shape, change) || spanSeconds;
	const count = Math.min(MOST_SWINGS, Math.floor(seconds / swing));
	return Array.from({ length: count }, (_, i) => ((i + 1) * swing) / seconds).filter((x) => x < 1);
}

/**
 * Where a cubic in a parameter goes at its start or end: the first of its derivatives there that is not nothing. A
 * handle of length zero leaves the direction to the one across it. Rows of coefficients from the cube down.
 */
function direction(k: Float64Array, at: number, end: 0 | 1): readonly [dx: number, dy: number] {
	const derivatives = (a: number, b: number, c: number) =>
		end === 0 ? [c, 2 * b, 6 * a] : [3 * a + 2 * b + c, 6 * a + 2 * b, 6 * a];
	const x = derivatives(k[at + 1], k[at + 2], k[at + 3]);
	const y = derivatives(k[at + 4], k[at + 5], k[at + 6]);
	const height = Math.max(...y.map(Math.abs), 1e-300);
	const first = [0, 1, 2].find((i) => Math.abs(x[i]) > 1e-9 || Math.abs(y[i]) > 1e-9 * height) ?? 2;
	return [x[first], y[first]];
}

/** Slope of span `index` at its start or end, in value units a tick; 0 where it is vertical or jumps. */
function endSlope(curve: FlatCurve, index: number, end: 0 | 1, shape: Shape): number {
	const k = curve.coefficients;
	const at = index * STRIDE;
	const inverse = k[at];
	switch (curve.kinds[index]) {
		case SPAN_LINEAR:
		case SPAN_CUBIC:
			return inverse * (end === 0 ? k[at + 3] : 3 * k[at + 1] + 2 * k[at + 2] + k[at + 3]);
		case SPAN_BEZIER: {
			const [dx, dy] = direction(k, at, end);
			return Math.abs(dx) < 1e-9 ? 0 : (inverse * dy) / dx;
		}
		case SPAN_EASE: {
			const slope = easeEndSlopes(shape)[end];
			return Number.isFinite(slope) ? inverse * k[at + 1] * slope : 0;
		}
		case SPAN_VALUE: {
			const [v0, v1] = [curve.values[index], curve.values[index + 1]];
			return inverse * springEndSlopes(shape as SpringShape, v0, v1, 1 / inverse)[end];
		}
		default:
			return 0;
	}
}

/** What the span from a key to the next does. */
export function spanOf(keys: readonly Key[], index: number, context: CurveContext): Span {
	const { shape, v } = keys[index];
	if (shape.kind === 'spring') {
		const { mass, stiffness, damping, velocity, time } = shape;
		const seconds = time === 'fitted' && springSettleSeconds(shape, keys[index + 1].v - v);
		const own = { kind: 'spring' as const, mass, stiffness, damping, velocity };
		return seconds ? { ...own, seconds } : own;
	}
	return shape.kind === 'handles' ? spanHandles(keys, index, context) : shape;
}

/** Compiles keys (times strictly increasing, one at least) with what the channel does outside them. */
export function compileCurve(keys: readonly Key[], ends: Ends, context: CurveContext): FlatCurve {
	const last = keys.length - 1;
	const curve = buildCurve(
		keys.map(({ t }) => t),
		keys.map(({ v }) => v),
		ends,
		(span) => spanOf(keys, span, context),
	);
	const { endSlopes } = curve;
	if (last > 0) {
		endSlopes[0] = endSlope(curve, 0, 0, keys[0].shape);
		endSlopes[1] = endSlope(curve, last - 1, 1, keys[last - 1].shape);
	}
	return curve;
}

/**
 * Ticks between which a channel is smooth: its keys and the corners inside its spans, with a mark where the value
 * jumps. The list starts at the first key and ends at the last.
 */
export function curvePieces(keys: readonly Key[]): Piece[] {
	const pieces: Piece[] = [];
	const add = (t: number, jump: boolean, degree: Degree | undefined) => {
		const last = pieces.at(-1);
		if (last && t - last.t < 1e-6) {
			last.jump ||= jump;
			last.degree = degree;
		} else pieces.push({ t, jump, degree });
	};
	for (let i = 0; i < keys.length; i++) {
		const { t, v, shape } = keys[i];
		const next = keys[i + 1];
		const degree = next === undefined ? 1 : degreeOf(keys[i], next);
		add(t, false, degree);
		if (!next) break;
		const at = (x: number) => t + x * (next.t - t);
		if (shape.kind === 'hold') add(next.t, next.v !== v, degree);
		else if (shape.kind === 'steps') for (const x of stepTimes(shape.count)) add(at(x), next.v !== v, degree);
		else if (shape.kind === 'bounce')
			for (const x of bounceContacts(shape.restitution, shape.count)) add(at(x), false, degree);
		else if (shape.kind === 'stops') {
			const { stops } = shape;
			const ease = stopsEase(stops);
			if (ease(0) !== 0) add(at(0), true, degree);
			stops.forEach(({ x }, j) => {
				if (x >= 0 && x <= 1) add(at(x), j > 0 && stops[j - 1].x === x, degree);
			});
			if (ease(1) !== 1) add(at(1), true, degree);
		} else if (shape.kind === 'spring') {
			for (const x of springSwings(shape, next.v - v, next.t - t)) add(at(x), false, degree);
		} else if (shape.kind === 'family' && shape.way === 'in-out') add(at(0.5), false, degree);
	}
	return pieces;
}

/** The degree of a span that is made of polynomials in time, between the corners that it has. */
function degreeOf({ shape, right }: Key, next: Key): Degree | undefined {
	switch (shape.kind) {
		case 'hold':
		case 'linear':
		case 'steps':
		case 'stops':
			return 1;
		case 'fall':
		case 'rise':
		case 'bounce':
			return 3;
		case 'handles':
			return [right, next.left].every((side) => side?.reach === undefined || isThird(side.reach))
				? 3
				: undefined;
		default:
			return undefined;
	}
}
