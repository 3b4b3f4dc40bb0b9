/** Evaluation of many channels in forward play, against three.js interpolants on the same keys. */
import { CubicInterpolant, LinearInterpolant, QuaternionLinearInterpolant, type Interpolant } from 'three';
import bezierEasing from 'bezier-easing';
import { Bench } from 'tinybench';
import { compileCurve } from '../core/curve/compile';
import { ActiveSpans } from '../player/curve/active-spans';
import { evaluateCurve } from '../player/curve/evaluate';
import { cubicBezier } from '../player/easing/cubic-bezier';
import { PLAYS_ONCE } from '../core/curve/handles';
import type { Key, VectorKey } from '../core/curve/types';
import type { Shape } from '../player/easing/shape';
import { compileVector } from '../core/curve/vector';
import { evaluateVector } from '../player/curve/vector';
import { fromEuler } from '../player/maths/quaternion';
import { figure, type Figure } from './figure';

const ROUNDS = 7;
const CHANNELS = 200;
const KEYS = 100;
const KEY_TICKS = 7200;
const FRAME_TICKS = 1200;
const HOLD = { before: 'hold', after: 'hold' } as const;
const LENGTH = (KEYS - 1) * KEY_TICKS;

/** A fixed sequence of numbers in 0…1 (a linear congruence), so that runs are alike. */
function numbers(seed: number): () => number {
	let state = seed;
	return () => (state = (state * 1_664_525 + 1_013_904_223) % 4_294_967_296) / 4_294_967_296;
}

function makeKeys(channel: number, shape: Shape): Key[] {
	const next = numbers(channel + 1);
	return Array.from({ length: KEYS }, (_, i): Key => {
		const side = shape.kind === 'handles' ? ({ mode: 'smooth' } as const) : undefined;
		return { t: i * KEY_TICKS, v: next() * 10 - 5, shape, ...(side ? { left: side, right: side } : {}) };
	});
}

/** How much faster ours is: the median of several rounds, in turn, since the machine's own speed drifts. */
async function ratio(ours: () => void, theirs: () => void): Promise<number> {
	const ratios: number[] = [];
	for (let round = 0; round < ROUNDS; round++) {
		const bench = new Bench({ time: 150, warmupTime: round === 0 ? 200 : 20 });
		bench.add('ours', ours).add('theirs', theirs);
		await bench.run();
		const [a, b] = bench.tasks.map((task) => (task.result as { latency: { p50: number } }).latency.p50);
		ratios.push(b / a);
	}
	return ratios.sort((x, y) => x - y)[(ROUNDS - 1) / 2];
}

function makeCurves(shape: Shape) {
	return Array.from({ length: CHANNELS }, (_, i) => compileCurve(makeKeys(i, shape), HOLD, PLAYS_ONCE));
}

async function compare(
	shape: Shape,
	make: (times: Float32Array, values: Float32Array) => Interpolant,
): Promise<number> {
	const curves = makeCurves(shape);
	const active = new ActiveSpans(curves);
	const interpolants = curves.map((curve) =>
		make(
			Float32Array.from(curve.times.subarray(0, curve.count), (t) => t / 72_000),
			Float32Array.from(curve.values),
		),
	);
	const out = new Float64Array(CHANNELS);
	return ratio(
		() => {
			for (let t = 0; t < LENGTH; t += FRAME_TICKS) out.set(active.evaluate(t));
		},
		() => {
			for (let t = 0; t < LENGTH; t += FRAME_TICKS) {
				const seconds = t / 72_000;
				for (let i = 0; i < CHANNELS; i++) {
					out[i] = (interpolants[i].evaluate(seconds) as unknown as Float32Array)[0];
				}
			}
		},
	);
}

/** Orientation channels in forward play, slerped. */
async function compareTurns(): Promise<number> {
	const next = numbers(7);
	const curves = Array.from({ length: CHANNELS / 4 }, () =>
		compileVector(
			Array.from({ length: KEYS }, (_, i): VectorKey => ({
				t: i * KEY_TICKS,
				v: 0,
				shape: { kind: 'linear' },
				vector: fromEuler([next() * 360, next() * 90, next() * 360], 'XYZ'),
			})),
			HOLD,
			PLAYS_ONCE,
			'turn',
		),
	);
	const interpolants = curves.map(
		({ progress, starts }) =>
			new QuaternionLinearInterpolant(
				Float32Array.from(progress.times.subarray(0, progress.count), (t) => t / 72_000),
				Float32Array.from(starts),
				4,
				new Float32Array(4),
			),
	);
	const out = new Float64Array(4 * curves.length);
	return ratio(
		() => {
			for (let t = 0; t < LENGTH; t += FRAME_TICKS)
				for (let i = 0; i < curves.length; i++) evaluateVector(curves[i], t, out, 4 * i);
		},
		() => {
			for (let t = 0; t < LENGTH; t += FRAME_TICKS)
				for (let i = 0; i < curves.length; i++)
					out.set(interpolants[i].evaluate(t / 72_000) as unknown as Float32Array, 4 * i);
		},
	);
}

