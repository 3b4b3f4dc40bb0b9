/**
 * Keys of a colour between which it does not matter whether a viewer mixes red, green and blue or, as the standard says,
 * hue, saturation and value. Source: ISO/IEC 19775-1, 19.4.1 (ColorInterpolator).
 */
import { ticksToSeconds } from '../../../player/time';
import { float32Before, type Sampler } from '../../fit/sampler';
import { JUST_BEFORE, type Source } from '../../fit/source';

type Rgb = readonly [number, number, number];

function hsvOf([r, g, b]: Rgb): [number, number, number] {
	const value = Math.max(r, g, b);
	const span = value - Math.min(r, g, b);
	if (span === 0) return [0, 0, value];
	const hue = value === r ? (g - b) / span : value === g ? 2 + (b - r) / span : 4 + (r - g) / span;
	return [(hue + 6) % 6, span / value, value];
}

function rgbOf([hue, saturation, value]: readonly number[]): Rgb {
	const at = (n: number) => {
		const k = (n + hue) % 6;
		return value - value * saturation * Math.max(0, Math.min(k, 4 - k, 1));
	};
	return [at(5), at(3), at(1)];
}

/** Mixed by hue the shorter way about, or the other one where both are nearly as long. */
function mixHsv(a: Rgb, b: Rgb, u: number, isOther: boolean): Rgb {
	const [from, to] = [hsvOf(a), hsvOf(b)];
	// What is grey has any hue.
	if (from[1] === 0) from[0] = to[0];
	if (to[1] === 0) to[0] = from[0];
	let turn = ((to[0] - from[0] + 9) % 6) - 3;
	if (isOther && Math.abs(turn) > 2.9) turn -= 6 * Math.sign(turn);
	return rgbOf([
		(from[0] + u * turn + 6) % 6,
		from[1] + u * (to[1] - from[1]),
		from[2] + u * (to[2] - from[2]),
	]);
}

const mixRgb = (a: Rgb, b: Rgb, u: number): Rgb =>
	[0, 1, 2].map((k) => a[k] + u * (b[k] - a[k])) as unknown as Rgb;
const LOOKS = [0.1, 0.25, 0.4, 0.5, 0.6, 0.75, 0.9];
const DEEPEST = 14;
/** Of the bound, what rounding to float32 takes. */
const SHARE = 0.95;

/** Straight keys within a bound, whichever way is mixed. Throws a RangeError where no number of keys is enough. */
export function colourKeys(source: Source, bound: number): Sampler {
	const out = new Float64Array(3);
	const at = (t: number): Rgb => {
		source.evaluate(t, out);
		return [out[0], out[1], out[2]];
	};
	const times: number[] = [];
	const values: number[] = [];
	const put = (seconds: number, rgb: Rgb) => {
		const time = Math.fround(seconds);
		if (times.length > 0 && time <= times.at(-1)!) return;
		times.push(time);
		values.push(...rgb);
	};
	const isNear = (a: Rgb, b: Rgb) => a.every((v, k) => Math.abs(v - b[k]) <= SHARE * bound);
	const stretch = (from: number, to: number, a: Rgb, b: Rgb, depth: number): void => {
		const holds = LOOKS.every((u) => {
			const truth = at(from + u * (to - from));
			return [mixRgb(a, b, u), mixHsv(a, b, u, false), mixHsv(a, b, u, true)].every((own) =>
				isNear(own, truth),
			);
		});
		if (holds) return;
		if (depth === DEEPEST) throw new RangeError(`the bound ${bound} cannot be kept by a colour`);
		const middle = (from + to) / 2;
		const between = at(middle);
		stretch(from, middle, a, between, depth + 1);
		put(ticksToSeconds(middle), between);
		stretch(middle, to, between, b, depth + 1);
	};
	const inside = source.pieces.filter(({ t }) => t > source.start && t < source.end);
	const jumps = new Set(source.pieces.filter(({ jump }) => jump).map(({ t }) => t));
	const marks = [...new Set([source.start, ...inside.map(({ t }) => t), source.end])];
	put(ticksToSeconds(source.start), at(source.start));
	for (let i = 0; i + 1 < marks.length; i++) {
		const [from, to] = [marks[i], marks[i + 1]];
		const end = jumps.has(to) ? at(to - JUST_BEFORE) : at(to);
		stretch(from, to - JUST_BEFORE, at(from), end, 0);
		if (jumps.has(to)) put(float32Before(Math.fround(ticksToSeconds(to))), end);
		put(ticksToSeconds(to), at(to));
	}
	return {
		interpolation: 'LINEAR',
		size: 3,
		plain: true,
		times: Float32Array.from(times),
		values: Float32Array.from(values),
	};
}
