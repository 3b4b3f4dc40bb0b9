/** Animation samplers of a glTF file as keys. */
import { closestEuler, toEuler, type Quaternion } from '../../../player/maths/quaternion';
import type { Vec3 } from '../../../player/maths/vector';
import type { Shape } from '../../../player/easing/shape';
import { secondsToTicks, TICKS_PER_SECOND } from '../../../player/time';
import type { HandleSide, Key } from '../../curve/types';
import { AXES } from '../../document/types';
import { sampleAt, type Sampler } from '../../fit/sampler';
import { MAX_CLIP_TICKS } from '../../time';

/** How far the Euler channels of a turn about a changing axis may leave it, in degrees. */
const EULER_BOUND = 0.02;
/** Places at which a segment is looked at: a cubic one may turn by more than half a turn. */
const PARTS = 8;
const LINEAR: Shape = { kind: 'linear' };
const HOLD: Shape = { kind: 'hold' };

/** Key times in ticks; a key a hair after another (a jump) has the same tick. */
export function tickOf(seconds: number): number {
	return Math.min(MAX_CLIP_TICKS, Math.max(0, secondsToTicks(seconds)));
}

/** Why a sampler's keys are none that a clip can have; null where they are. */
export function problemOf({ interpolation, size, times, values }: Sampler): string | null {
	const rows = interpolation === 'CUBICSPLINE' ? 3 : 1;
	if (values.length !== times.length * rows * size || size < 1)
		return `it has ${values.length} numbers for ${times.length} keys.`;
	if (!times.every((t, i) => t >= (times[i - 1] ?? 0)))
		return 'its key times are not in order, or before the start.';
	if (!values.every(Number.isFinite)) return 'it has numbers that are none.';
	const last = times.at(-1) ?? 0;
	const most = MAX_CLIP_TICKS / TICKS_PER_SECOND;
	return last > most ? `it lasts ${Number(last.toFixed(1))} s; ${most} s is the longest clip.` : null;
}

/** Keys of one component of a sampler of vectors. */
export function vectorKeys(sampler: Sampler, component: number): Key[] {
	const { interpolation, size, times, values } = sampler;
	const cubic = interpolation === 'CUBICSPLINE';
	const stride = cubic ? 3 * size : size;
	const rows = Array.from(times, (seconds, i) => {
		const at = i * stride + component;
		const key: Key = {
			t: tickOf(seconds),
			v: values[at + (cubic ? size : 0)],
			shape: interpolation === 'STEP' ? HOLD : cubic ? { kind: 'handles' } : LINEAR,
		};
		if (cubic) {
			const rise = (tangent: number, span: number): HandleSide => ({
				mode: 'split',
				rise: (tangent * span) / 3,
			});
			if (i > 0) key.left = rise(-values[at], seconds - times[i - 1]);
			if (i < times.length - 1) key.right = rise(values[at + 2 * size], times[i + 1] - seconds);
		}
		return key;
	});
	return withJumps(rows);
}

/** Where two keys share a tick the value jumps: a span that kept its value becomes a hold, another ends a tick early. */
function withJumps(rows: readonly Key[]): Key[] {
	const keys: Key[] = [];
	for (const row of rows) {
		const last = keys.at(-1);
		if (!last || last.t < row.t) {
			keys.push(row);
			continue;
		}
		const before = keys.at(-2);
		if (before && before.v === last.v) {
			keys.pop();
			keys[keys.length - 1] = { ...before, shape: HOLD };
		} else if (before && before.t < last.t - 1)
			keys[keys.length - 1] = { ...last, t: last.t - 1, shape: HOLD };
		else keys.pop();
		keys.push(row);
	}
	return keys;
}

/** Euler keys of a sampler of quaternions: at its keys, and between them until straight spans follow the turn. */
export function eulerKeys(sampler: Sampler): Key[][] {
	const out = new Float32Array(4);
	const eulerAt = (seconds: number, previous: ArrayLike<number>): Vec3 => {
		sampleAt(sampler, seconds, out);
		const length = Math.hypot(...out) || 1;
		return closestEuler(toEuler(Array.from(out, (c) => c / length) as Quaternion, 'XYZ'), previous, 'XYZ');
	};
	const rows: { t: number; euler: Vec3 }[] = [];
	let previous: Vec3 = [0, 0, 0];
	const push = (seconds: number, euler: Vec3) => {
		previous = euler;
		rows.push({ t: tickOf(seconds), euler });
	};
	const divide = (a: number, b: number, depth: number): void => {
		const start = eulerAt(a, previous);
		let worst = 0;
		let at = start;
		const samples: Vec3[] = [];
		for (let i = 1; i <= PARTS; i++) samples.push((at = eulerAt(a + ((b - a) * i) / PARTS, at)));
		samples.forEach((euler, i) => {
			euler.forEach((angle, k) => {
				const straight = start[k] + ((at[k] - start[k]) * (i + 1)) / PARTS;
				worst = Math.max(worst, Math.abs(angle - straight));
			});
		});
		if (worst > EULER_BOUND && depth < 8 && b - a > 4 / TICKS_PER_SECOND) {
			divide(a, (a + b) / 2, depth + 1);
			divide((a + b) / 2, b, depth + 1);
		} else push(b, at);
	};
	push(sampler.times[0], eulerAt(sampler.times[0], previous));
	for (let i = 0; i + 1 < sampler.times.length; i++) {
		if (sampler.interpolation === 'STEP') push(sampler.times[i + 1], eulerAt(sampler.times[i + 1], previous));
		else divide(sampler.times[i], sampler.times[i + 1], 0);
	}
	const shape = sampler.interpolation === 'STEP' ? HOLD : LINEAR;
	return AXES.map((_, axis) => {
		const keys = withJumps(rows.map(({ t, euler }): Key => ({ t, v: euler[axis], shape })));
		return keys.every((key) => Math.abs(key.v - keys[0].v) < 1e-6) ? keys.slice(0, 1) : keys;
	});
}
