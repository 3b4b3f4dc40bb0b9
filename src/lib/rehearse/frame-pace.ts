/** When frames come: as the screen has them, or as on a slow machine. */

export const PACES = {
	screen: 'as they come',
	thirty: '30 a second',
	fifteen: '15 a second',
	hitches: 'with hitches',
} as const;
export type Pace = keyof typeof PACES;

const RATES = { thirty: 30, fifteen: 15 };

/** Share of frames after which there is a hitch, and its seconds at most. */
const HITCHES = 0.04;
const LONGEST = 0.35;

export class FramePace {
	private held = 0;
	private hitch = 0;

	constructor(private readonly random: () => number = Math.random) {}

	/** Seconds that a frame is to show after a frame of the screen, or null where none is shown yet. */
	take(pace: Pace, seconds: number): number | null {
		this.held += seconds;
		if (pace === 'screen') return this.release();
		if (pace === 'hitches') {
			if (this.held < this.hitch) return null;
			this.hitch = this.random() < HITCHES ? LONGEST * this.random() : 0;
			return this.release();
		}
		// A little before its time is nearer than a whole frame after.
		return this.held >= 1 / RATES[pace] - 0.004 ? this.release() : null;
	}

	private release(): number {
		const { held } = this;
		this.held = 0;
		return held;
	}
}