/** One channel at a time, out of order: what a seek or a lane's drawing costs. */
async function compareSingle(): Promise<number> {
	const curves = makeCurves({ kind: 'linear' });
	const interpolants = curves.map(
		(curve) =>
			new LinearInterpolant(
				Float32Array.from(curve.times.subarray(0, curve.count), (t) => t / 72_000),
				Float32Array.from(curve.values),
				1,
				new Float32Array(1),
			),
	);
	let sum = 0;
	return ratio(
		() => {
			for (const curve of curves)
				for (let t = 0; t < LENGTH; t += FRAME_TICKS) sum += evaluateCurve(curve, t);
		},
		() => {
			for (const interpolant of interpolants)
				for (let t = 0; t < LENGTH; t += FRAME_TICKS) {
					sum += (interpolant.evaluate(t / 72_000) as unknown as Float32Array)[0];
				}
		},
	).then((value) => (Number.isNaN(sum) ? 0 : value));
}

/** Bytes that a frame of evaluation allocates, over many frames. */
function allocated(): number {
	const active = new ActiveSpans(makeCurves({ kind: 'eased', start: 0.4, finish: 0.3 }));
	const play = () => {
		for (let t = 0; t < LENGTH; t += FRAME_TICKS) active.evaluate(t);
	};
	for (let i = 0; i < 20; i++) play();
	const frames = LENGTH / FRAME_TICKS;
	const before = process.memoryUsage().heapUsed;
	for (let i = 0; i < 10; i++) play();
	return Math.max(0, process.memoryUsage().heapUsed - before) / (10 * frames);
}

export async function evaluationFigures(): Promise<Figure[]> {
	const linear = await compare(
		{ kind: 'linear' },
		(times, values) => new LinearInterpolant(times, values, 1, new Float32Array(1)),
	);
	const cubic = await compare(
		{ kind: 'handles' },
		(times, values) => new CubicInterpolant(times, values, 1, new Float32Array(1)),
	);
	const eased = await compare(
		{ kind: 'eased', start: 0.4, finish: 0.3 },
		(times, values) => new CubicInterpolant(times, values, 1, new Float32Array(1)),
	);
	const turns = await compareTurns();
	const single = await compareSingle();
	const ours = cubicBezier(0.42, 0.1, 0.3, 1.2);
	const library = bezierEasing(0.42, 0.1, 0.3, 1.2);
	let sum = 0;
	const bezier = await ratio(
		() => {
			for (let i = 0; i < 1000; i++) sum += ours(i / 1000);
		},
		() => {
			for (let i = 0; i < 1000; i++) sum += library(i / 1000);
		},
	);
	const bytes = allocated();
	const times = (value: number) => `${value.toFixed(2)} × as fast`;
	return [
		figure(
			`${CHANNELS} channels × ${KEYS} keys, forward play, linear, against three.js LinearInterpolant`,
			times(linear),
			'at least 1.5',
			linear >= 1.5,
		),
		figure(
			'the same, cubic (smooth handles), against three.js CubicInterpolant',
			times(cubic),
			'at least 1.5',
			cubic >= 1.5,
		),
		figure('the same, eased (a Bezier to be solved), against three.js CubicInterpolant', times(eased)),
		figure(
			'one channel after the other, linear, against three.js LinearInterpolant',
			times(single),
			'at least 1.5',
			single >= 1.5,
		),
		figure(
			'a cubic Bezier easing, solved to 1e-12, against bezier-easing',
			times(bezier),
			'at least 1',
			bezier >= 1 && sum > 0,
		),
		figure(
			`${CHANNELS / 4} orientations × ${KEYS} keys, forward play, slerp, against three.js QuaternionLinearInterpolant`,
			times(turns),
			'at least 1.5',
			turns >= 1.5,
		),
		figure('memory allocated a frame of 200 channels', `${bytes.toFixed(0)} bytes`, '0', bytes < 16),
	];
}
