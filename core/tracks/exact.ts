/** Tracks that a sampler says exactly: holds, straight spans and cubic polynomials in time. */
import { evaluateCurve } from '../../player/curve/evaluate';
import { SPAN_CUBIC, SPAN_HOLD, SPAN_LINEAR, STRIDE } from '../../player/curve/flat';
import { TICKS_PER_SECOND, ticksToSeconds } from '../../player/time';
import { float32Before, type Interpolation, type Sampler } from '../fit/sampler';
import { JUST_BEFORE, type Source } from '../fit/source';
import type { Component, Track } from './track';

type Stretch = 'constant' | 'hold' | 'linear' | 'cubic' | 'other';

/** What a component does between two neighbouring ticks of the merged list. */
function formOf(component: Component, from: number, to: number): Stretch {
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

/** Slope of a component on one side of a tick, in the format's units a second. */
function slopeBeside(component: Component, from: number, to: number, atEnd: boolean): number {
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

/** What all spans of a track can be said by, or null where no sampler says them exactly. */
function interpolationOf({ source, components }: Track, forms: readonly Stretch[]): Interpolation | null {
	// An orientation has no components: its turns are fitted.
	if (components.length === 0 || forms.includes('other')) return null;
	const cubic = forms.includes('cubic');
	if (!cubic && !forms.includes('linear')) return 'STEP';
	const turning = components.filter((c) => c.curve && c.curve.count > 1).length;
	if (source.size === 4 && (cubic || turning > 1)) return null;
	return cubic ? 'CUBICSPLINE' : 'LINEAR';
}

/** Collects the keys of a sampler, quaternions on the side of those before them. */
class KeyRows {
	readonly times: number[] = [];
	readonly values: number[] = [];
	private readonly value: Float64Array;

	constructor(
		private readonly source: Source,
		private readonly interpolation: Interpolation,
	) {
		this.value = new Float64Array(source.size);
	}

	/** A key at a time in seconds with the value at a tick; times that float32 cannot tell apart are one. */
	push(time: number, tick: number, slopeIn: readonly number[], slopeOut: readonly number[]): void {
		const { times, values, value, source } = this;
		const rounded = Math.fround(time);
		if (times.length > 0 && rounded <= times.at(-1)!) return;
		source.evaluate(tick, value);
		if (source.size === 4 && times.length > 0) {
			const before = values.slice(-4);
			if (before.reduce((sum, v, k) => sum + v * value[k], 0) < 0)
				for (let k = 0; k < 4; k++) value[k] = -value[k];
		}
		times.push(rounded);
		if (this.interpolation === 'CUBICSPLINE') values.push(...slopeIn, ...value, ...slopeOut);
		else values.push(...value);
	}
}

/** Ticks within a straight turn at which it must be divided, so that a reader of quaternions goes the whole way. */
function turnStops({ components }: Track, from: number, to: number): number[] {
	const turn = components.reduce((sum, { curve }) => {
		if (!curve) return sum;
		return sum + Math.abs(evaluateCurve(curve, to - JUST_BEFORE) - evaluateCurve(curve, from));
	}, 0);
	const pieces = Math.max(1, Math.ceil(turn / EXACT_TURN));
	return Array.from({ length: pieces - 1 }, (_, j) => from + ((to - from) * (j + 1)) / pieces);
}

/**
 * The sampler that is exactly the track, where there is one: STEP for holds alone, LINEAR for straight spans (and
 * turns about one axis), CUBICSPLINE for cubic polynomials. Null where a fit is needed.
 */
export function exactSampler(track: Track): Sampler | null {
	const { source, components } = track;
	const { size, end } = source;
	const ticks = [0, ...source.pieces.map((p) => p.t).filter((t) => t > 0 && t < end), end];
	const forms = ticks.slice(0, -1).map((from, i) => components.map((c) => formOf(c, from, ticks[i + 1])));
	const all = forms.flat();
	const interpolation = interpolationOf(track, all);
	if (interpolation === null) return null;
	const rows = new KeyRows(source, interpolation);
	const still = [0, 0, 0];
	const slopes = (i: number, atEnd: boolean) =>
		i < 0 || i >= forms.length ? still : components.map((c) => slopeBeside(c, ticks[i], ticks[i + 1], atEnd));
	ticks.forEach((tick, i) => {
		const seconds = ticksToSeconds(tick);
		const jumps = interpolation !== 'STEP' && i > 0 && forms[i - 1].includes('hold');
		if (jumps) rows.push(float32Before(Math.fround(seconds)), tick - JUST_BEFORE, slopes(i - 1, true), still);
		else if (size === 4 && interpolation === 'LINEAR' && i > 0)
			for (const stop of turnStops(track, ticks[i - 1], tick)) {
				const time = Math.fround(ticksToSeconds(stop));
				rows.push(time, time * TICKS_PER_SECOND, still, still);
			}
		rows.push(seconds, tick, jumps ? still : slopes(i - 1, true), slopes(i, false));
	});
	const isConstant = all.every((form) => form === 'constant');
	return {
		interpolation,
		size,
		times: Float32Array.from(isConstant ? [0] : rows.times),
		values: Float32Array.from(isConstant ? rows.values.slice(0, size) : rows.values),
	};
}
