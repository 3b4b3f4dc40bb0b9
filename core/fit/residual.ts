/** How far a float32 reader of a sampler is off its source, at any time. */
import { DEGREES } from '../../player/maths/quaternion';
import { TICKS_PER_SECOND, ticksToSeconds } from '../../player/time';
import { sampleAt, type Sampler } from './sampler';
import { distance, rotates, type Source } from './source';

/** A source is vertical where a step of float32 time changes it by this share of the bound. */
const UNFOLLOWABLE = 0.5;

export class Residual {
	readonly turns: boolean;
	private readonly out: Float32Array;
	private readonly shown: Float64Array;
	private readonly truth: Float64Array;
	private readonly early: Float64Array;
	private readonly late: Float64Array;
	private hint = 0;

	constructor(
		private readonly source: Source,
		private readonly sampler: Sampler,
	) {
		const { size } = source;
		this.turns = rotates(source);
		this.out = new Float32Array(size);
		[this.shown, this.truth, this.early, this.late] = Array.from({ length: 4 }, () => new Float64Array(size));
	}

	/** The error at some seconds, in the path's units (degrees for rotations). */
	at(seconds: number): number {
		const { source, out, shown, truth } = this;
		this.hint = sampleAt(this.sampler, seconds, out, this.hint);
		this.read(seconds * TICKS_PER_SECOND, truth);
		// Compared in arrays of one kind, which is what makes the comparison fast.
		for (let k = 0; k < shown.length; k++) shown[k] = out[k];
		return distance(source, shown, truth);
	}

	/** The error that `at` looked at last by components, `into` an array from an index on. */
	write(into: Float64Array, from: number): void {
		const { shown, truth } = this;
		let dot = 0;
		if (this.turns) for (let k = 0; k < 4; k++) dot += shown[k] * truth[k];
		// q and −q turn alike.
		const sign = dot < 0 ? -1 : 1;
		for (let k = 0; k < shown.length; k++) into[from + k] = sign * shown[k] - truth[k];
	}

	/** How much errors bend about the middle one of three that were written one after the other. */
	bend(errors: Float64Array, middle: number): number {
		const { length } = this.shown;
		let sum = 0;
		let most = 0;
		for (let at = middle; at < middle + length; at++) {
			const bend = errors[at - length] - 2 * errors[at] + errors[at + length];
			sum += bend * bend;
			most = Math.max(most, Math.abs(bend));
		}
		// A rotation turns by twice the angle that its quaternion moves by.
		return this.turns ? 2 * DEGREES * Math.sqrt(sum) : most;
	}

	/** An error over a bound, less what no key could follow: only where a step of time is worth most of the bound. */
	resolvable(seconds: number, measured: number, bound: number): number {
		const blur = this.withinAStep(seconds);
		return blur > UNFOLLOWABLE * bound ? Math.max(0, measured - blur) : measured;
	}

	/** How much the source itself changes within a step of float32 time: at a vertical tangent no key can follow. */
	private withinAStep(seconds: number): number {
		const { source, early, truth, late } = this;
		const ticks = seconds * TICKS_PER_SECOND;
		const step = 2 ** -23 * ticks;
		this.read(ticks - step, early);
		this.read(ticks, truth);
		this.read(ticks + step, late);
		// A cusp rises and falls within the step: its two sides are alike, and its tip is far from both.
		return Math.max(
			distance(source, early, late),
			distance(source, early, truth),
			distance(source, truth, late),
		);
	}

	private read(ticks: number, into: Float64Array): void {
		const { source } = this;
		source.evaluate(Math.min(source.end, Math.max(source.start, ticks)), into);
	}
}

/** Around a jump readers may show either side, within a few steps of float32. */
export function jumpWindows(source: Source): { from: number; to: number }[] {
	return source.pieces
		.filter((piece) => piece.jump)
		.map((piece) => {
			const seconds = ticksToSeconds(piece.t);
			const reach = 4 * 2 ** -24 * Math.max(1, seconds);
			return { from: seconds - reach, to: seconds + reach };
		});
}
