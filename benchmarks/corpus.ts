/** Realistic curves for the fit: every shape, springs, bounces, loops, vectors, rotations, spins and recorded noise. */
import { mergePieces } from '../core/clip/trace';
import { compileCurve, curvePieces } from '../core/curve/compile';
import { evaluateCurve } from '../player/curve/evaluate';
import { PLAYS_ONCE } from '../core/curve/handles';
import { EASING_FAMILIES, EASING_WAYS, type Shape } from '../player/easing/shape';
import type { Key } from '../core/curve/types';
import type { Piece } from '../core/curve/piece';
import type { Source } from '../core/fit/source';
import { eulerInto } from '../player/maths/quaternion';
import { frameToTicks } from '../core/time';
import { TICKS_PER_SECOND } from '../player/time';

export interface CorpusCurve {
	name: string;
	source: Source;
	/** Range of the widest component; 180° for rotations. */
	range: number;
}

type Row = [frame: number, value: number, shape?: Shape];
const HOLD = { before: 'hold', after: 'hold' } as const;
const linear: Shape = { kind: 'linear' };
const fall: Shape = { kind: 'fall' };
const rise: Shape = { kind: 'rise' };
const handles: Shape = { kind: 'handles' };
const eased = (start: number, finish: number): Shape => ({ kind: 'eased', start, finish });
const spring = (stiffness: number, damping: number): Shape => ({
	kind: 'spring',
	mass: 1,
	stiffness,
	damping,
	velocity: 0,
	time: 'fitted',
});

interface Component {
	value: (ticks: number) => number;
	pieces: Piece[];
	end: number;
}

function keyed(rows: readonly Row[]): Component {
	const keys = rows.map(([frame, v, shape = linear]): Key => {
		const side = shape.kind === 'handles' ? ({ mode: 'smooth' } as const) : undefined;
		return { t: frameToTicks(frame, 30), v, shape, ...(side ? { left: side, right: side } : {}) };
	});
	const curve = compileCurve(keys, HOLD, PLAYS_ONCE);
	return { value: (t) => evaluateCurve(curve, t), pieces: curvePieces(keys), end: keys.at(-1)!.t };
}

function vector(name: string, components: readonly Component[]): CorpusCurve {
	const end = Math.max(...components.map((c) => c.end));
	let range = 0;
	for (const { value } of components) {
		const values = Array.from({ length: 1001 }, (_, i) => value((end * i) / 1000));
		range = Math.max(range, Math.max(...values) - Math.min(...values));
	}
	const source: Source = {
		size: components.length,
		start: 0,
		end,
		pieces: mergePieces(components.map((component) => component.pieces)),
		evaluate(t, out) {
			for (let k = 0; k < components.length; k++) out[k] = components[k].value(t);
		},
	};
	return { name, source, range };
}

function rotation(name: string, components: readonly Component[]): CorpusCurve {
	const end = Math.max(...components.map((c) => c.end));
	const euler = [0, 0, 0];
	const source: Source = {
		size: 4,
		start: 0,
		end,
		pieces: mergePieces(components.map((component) => component.pieces)),
		evaluate: (t, out) => {
			for (let k = 0; k < 3; k++) euler[k] = components[k].value(t);
			eulerInto(euler[0], euler[1], euler[2], 'XYZ', out);
		},
	};
	return { name, source, range: 180 };
}

const still = keyed([[0, 0]]);

/** A recording at 60 Hz: straight between samples, with noise of about 2e-4 of its range, the same from run to run. */
function recorded(seed: number, seconds: number, noise: number, path: (s: number) => number): Component {
	let state = seed;
	const random = () => (state = (state * 1_664_525 + 1_013_904_223) % 4_294_967_296) / 4_294_967_296 - 0.5;
	const rows = Array.from({ length: 60 * seconds + 1 }, (_, i): Row => [
		i / 2,
		path(i / 60) + noise * random(),
	]);
	return keyed(rows);
}

function smoothLoop(frames: number, count: number, size: number, phase: number): Component {
	return keyed(
		Array.from({ length: count + 1 }, (_, i): Row => [
			Math.round((i * frames) / count),
			size * Math.sin((2 * Math.PI * i) / count + phase),
			handles,
		]),
	);
}

const drop: Row[] = [
	[0, 3, fall],
	[10, 0, rise],
	[18, 1.2, fall],
	[26, 0, rise],
	[31, 0.45, fall],
	[36, 0, rise],
	[39, 0.15, fall],
	[42, 0],
];

