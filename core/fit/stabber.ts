import { grown } from './grown-array';

/**
 * Lines that stab a row of vertical segments, fed from left to right in O(1) each (amortised). It keeps the two
 * extreme lines: the steepest and the flattest that pass all segments so far. Every line between them passes too.
 * Source: J. O'Rourke, "An on-line algorithm for fitting straight lines between data ranges", CACM 24 (1981).
 */
export class Stabber {
	/** Upper hull of the low ends and lower hull of the high ends, as x, y pairs from `…From` to `…To`. */
	private lows = new Float64Array(128);
	private highs = new Float64Array(128);
	private lowsFrom = 0;
	private lowsTo = 0;
	private highsFrom = 0;
	private highsTo = 0;
	private count = 0;
	/** The steepest line, y = steepAt + steepSlope · (x − steepX); the flattest likewise. */
	private steepX = 0;
	private steepY = 0;
	private steepSlope = 0;
	private flatX = 0;
	private flatY = 0;
	private flatSlope = 0;

	reset(): void {
		this.lowsFrom = this.lowsTo = this.highsFrom = this.highsTo = this.count = 0;
	}

	/** Whether the segments so far and one more, further right, have a line through all. Changes nothing. */
	accepts(x: number, low: number, high: number): boolean {
		if (!(low <= high)) return false;
		if (this.count < 2) return true;
		return low <= this.steepest(x) && high >= this.flattest(x);
	}

	/** Takes up a segment that `accepts` has allowed; `x` grows from call to call. */
	add(x: number, low: number, high: number): void {
		if (this.count === 0) {
			this.pushLow(x, low);
			this.pushHigh(x, high);
		} else if (this.count === 1) {
			this.setSteep(this.lows[0], this.lows[1], x, high);
			this.setFlat(this.highs[0], this.highs[1], x, low);
			this.pushLow(x, low);
			this.pushHigh(x, high);
		} else {
			if (high < this.steepest(x)) this.touchHigh(x, high);
			if (low > this.flattest(x)) this.touchLow(x, low);
			this.pushLow(x, low);
			this.pushHigh(x, high);
		}
		this.count++;
	}

	/** Value of the steepest line at x: the largest that a line can have right of all segments. */
	steepest(x: number): number {
		return this.steepY + this.steepSlope * (x - this.steepX);
	}

	/** Value of the flattest line at x. */
	flattest(x: number): number {
		return this.flatY + this.flatSlope * (x - this.flatX);
	}

	/** A line in the middle of those that pass: value at x = 0 and slope, written into `out`. */
	middle(out: Float64Array): void {
		if (this.count === 0) out.fill(0);
		else if (this.count === 1) {
			out[0] = (this.lows[1] + this.highs[1]) / 2;
			out[1] = 0;
		} else {
			out[0] = (this.steepest(0) + this.flattest(0)) / 2;
			out[1] = (this.steepSlope + this.flatSlope) / 2;
		}
	}

	private setSteep(x0: number, y0: number, x1: number, y1: number): void {
		this.steepX = x0;
		this.steepY = y0;
		this.steepSlope = (y1 - y0) / (x1 - x0);
	}

	private setFlat(x0: number, y0: number, x1: number, y1: number): void {
		this.flatX = x0;
		this.flatY = y0;
		this.flatSlope = (y1 - y0) / (x1 - x0);
	}

	/** The steepest line now ends under a high end: it turns about the hull of the lows. */
	private touchHigh(x: number, y: number): void {
		const { lows } = this;
		let i = this.lowsFrom;
		let slope = (y - lows[2 * i + 1]) / (x - lows[2 * i]);
		for (; i + 1 < this.lowsTo; i++) {
			const next = (y - lows[2 * i + 3]) / (x - lows[2 * i + 2]);
			if (next > slope) break;
			slope = next;
		}
		this.lowsFrom = i;
		this.setSteep(lows[2 * i], lows[2 * i + 1], x, y);
	}

	private touchLow(x: number, y: number): void {
		const { highs } = this;
		let i = this.highsFrom;
		let slope = (y - highs[2 * i + 1]) / (x - highs[2 * i]);
		for (; i + 1 < this.highsTo; i++) {
			const next = (y - highs[2 * i + 3]) / (x - highs[2 * i + 2]);
			if (next < slope) break;
			slope = next;
		}
		this.highsFrom = i;
		this.setFlat(highs[2 * i], highs[2 * i + 1], x, y);
	}

	private pushLow(x: number, y: number): void {
		let { lows, lowsTo: to } = this;
		while (to - this.lowsFrom >= 2) {
			const bx = lows[2 * to - 2];
			const by = lows[2 * to - 1];
			const ax = lows[2 * to - 4];
			const ay = lows[2 * to - 3];
			if ((by - ay) * (x - ax) > (y - ay) * (bx - ax)) break;
			to--;
		}
		if (2 * to + 2 > lows.length) this.lows = lows = grown(lows);
		lows[2 * to] = x;
		lows[2 * to + 1] = y;
		this.lowsTo = to + 1;
	}

	private pushHigh(x: number, y: number): void {
		let { highs, highsTo: to } = this;
		while (to - this.highsFrom >= 2) {
			const bx = highs[2 * to - 2];
			const by = highs[2 * to - 1];
			const ax = highs[2 * to - 4];
			const ay = highs[2 * to - 3];
			if ((by - ay) * (x - ax) < (y - ay) * (bx - ax)) break;
			to--;
		}
		if (2 * to + 2 > highs.length) this.highs = highs = grown(highs);
		highs[2 * to] = x;
		highs[2 * to + 1] = y;
		this.highsTo = to + 1;
	}
}
