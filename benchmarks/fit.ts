/** Bytes, keys and speed of the fit over a corpus, against dense keys and against the fewest keys there can be. */
import { gzipSync } from 'node:zlib';
import { bake, fit } from '../core/fit/fit';
import { fitCubic } from '../core/fit/cubic';
import { fitLinear } from '../core/fit/linear';
import { rawError } from './independent';
import { pinnedTicks } from '../core/fit/pins';
import { sampleRuns, type Run } from '../core/fit/samples';
import { samplerBytes, type Sampler } from '../core/fit/sampler';
import { Stabber } from '../core/fit/stabber';
import { makeCorpus, type CorpusCurve } from './corpus';
import { figure, type Figure } from './figure';

function content(sampler: Sampler): Buffer {
	return Buffer.concat([Buffer.from(sampler.times.buffer), Buffer.from(sampler.values.buffer)]);
}

/**
 * The fewest vertices of a polyline within the corridor, vertices at samples with any value in it: by dynamic
 * programming over the values that can be reached with k segments at each sample, as intervals.
 */
function fewestVertices(run: Run, bound: number): number {
	const { times, values, count } = run;
	let reached = new Map<number, [number, number]>([[0, [values[0] - bound, values[0] + bound]]]);
	const stabber = new Stabber();
	for (let k = 1; k < count; k++) {
		const next = new Map<number, [number, number]>();
		for (const [from, [low, high]] of reached) {
			stabber.reset();
			stabber.add(times[from], low, high);
			for (let j = from + 1; j < count; j++) {
				if (!stabber.accepts(times[j], values[j] - bound, values[j] + bound)) break;
				stabber.add(times[j], values[j] - bound, values[j] + bound);
				const [a, b] = [stabber.flattest(times[j]), stabber.steepest(times[j])];
				const known = next.get(j);
				next.set(j, known ? [Math.min(known[0], a), Math.max(known[1], b)] : [a, b]);
			}
		}
		if (next.has(count - 1)) return k + 1;
		reached = next;
	}
	return count;
}

/** Cubic segments needed at least: pieces of free cubics, each within the corridor, that need not meet. */
function fewestCubics(run: Run, bound: number): number {
	const { times, values, count } = run;
	const design = (u: number) => [
		1,
		2 * u - 1,
		8 * u * u - 8 * u + 1,
		(2 * u - 1) * (16 * u * u - 16 * u + 1),
	];
	/** Whether some cubic keeps within the bound: best uniform approximation by exchange on the samples. */
	const feasible = (from: number, to: number): boolean => {
		const n = to - from + 1;
		if (n <= 4) return true;
		let weights = new Float64Array(n).fill(1 / n);
		for (let round = 0; round < 40; round++) {
			const m = Array.from({ length: 4 }, () => new Float64Array(5));
			for (let s = 0; s < n; s++) {
				const row = design((times[from + s] - times[from]) / (times[to] - times[from]));
				for (let r = 0; r < 4; r++) {
					for (let c = 0; c < 4; c++) m[r][c] += weights[s] * row[r] * row[c];
					m[r][4] += weights[s] * row[r] * values[from + s];
				}
			}
			for (let p = 0; p < 4; p++) {
				m[p][p] += 1e-14;
				for (let r = 0; r < 4; r++) {
					if (r === p) continue;
					const f = m[r][p] / m[p][p];
					for (let c = p; c < 5; c++) m[r][c] -= f * m[p][c];
				}
			}
			const solution = m.map((row, r) => row[4] / row[r]);
			let worst = 0;
			let mean = 0;
			const errors = new Float64Array(n);
			for (let s = 0; s < n; s++) {
				const row = design((times[from + s] - times[from]) / (times[to] - times[from]));
				const e = Math.abs(row.reduce((sum, v, r) => sum + v * solution[r], 0) - values[from + s]);
				errors[s] = e;
				worst = Math.max(worst, e);
				mean += weights[s] * e * e;
			}
			if (worst <= bound) return true;
			// The weighted mean is a lower bound of the best uniform error (Lawson).
			if (Math.sqrt(mean) > bound) return false;
			let total = 0;
			weights = weights.map((w, s) => {
				const next = w * errors[s];
				total += next;
				return next;
			});
			weights = weights.map((w) => w / total);
		}
		// Undecided: counts as possible, which only makes the lower bound lower.
		return true;
	};
	let segments = 0;
	for (let from = 0; from < count - 1; segments++) {
		let good = from + 1;
		let bad = count;
		let step = 2;
		while (from + step < count && feasible(from, from + step)) {
			good = from + step;
			step *= 2;
		}
		bad = Math.min(bad, from + step);
		while (bad - good > 1) {
			const middle = (good + bad) >> 1;
			if (feasible(from, middle)) good = middle;
			else bad = middle;
		}
		from = good;
	}
	return segments;
}

interface Totals {
	bytes: number;
	baked: number;
	violations: number;
	/** Largest raw error over its bound. */
	worstShare: number;
	worseThanLinear: number;
	files: Buffer[];
	bakedFiles: Buffer[];
}