export function makeCorpus(): CorpusCurve[] {
	const curves: CorpusCurve[] = [];
	for (const family of EASING_FAMILIES) {
		const way = EASING_WAYS[EASING_FAMILIES.indexOf(family) % 3];
		curves.push(
			vector(`${family} ${way}`, [
				keyed([
					[0, 0, { kind: 'family', family, way }],
					[30, 1],
				]),
			]),
		);
	}
	curves.push(
		vector('eased there and back', [
			keyed([
				[0, 0, eased(0.4, 0.6)],
				[20, 4, eased(0.3, 0.3)],
				[50, 0],
			]),
		]),
		vector('eased steep', [
			keyed([
				[0, 0, eased(0.95, 0.95)],
				[40, 1],
			]),
		]),
		vector('css bezier with overshoot', [
			keyed([
				[0, 0, { kind: 'bezier', x1: 0.3, y1: -0.4, x2: 0.2, y2: 1.5 }],
				[24, 1],
			]),
		]),
		vector('holds', [
			keyed([
				[0, 1, { kind: 'hold' }],
				[12, 3, { kind: 'hold' }],
				[30, 2, { kind: 'hold' }],
				[44, 0],
			]),
		]),
		vector('straight with corners', [
			keyed([
				[0, 0],
				[10, 3],
				[25, 1],
				[60, 4],
			]),
		]),
		vector('jump among eased', [
			keyed([
				[0, 0, eased(0.5, 0.5)],
				[20, 2, { kind: 'hold' }],
				[30, -1, eased(0.2, 0.7)],
				[60, 1],
			]),
		]),
		vector('spring soft', [
			keyed([
				[0, 0, spring(100, 10)],
				[40, 1],
			]),
		]),
		vector('spring ringing', [
			keyed([
				[0, 0, spring(170, 4)],
				[90, 1],
			]),
		]),
		vector('spring critical', [
			keyed([
				[0, 5, spring(60, 15.5)],
				[45, -2],
			]),
		]),
		vector('bounce', [
			keyed([
				[0, 0, { kind: 'bounce', restitution: 0.6, count: 4 }],
				[60, 1],
			]),
		]),
		vector('drop by keys', [keyed(drop)]),
		vector('bob', [smoothLoop(90, 8, 0.2, 0.3)]),
		vector('breath', [
			keyed([
				[0, 1, handles],
				[30, 1.04, handles],
				[44, 1.03, handles],
				[90, 1, handles],
			]),
		]),
		vector('steps', [
			keyed([
				[0, 0, { kind: 'steps', count: 8, jump: 'jump-end' }],
				[48, 8],
			]),
		]),
		vector('elastic there', [
			keyed([
				[0, 0, { kind: 'family', family: 'elastic', way: 'out', period: 0.4 }],
				[50, 1],
				[80, 1],
			]),
		]),
		vector('slow drift', [
			keyed([
				[0, 0, handles],
				[150, 3, handles],
				[300, 1, handles],
				[450, 4, handles],
			]),
		]),
		vector('flicker', [
			keyed(Array.from({ length: 12 }, (_, i): Row => [8 * i, i % 2 ? 0.2 + 0.03 * i : 1, eased(0.1, 0.6)])),
		]),
		vector('recorded sway', [recorded(7, 4, 0.0005, (s) => Math.sin(2.2 * s) + 0.3 * Math.sin(5.1 * s))]),
		vector('recorded throw', [recorded(11, 2, 0.0005, (s) => 4 * s - 2 * s * s)]),
	);
	const x = keyed([
		[0, 0, linear],
		[10, 0.6],
		[26, 1.4],
		[36, 1.7, eased(0, 0.6)],
		[42, 1.8],
	]);
	curves.push(
		vector('sack: travel and drop', [x, keyed(drop), still]),
		vector('arc of a hop', [
			keyed([
				[0, 0],
				[20, 2],
			]),
			keyed([
				[0, 0, rise],
				[10, 1, fall],
				[20, 0],
			]),
			still,
		]),
		vector('glide in three axes', [
			keyed([
				[0, 0, eased(0.4, 0.4)],
				[60, 5],
			]),
			keyed([
				[0, 2, eased(0.2, 0.8)],
				[45, 0.5, eased(0.5, 0.5)],
				[60, 0],
			]),
			keyed([
				[0, 0, handles],
				[20, 1, handles],
				[60, -1, handles],
			]),
		]),
		vector('squash and stretch', [
			keyed([
				[0, 1, eased(0.5, 0)],
				[10, 0.95, eased(0, 0.6)],
				[12, 1.3, eased(0.4, 0.5)],
				[20, 1],
			]),
			keyed([
				[0, 1, eased(0.5, 0)],
				[10, 1.1, eased(0, 0.6)],
				[12, 0.62, eased(0.4, 0.5)],
				[20, 1],
			]),
			keyed([
				[0, 1, eased(0.5, 0)],
				[10, 0.95, eased(0, 0.6)],
				[12, 1.3, eased(0.4, 0.5)],
				[20, 1],
			]),
		]),
		vector('pulse of a badge', [smoothLoop(60, 6, 0.1, 0), smoothLoop(60, 6, 0.1, 0), keyed([[0, 1]])]),
		vector('camera move', [
			keyed([
				[0, -4, eased(0.6, 0.7)],
				[150, 6],
			]),
			keyed([
				[0, 2, handles],
				[70, 3.5, handles],
				[150, 2.2, handles],
			]),
			keyed([
				[0, 9, eased(0.3, 0.8)],
				[150, 5],
			]),
		]),
		vector('spring in two axes', [
			keyed([
				[0, 0, spring(120, 8)],
				[60, 3],
			]),
			keyed([
				[0, 1, spring(80, 12)],
				[60, 0],
			]),
			still,
		]),
		vector('recorded hand', [
			recorded(3, 3, 0.0002, (s) => 0.5 * Math.sin(3 * s)),
			recorded(5, 3, 0.0002, (s) => 1 + 0.3 * Math.cos(4.3 * s)),
			recorded(9, 3, 0.0002, (s) => 0.1 * s),
		]),
		rotation('swing about one axis', [
			still,
			still,
			keyed([
				[0, 0, eased(0.4, 0.5)],
				[30, 48, { kind: 'hold' }],
				[40, 48, eased(0.4, 0.6)],
				[70, 0],
			]),
		]),
		rotation('pendulum', [still, still, smoothLoop(90, 6, 14, 1)]),
		rotation('steady spin', [
			still,
			keyed([
				[0, 0],
				[120, 720],
			]),
			still,
		]),
		rotation('wheel with ease', [
			still,
			still,
			keyed([
				[0, 0, eased(0.45, 0.6)],
				[150, -900],
			]),
		]),
		rotation('needle springs', [
			still,
			still,
			keyed([
				[0, -120, spring(60, 5)],
				[110, 38],
			]),
		]),
		rotation('nod and turn', [smoothLoop(80, 5, 18, 0), smoothLoop(80, 4, 40, 0.7), still]),
		rotation('tumble', [
			keyed([
				[0, 0],
				[60, 260],
			]),
			keyed([
				[0, 0, eased(0.3, 0.5)],
				[60, 140],
			]),
			keyed([
				[0, 10, handles],
				[25, 60, handles],
				[60, -30, handles],
			]),
		]),
		rotation('settling lean', [
			keyed([
				[0, 12, eased(0.2, 0.6)],
				[30, 0],
			]),
			still,
			keyed([
				[0, -20, spring(90, 7)],
				[60, 0],
			]),
		]),
		rotation('look about', [
			keyed([
				[0, 0, eased(0.5, 0.5)],
				[25, 10, { kind: 'hold' }],
				[50, 10, eased(0.5, 0.5)],
				[80, -5],
			]),
			keyed([
				[0, -40, eased(0.5, 0.5)],
				[30, 35, { kind: 'hold' }],
				[55, 35, eased(0.5, 0.5)],
				[80, -40],
			]),
			still,
		]),
		rotation('recorded wrist', [
			recorded(21, 3, 0.04, (s) => 20 * Math.sin(3 * s)),
			recorded(22, 3, 0.04, (s) => 30 * Math.cos(2.1 * s)),
			recorded(23, 3, 0.04, (s) => 8 * s),
		]),
		rotation('flip by a hold', [
			still,
			keyed([
				[0, 0, { kind: 'hold' }],
				[15, 180, { kind: 'hold' }],
				[30, 0],
			]),
			still,
		]),
	);
	return curves;
}

/** Seconds of a source. */
export function secondsOf(source: Source): number {
	return (source.end - source.start) / TICKS_PER_SECOND;
}
