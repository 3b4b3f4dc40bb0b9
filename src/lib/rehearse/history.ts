/** What charts show of the last seconds: weights of clips, one number with its speed, switches, cues. */

export interface Moment {
	/** Seconds. */
	t: number;
	/** How much each clip counts, by its place and name; those that do not play are not in it. */
	weights: ReadonlyMap<string, number>;
	value: number | null;
}
export interface Mark {
	t: number;
	kind: 'cue' | 'switch' | 'pop';
	text: string;
}

/** Seconds that are kept. */
export const KEPT = 10;
/** Seconds that a number stands before it is told anew. */
const READ = 0.12;
/** A jump of less than this share of the range that was seen is none. */
const NOTICEABLE = 0.02;

export class History {
	readonly moments: Moment[] = [];
	readonly marks: Mark[] = [];
	private words: { t: number; value: string; speed: string } | null = null;
	/** Clips that played within the time kept, in the order in which they came, and when they did last. */
	private readonly seen = new Map<string, number>();
	get names(): string[] {
		return [...this.seen.keys()];
	}

	/** Notes a picture: speeds come from one to the next. */
	note(moment: Moment): void {
		const { moments, seen } = this;
		const last = moments.at(-1);
		// Time only goes on; a picture of the same moment takes the place of the one before.
		if (last && moment.t <= last.t) moments.pop();
		this.findPop(moment);
		moments.push(moment);
		const first = moment.t - KEPT;
		for (const name of moment.weights.keys()) seen.set(name, moment.t);
		for (const [name, t] of seen) if (t < first) seen.delete(name);
		while (moments.length > 0 && moments[0].t < first) moments.shift();
		while (this.marks.length > 0 && this.marks[0].t < first) this.marks.shift();
	}

	mark(mark: Mark): void {
		this.marks.push(mark);
	}

	/** Another number is looked at. */
	forgetValues(): void {
		this.words = null;
		this.moments.forEach((moment, i) => (this.moments[i] = { ...moment, value: null }));
	}

	clear(): void {
		this.moments.length = this.marks.length = 0;
		this.seen.clear();
		this.words = null;
	}

	/** Lowest and highest value that was seen; null where none was. */
	range(): { low: number; high: number } | null {
		let [low, high] = [Infinity, -Infinity];
		for (const { value } of this.moments) {
			if (value === null) continue;
			low = Math.min(low, value);
			high = Math.max(high, value);
		}
		return low <= high ? { low, high } : null;
	}

	/** The value's change a second at a place of the list, from the picture before it. */
	speedAt(i: number): number | null {
		const [before, now] = [this.moments[i - 1], this.moments[i]];
		if (!before || before.value === null || now.value === null || now.t <= before.t) return null;
		return (now.value - before.value) / (now.t - before.t);
	}

	/** Value and speed in words: not more often than they can be read. */
	told(word: (value: number) => string): { value: string; speed: string } {
		const now = this.moments.at(-1);
		if (!now || now.value === null) return { value: '', speed: '' };
		if (this.words && now.t >= this.words.t && now.t < this.words.t + READ) return this.words;
		const speed = this.speedAt(this.moments.length - 1) ?? 0;
		this.words = { t: now.t, value: word(now.value), speed: `${word(speed)}/s` };
		return this.words;
	}

	/** Where a clip has taken over since the last picture, a value that is not where its speed would have led. */
	private findPop(moment: Moment): void {
		const { moments } = this;
		const last = moments.at(-1);
		if (!last || last.value === null || moment.value === null) return;
		const isSwitch = [...moment.weights.keys()].some((name) => !last.weights.has(name));
		const speed = this.speedAt(moments.length - 1);
		const range = this.range();
		if (!isSwitch || speed === null || !range) return;
		const jump = Math.abs(moment.value - last.value - speed * (moment.t - last.t));
		if (jump > NOTICEABLE * Math.max(range.high - range.low, 1e-9))
			this.mark({ t: moment.t, kind: 'pop', text: `pop ${Number(jump.toPrecision(2))}` });
	}
}