function totals(corpus: readonly CorpusCurve[], relative: number): Totals {
	const sum: Totals = {
		bytes: 0,
		baked: 0,
		violations: 0,
		worstShare: 0,
		worseThanLinear: 0,
		files: [],
		bakedFiles: [],
	};
	for (const { source, range } of corpus) {
		const bound = relative * range;
		const fitted = fit(source, bound);
		const dense = bake(source, 60);
		sum.bytes += samplerBytes(fitted.sampler);
		sum.baked += samplerBytes(dense);
		sum.files.push(content(fitted.sampler));
		sum.bakedFiles.push(content(dense));
		const raw = rawError(source, fitted.sampler);
		sum.worstShare = Math.max(sum.worstShare, raw.error / bound);
		if (!(raw.error <= bound)) sum.violations++;
		const linear = fitLinear(sampleRuns(source, bound, pinnedTicks(source, bound)), source, bound);
		if (samplerBytes(fitted.sampler) > samplerBytes(linear) * 1.0001) sum.worseThanLinear++;
	}
	return sum;
}

const WINDOWS = 24;
const WINDOW_MS = 200;

/**
 * Verified fits a second on one thread, for sources with so many components each: the best of many windows, taken in
 * turn, since what else the machine does only ever slows one down, for seconds on end.
 */
function rates(corpus: readonly CorpusCurve[], sizes: readonly number[]): number[] {
	const best = sizes.map(() => 0);
	const chosen = sizes.map((size) => corpus.filter(({ source }) => source.size === size));
	for (let window = 0; window < WINDOWS; window++)
		chosen.forEach((curves, i) => {
			const start = performance.now();
			let count = 0;
			while (performance.now() - start < WINDOW_MS) {
				for (const { source, range } of curves) fit(source, 0.001 * range);
				count += curves.length;
			}
			best[i] = Math.max(best[i], (1000 * count) / (performance.now() - start));
		});
	return best;
}

export async function fitFigures(): Promise<Figure[]> {
	const corpus = makeCorpus();
	const figures: Figure[] = [];
	const share = (part: number, whole: number) => (part / whole).toFixed(4);
	let violations = 0;
	let worstShare = 0;
	let worse = 0;
	for (const [relative, most] of [
		[1e-2, 0.08],
		[1e-3, 0.12],
		[1e-4, 0.18],
	] as const) {
		const sum = totals(corpus, relative);
		violations += sum.violations;
		worstShare = Math.max(worstShare, sum.worstShare);
		worse += sum.worseThanLinear;
		const got = sum.bytes / sum.baked;
		figures.push(
			figure(
				`bytes of ${corpus.length} curves against 60 Hz LINEAR, bound ${relative} of the range`,
				share(sum.bytes, sum.baked),
				`${most}`,
				got <= most,
			),
		);
		if (relative === 1e-3) {
			const zipped =
				gzipSync(Buffer.concat(sum.files)).length / gzipSync(Buffer.concat(sum.bakedFiles)).length;
			figures.push(figure('the same in gzip, at 0.001', zipped.toFixed(4), '0.15', zipped <= 0.15));
		}
	}
	let [linear, fewestLinear, cubic, fewestCubic] = [0, 0, 0, 0];
	for (const { source, range } of corpus) {
		if (source.size !== 1 || source.pieces.some((piece) => piece.jump)) continue;
		const bound = 0.001 * range;
		const runs = sampleRuns(source, bound).map((run) => ({
			...run,
			slack: new Float64Array(run.count),
		}));
		linear += fitLinear(runs, { size: 1 }, bound).times.length;
		fewestLinear += fewestVertices(runs[0], bound);
		cubic += fitCubic(runs, { size: 1 }, bound).times.length;
		fewestCubic += fewestCubics(runs[0], bound) + 1;
	}
	const [scalars, vectors, turns] = rates(corpus, [1, 3, 4]);
	figures.push(
		figure(
			'LINEAR keys against the fewest there can be (computed)',
			share(linear, fewestLinear),
			'1.03',
			linear / fewestLinear <= 1.03,
		),
		figure(
			'cubic keys against a lower bound (free cubics that need not meet)',
			share(cubic, fewestCubic),
			'1.06',
			cubic / fewestCubic <= 1.06,
		),
		figure('curves with more bytes than LINEAR alone, at all bounds', String(worse), '0', worse === 0),
		figure(
			'bounds not kept, by a raw measurement of its own at 40 000 places a curve, all bounds',
			`${violations} (worst ${(100 * worstShare).toFixed(2)} % of its bound)`,
			'0',
			violations === 0,
		),
		figure('verified fits a second at 0.001: scalar', scalars.toFixed(0), '1000', scalars >= 1000),
		figure('verified fits a second at 0.001: vectors of three', vectors.toFixed(0), '500', vectors >= 500),
		figure('verified fits a second at 0.001: rotations', turns.toFixed(0), '400', turns >= 400),
	);
	return figures;
}
