/** Cleaning of recordings whose truth is known: how near the keys are to it, against every n-th sample, and how fast. */
import { compileCurve } from '../core/curve/compile';
import { PLAYS_ONCE } from '../core/curve/handles';
import type { Key } from '../core/curve/types';
import { CLEANING, type Cleaning } from '../core/document/takes';
import { TakeCleaner } from '../core/takes/clean';
import { despike } from '../core/fit/take-filter';
import { evaluateCurve } from '../player/curve/evaluate';
import { TICKS_PER_SECOND } from '../player/time';
import { figure, type Figure } from './figure';

const SECONDS = 6;
const HOLDS = { before: 'hold', after: 'hold' } as const;
const smoothStep = (x: number) => x * x * (3 - 2 * x);
const within = (x: number) => Math.min(1, Math.max(0, x));

/** Each goes over about 1. */
const CURVES: Readonly<Record<string, (seconds: number) => number>> = {
	sway: (s) => 0.5 * Math.sin(2.4 * s),
	'hand-drawn': (s) => 0.3 * Math.sin(1.7 * s) + 0.2 * Math.sin(3.9 * s + 1) + 0.1 * Math.sin(6.1 * s + 2),
	'moves and rests': (s) => smoothStep(within((s - 1) / 0.8)) - smoothStep(within((s - 3.5) / 1.2)),
	settles: (s) => 1 - Math.exp(-0.9 * s) * Math.cos(4.5 * s),
	bounces: (s) => Math.abs(Math.cos(2.2 * s)) * Math.exp(-0.25 * s),
};
const RATES = [30, 60, 120];
const NOISES = [0.005, 0.01, 0.02];
const SPIKES = 3;

/** Normal noise that is the same in every run: a sum of twelve even ones. */
function noiseFrom(seed: number): () => number {
	let state = seed;
	const even = () => (state = (state * 1_664_525 + 1_013_904_223) % 4_294_967_296) / 4_294_967_296;
	return () => Array.from({ length: 12 }, even).reduce((a, b) => a + b) - 6;
}

interface Recorded {
	times: Uint32Array;
	values: Float32Array;
	/** Where the spikes are. */
	spikes: number[];
}

/** A curve at uneven times with noise and spikes. */
function recorded(curve: (seconds: number) => number, rate: number, noise: number, seed: number): Recorded {
	const next = noiseFrom(seed);
	const times = Uint32Array.from({ length: rate * SECONDS }, (_, i) =>
		Math.round((TICKS_PER_SECOND * (i + 0.5 + 0.1 * Math.max(-3, Math.min(3, next())))) / rate),
	);
	const values = Float32Array.from(times, (t) => curve(t / TICKS_PER_SECOND) + noise * next());
	const spikes = Array.from({ length: SPIKES }, (_, n) => Math.floor(((n + 0.6) / SPIKES) * values.length));
	spikes.forEach((at, n) => (values[at] += n % 2 ? -0.5 : 0.5));
	return { times, values, spikes };
}

function offTruth(keys: readonly Key[], curve: (seconds: number) => number) {
	const flat = compileCurve(keys, HOLDS, PLAYS_ONCE);
	const [start, end] = [keys[0].t, keys.at(-1)!.t];
	const COUNT = 4000;
	let [sum, largest] = [0, 0];
	for (let i = 0; i <= COUNT; i++) {
		const t = start + ((end - start) * i) / COUNT;
		const off = Math.abs(evaluateCurve(flat, t) - curve(t / TICKS_PER_SECOND));
		sum += off * off;
		largest = Math.max(largest, off);
	}
	return { rms: Math.sqrt(sum / (COUNT + 1)), largest };
}

/** As many straight keys of the recording, evenly taken. */
function decimated({ times, values }: Recorded, count: number): Key[] {
	const places = Array.from({ length: count }, (_, i) => Math.round((i * (times.length - 1)) / (count - 1)));
	return places.map((i) => ({ t: times[i], v: values[i], shape: { kind: 'linear' } }));
}

const cleanColumn = (times: Uint32Array, column: Float32Array, cleaning: Cleaning) =>
	new TakeCleaner({ times, columns: [column] }).cleanColumn(0, cleaning);
const mean = (list: readonly number[]) => list.reduce((a, b) => a + b, 0) / list.length;
const percent = (share: number) => `${(100 * share).toFixed(2)} %`;

function accuracy(name: string, curve: (seconds: number) => number): Figure {
	const [ours, largest, keys, nearer]: number[][] = [[], [], [], []];
	let seed = 1;
	for (const rate of RATES)
		for (const noise of NOISES) {
			const own = recorded(curve, rate, noise, seed++);
			const cleaning = { ...CLEANING, tolerance: Math.max(0.01, 1.5 * noise) };
			const [made] = cleanColumn(own.times, own.values, cleaning).stretches;
			const off = offTruth(made, curve);
			ours.push(off.rms);
			largest.push(off.largest);
			keys.push(made.length);
			nearer.push(offTruth(decimated(own, made.length), curve).rms / off.rms);
		}
	const ratio = mean(nearer);
	return figure(
		`cleaned take, ${name}: off the truth, at ${RATES.join(', ')} Hz with noise of ${NOISES.map((n) => 100 * n).join(', ')} % and spikes`,
		`${percent(mean(ours))} RMS, ${percent(Math.max(...largest))} at most, ${mean(keys).toFixed(0)} keys; ${ratio.toFixed(1)} times nearer than as many of the samples`,
		'at least 3 times',
		ratio >= 3,
	);
}

function spikesFound(): Figure {
	let [found, put, wrong, all] = [0, 0, 0, 0];
	let seed = 100;
	for (const curve of Object.values(CURVES))
		for (const rate of RATES)
			for (const noise of NOISES) {
				const own = recorded(curve, rate, noise, seed++);
				const raw = { times: Float64Array.from(own.times), values: Float64Array.from(own.values) };
				despike(raw).samples.values.forEach((v, i) => {
					if (v === raw.values[i]) return;
					if (own.spikes.includes(i)) found++;
					else wrong++;
				});
				put += SPIKES;
				all += own.values.length;
			}
	return figure(
		'spikes found in those takes; other samples taken for one',
		`${found} of ${put}; ${wrong} of ${all}`,
		'all; below 1 %',
		found === put && wrong / all < 0.01,
	);
}

const LONG = 72_000;
function speed(): Figure {
	const own = recorded(CURVES['hand-drawn'], LONG / SECONDS, 0.005, 7);
	// At the rate of a device, not at thousands a second.
	const times = Uint32Array.from(own.times, (_, i) => 600 * i);
	const values = Float32Array.from(
		times,
		(t, i) => CURVES['hand-drawn'](t / TICKS_PER_SECOND) + own.values[i] * 0.01,
	);
	const took = Array.from({ length: 5 }, () => {
		const began = performance.now();
		cleanColumn(times, values, CLEANING);
		return (performance.now() - began) / 1000;
	}).sort((a, b) => a - b);
	const rate = LONG / took[2];
	return figure(
		'samples cleaned a second on one thread: spikes, smoothing, holds and keys, ten minutes at 120 Hz',
		String(Math.round(rate / 1000) * 1000),
		'200000',
		rate >= 200_000,
	);
}

export async function takeFigures(): Promise<Figure[]> {
	return [...Object.entries(CURVES).map(([name, curve]) => accuracy(name, curve)), spikesFound(), speed()];
}
