/**
 * Best uniform approximation of samples by cubics that start at a given value: p(τ) = start + τ·q(τ), q quadratic, τ
 * the time since the start. Each sample has its own room, and the largest error over its room is made least.
 * Source: the exchange method of Remez on a finite set of points (E. Ya. Remez, 1934); its bounds after
 * C. de la Vallée Poussin (1910). τ, τ², τ³ over any positive weights are a Haar system for τ > 0, so that the best
 * one alternates at four points.
 */
import { grown } from './grown-array';

const POINTS = 4;
const MOST_ROUNDS = 16;
/** Samples that there is room for before it has to grow. */
const FIRST_ROOM = 192;
/** Where the errors of a cubic that starts at a given value are about largest, as shares of the way. */
const FIRST_POINTS = [0.12, 0.45, 0.8, 1];

export class CubicFromPoint {
	/** Largest error over room of the last search that succeeded, or a bound from below of one that did not. */
	ratio = 0;
	/** q in Newton's form about three times: c0 + (τ − x0)(c1 + (τ − x1)·c2). */
	private c0 = 0;
	private c1 = 0;
	private c2 = 0;
	private x0 = 0;
	private x1 = 0;

	private taus = new Float64Array(FIRST_ROOM);
	/** (value − start) / τ, and τ / room, at each sample after the start. */
	private slopes = new Float64Array(FIRST_ROOM);
	private weights = new Float64Array(FIRST_ROOM);
	private count = 0;
	private start = 0;
	private readonly chosen = new Int32Array(POINTS);

	/** Forgets all samples; `start` is the value at τ = 0. */
	begin(start: number): void {
		this.start = start;
		this.count = 0;
	}

	/** Takes up the next sample: τ > 0 grows from call to call, and so does what is known. */
	add(tau: number, value: number, room: number): void {
		const at = this.count++;
		if (at >= this.taus.length) this.grow();
		this.taus[at] = tau;
		this.slopes[at] = (value - this.start) / tau;
		this.weights[at] = tau / room;
	}

	/**
	 * Looks for a cubic within the room of the first `count` samples, where the last of them has the room `lastRoom`.
	 * Gives whether there is one; `ratio` tells how near it was, also of a failure.
	 */
	search(count: number, lastRoom: number): boolean {
		const { taus, weights, slopes } = this;
		const last = count - 1;
		if (count < POINTS) {
			this.through(0, Math.min(1, last), Math.min(2, last), slopes, null, 0);
			this.ratio = 0;
			return true;
		}
		const kept = weights[last];
		weights[last] = taus[last] / lastRoom;
		const found = this.exchange(count);
		weights[last] = kept;
		return found;
	}

	/** Value and slope of the cubic found, at τ. */
	value(tau: number): number {
		return this.start + tau * (this.c0 + (tau - this.x0) * (this.c1 + (tau - this.x1) * this.c2));
	}

	slope(tau: number): number {
		const { c0, c1, c2, x0, x1 } = this;
		const q = c0 + (tau - x0) * (c1 + (tau - x1) * c2);
		return q + tau * (c1 + c2 * (2 * tau - x0 - x1));
	}

	private exchange(count: number): boolean {
		const { chosen, taus, slopes, weights } = this;
		for (let p = 0; p < POINTS; p++)
			chosen[p] = Math.max(p, Math.min(count - POINTS + p, Math.round(FIRST_POINTS[p] * (count - 1))));
		for (let p = 1; p < POINTS; p++) if (chosen[p] <= chosen[p - 1]) chosen[p] = chosen[p - 1] + 1;
		for (let round = 0; round < MOST_ROUNDS; round++) {
			const levelled = Math.abs(this.level());
			// No cubic errs less than one that alternates at four points.
			if (levelled > 1) {
				this.ratio = levelled;
				return false;
			}
			const { c0, c1, c2, x0, x1 } = this;
			let worst = 0;
			let worstAt = 0;
			for (let i = 0; i < count; i++) {
				const tau = taus[i];
				const e = Math.abs((slopes[i] - c0 - (tau - x0) * (c1 + (tau - x1) * c2)) * weights[i]);
				if (e > worst) {
					worst = e;
					worstAt = i;
				}
			}
			if (worst <= 1) {
				this.ratio = worst;
				return true;
			}
			if (worst <= levelled * (1 + 1e-6) || !this.replace(worstAt)) {
				this.ratio = worst;
				return false;
			}
		}
		this.ratio = 1.01;
		return false;
	}

	private errorAt(i: number): number {
		const tau = this.taus[i];
		return (
			(this.slopes[i] - this.c0 - (tau - this.x0) * (this.c1 + (tau - this.x1) * this.c2)) * this.weights[i]
		);
	}

	/** The quadratic whose errors at the four chosen points alternate and are alike; gives that error. */
	private level(): number {
		const { chosen, taus, slopes, weights } = this;
		// By index: taken apart as a list, a typed array costs an iterator each time.
		const i = chosen[0];
		const j = chosen[1];
		const k = chosen[2];
		const l = chosen[3];
		const [a, b, c, d] = [taus[i], taus[j], taus[k], taus[l]];
		// The third divided difference of what a quadratic meets is 0.
		const wa = 1 / ((a - b) * (a - c) * (a - d));
		const wb = 1 / ((b - a) * (b - c) * (b - d));
		const wc = 1 / ((c - a) * (c - b) * (c - d));
		const wd = 1 / ((d - a) * (d - b) * (d - c));
		const error =
			(slopes[i] * wa + slopes[j] * wb + slopes[k] * wc + slopes[l] * wd) /
			(wa / weights[i] - wb / weights[j] + wc / weights[k] - wd / weights[l]);
		this.through(i, j, k, slopes, weights, error);
		return error;
	}

	/**
	 * The quadratic through three samples, each moved by `error` over its weight in turn up and down where there are
	 * weights. Where two or three of the samples are the same one, a line or a constant.
	 */
	private through(
		i: number,
		j: number,
		k: number,
		slopes: Float64Array,
		weights: Float64Array | null,
		error: number,
	): void {
		const { taus } = this;
		const [a, b, c] = [taus[i], taus[j], taus[k]];
		let [ya, yb, yc] = [slopes[i], slopes[j], slopes[k]];
		if (weights) {
			ya -= error / weights[i];
			yb += error / weights[j];
			yc -= error / weights[k];
		}
		const ab = b > a ? (yb - ya) / (b - a) : 0;
		const bc = c > b ? (yc - yb) / (c - b) : ab;
		this.x0 = a;
		this.x1 = b;
		this.c0 = ya;
		this.c1 = ab;
		this.c2 = c > b && b > a ? (bc - ab) / (c - a) : 0;
	}

	/** Puts the worst sample in the place of a chosen one, so that errors go on alternating. */
	private replace(worst: number): boolean {
		const { chosen } = this;
		let after = 0;
		while (after < POINTS && chosen[after] < worst) after++;
		if (after < POINTS && chosen[after] === worst) return false;
		const up = this.errorAt(worst) > 0;
		const sameAs = (p: number) => this.errorAt(chosen[p]) > 0 === up;
		if (after === 0) {
			if (!sameAs(0)) chosen.copyWithin(1, 0, POINTS - 1);
			chosen[0] = worst;
		} else if (after === POINTS) {
			if (!sameAs(POINTS - 1)) chosen.copyWithin(0, 1);
			chosen[POINTS - 1] = worst;
		} else chosen[sameAs(after) ? after : after - 1] = worst;
		return true;
	}

	private grow(): void {
		this.taus = grown(this.taus);
		this.slopes = grown(this.slopes);
		this.weights = grown(this.weights);
	}
}
