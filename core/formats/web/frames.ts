/** Numbers over a clip as keyframes: with CSS easings where keys and shapes allow it, else as the fewest straight ones. */
import { compileCurve } from '../../curve/compile';
import { PLAYS_ONCE } from '../../curve/handles';
import type { Clip } from '../../document/types';
import { contextOfChannel } from '../../clip/context';
import type { Trace } from '../../clip/trace';
import { readCssEasing } from '../../easing/css';
import { spanEasing } from '../../fit/css-span';
import { fitAsLinear } from '../../fit/fit';
import type { Source } from '../../fit/source';
import { evaluateCurve } from '../../../player/curve/evaluate';
import { ticksToSeconds } from '../../../player/time';

export interface Frame {
	/** Share of the clip's length. */
	at: number;
	values: readonly number[];
	/** As CSS has it, until the next frame. */
	easing: string;
}
export interface Frames {
	frames: readonly Frame[];
	/** Whether all easings are the clip's own shapes. */
	isOwn: boolean;
}

export const STRAIGHT = 'linear';
export const HELD = 'step-end';
/** Places of a span that must agree for a number to stand still in it. */
const LOOKS = 9;

function isStill(trace: Trace, from: number, to: number): boolean {
	const first = trace.read(from);
	return Array.from({ length: LOOKS }, (_, i) => trace.read(from + ((to - from) * i) / LOOKS)).every(
		(v) => v === first,
	);
}

/** The easing of a span of a number, within a share of its change: null where CSS has none. */
function easingOf(
	{ channel }: Trace,
	span: number,
	clip: Clip,
	share: number,
): { text: string; exact: boolean } | null {
	const { keys } = channel!;
	if (keys[span + 1].v === keys[span].v) return null;
	return spanEasing(keys, span, contextOfChannel(channel!, clip), share);
}

/**
 * Frames at the keys of some numbers, which share their times and easings; null where they do not, where something else
 * than keys makes one of them, or where CSS cannot say what is between or outside their keys.
 */
export function framesAtKeys(traces: readonly Trace[], clip: Clip, bound: number): Frames | null {
	const keyed = traces.filter(({ channel }) => channel !== null);
	if (keyed.length === 0 || traces.some(({ formula }) => formula !== null)) return null;
	const [{ channel: first }] = keyed;
	const times = first!.keys.map(({ t }) => t);
	const fits = ({ channel }: Trace) => {
		const { keys, ends } = channel!;
		return (
			keys.length === times.length &&
			keys.every(({ t }, i) => t === times[i]) &&
			(ends.before === 'hold' || times[0] === 0) &&
			(ends.after === 'hold' || times.at(-1)! >= clip.length)
		);
	};
	if (!keyed.every(fits) || times[0] < 0 || times.at(-1)! > clip.length) return null;
	const valuesAt = (t: number) => traces.map((trace) => trace.read(t));
	const frames: Frame[] = [];
	let isOwn = true;
	if (times[0] > 0) frames.push({ at: 0, values: valuesAt(times[0]), easing: STRAIGHT });
	for (let i = 0; i < times.length; i++) {
		let easing: string | null = null;
		const moving =
			i + 1 < times.length ? keyed.filter((trace) => !isStill(trace, times[i], times[i + 1])) : [];
		// One easing is for all of them: the one that goes farthest says how exact it must be.
		const changes = moving.map(({ channel }) => Math.abs(channel!.keys[i + 1].v - channel!.keys[i].v));
		const share = Math.min(0.5, bound / Math.max(...changes));
		for (const trace of moving) {
			const own = easingOf(trace, i, clip, share);
			if (!own || (easing !== null && easing !== own.text)) return null;
			easing = own.text;
			isOwn &&= own.exact;
		}
		const values = valuesAt(times[i]);
		const next = i + 1 < times.length ? valuesAt(times[i + 1]) : values;
		const rests = values.every((v, k) => v === next[k]);
		frames.push({ at: times[i] / clip.length, values, easing: easing ?? (rests ? STRAIGHT : HELD) });
	}
	if (times.at(-1)! < clip.length) frames.push({ ...frames.at(-1)!, at: 1 });
	return { frames, isOwn };
}

/** Frames of a source, as few as its bound allows. Throws a RangeError where it cannot be kept. */
export function fittedFrames(source: Source, bound: number): Frames {
	const { sampler } = fitAsLinear(source, bound);
	const { times, values, size, interpolation } = sampler;
	const seconds = ticksToSeconds(source.end - source.start);
	const easing = interpolation === 'STEP' ? HELD : STRAIGHT;
	const frames = Array.from(times, (time, i): Frame => {
		const own = Array.from(values.subarray(i * size, (i + 1) * size));
		return { at: Math.min(1, time / seconds), values: own, easing };
	});
	const [first, last] = [frames[0], frames.at(-1)!];
	if (first.at > 0) frames.unshift({ ...first, at: 0, easing: HELD });
	if (last.at < 1) frames.push({ ...last, at: 1 });
	return { frames, isOwn: false };
}

/** Shares of a clip that two frames are apart at least: at one place browsers would make one of them. */
export const APART = 1e-7;

/** Frames as they are written: their places and numbers with so many digits. */
export function written(frames: readonly Frame[], placeDigits: number, digits: number): Frame[] {
	let before = -APART;
	return frames.map(({ at, values, easing }) => {
		const place = Math.max(before + APART, Number((100 * at).toFixed(placeDigits)) / 100);
		before = place;
		return { at: Math.min(1, place), values: values.map((v) => Number(v.toFixed(digits)) + 0), easing };
	});
}

const easings = new Map<string, (x: number) => number>();
/** What an easing's text does. */
function easingFunction(text: string): (x: number) => number {
	const known = easings.get(text);
	if (known) return known;
	const read = readCssEasing(text);
	if (!read.ok) throw new Error(`"${text}" is no easing`);
	const end = 1e6;
	const side = { shape: read.value };
	const curve = compileCurve(
		[
			{ t: 0, v: 0, ...side },
			{ t: end, v: 1, ...side },
		],
		{ before: 'hold', after: 'hold' },
		PLAYS_ONCE,
	);
	const ease = (x: number) => (x >= 1 ? 1 : evaluateCurve(curve, x * end));
	easings.set(text, ease);
	return ease;
}

/** Writes what a browser makes of frames at a share of the clip; `mix` is for what it does not mix straight. */
export function evaluateFrames(
	frames: readonly Frame[],
	at: number,
	out: Float64Array,
	mix?: (a: readonly number[], b: readonly number[], u: number, out: Float64Array) => void,
): void {
	let next = 1;
	while (next < frames.length - 1 && frames[next].at <= at) next++;
	const [a, b] = [frames[next - 1], frames[Math.min(next, frames.length - 1)]];
	const u = b.at > a.at ? Math.min(1, Math.max(0, (at - a.at) / (b.at - a.at))) : 1;
	const share = easingFunction(a.easing)(u);
	if (mix) mix(a.values, b.values, share, out);
	else for (let k = 0; k < a.values.length; k++) out[k] = a.values[k] + (b.values[k] - a.values[k]) * share;
}
