/** What a device says over time, gathered into the samples of a take: its own times, whatever the screen's frames are. */
import { MAX_CLIP_TICKS } from '$core/time';
import type { TakeSamples } from '$core/takes/samples-file';
import { TICKS_PER_SECOND } from '$player/time';

/** A device that moves speaks more often than this; one that is silent for longer stands still. */
const SILENCE_MS = 50;
/** One that speaks seldom is silent for so many times as long as it mostly is, up to a limit. */
const SILENT_TIMES = 4;
const MOST_SILENCE_MS = 400;
/** So shortly before it moves again it still stood where it was. */
const JUST_BEFORE_MS = 8;
/** What is added to a curve follows the curve while the device is silent. */
const ADDED_EVERY_MS = 1000 / 60;

/** How time goes while it is recorded. */
export interface RecordedTime {
	/** When it began, as `performance.now()` says it. */
	began: number;
	/** Ticks of the clip between which it goes; `to` is after `from`. */
	from: number;
	to: number;
	/** Ticks of the clip for a tick of real time. */
	speed: number;
}

interface Moment {
	/** Milliseconds since it began. */
	at: number;
	/** What is added to each base; null where nothing is recorded. */
	offsets: readonly number[] | null;
}

export class DeviceSamples {
	private moments: Moment[] = [];

	constructor(
		private readonly time: RecordedTime,
		/** What each column has without the device, over ticks of the clip. */
		private readonly bases: readonly ((ticks: number) => number)[],
		/** Whether the bases go on moving under what is recorded. */
		private readonly adds: boolean,
	) {}

	/** Milliseconds of a round. */
	private get roundMs(): number {
		const { from, to, speed } = this.time;
		return ((to - from) / TICKS_PER_SECOND / speed) * 1000;
	}

	/** How many moments were told. */
	get count(): number {
		return this.moments.length;
	}

	/** How many rounds have begun at a time. */
	roundAt(time: number): number {
		return Math.max(0, Math.floor((time - this.time.began) / this.roundMs));
	}

	/** A device said something at a time of its own, which is that of `performance.now()`. */
	feed(time: number, offsets: readonly number[] | null): void {
		const last = this.moments.at(-1);
		// Events may come late, never out of order: what comes out of order belongs to the last moment.
		const at = Math.max(time - this.time.began, last?.at ?? 0);
		if (last?.at === at) last.offsets = offsets;
		else this.moments.push({ at, offsets });
	}

	/** All moments of a round, with what stood still between them, up to a time. */
	private roundMoments(round: number, until: number): Moment[] {
		const [start, end] = [round * this.roundMs, Math.min((round + 1) * this.roundMs, until)];
		let before: Moment | undefined;
		const own: Moment[] = [];
		for (const moment of this.moments) {
			if (moment.at <= start) before = moment;
			else if (moment.at <= end) own.push(moment);
		}
		const offsets = before?.offsets ?? own.find((moment) => moment.offsets !== null)?.offsets ?? null;
		const first: Moment = { at: start, offsets: before ? before.offsets : offsets };
		return withStillness([first, ...own], end, this.adds ? ADDED_EVERY_MS : null);
	}

	/** The samples of one round, up to a time; null where nothing was recorded in it. */
	samplesOf(round: number, until: number): TakeSamples | null {
		const { from, to, speed, began } = this.time;
		const start = round * this.roundMs;
		const moments = this.roundMoments(round, until - began);
		const times: number[] = [];
		const kept: Moment[] = [];
		for (const moment of moments) {
			const ticks = from + ((moment.at - start) / 1000) * TICKS_PER_SECOND * speed;
			const t = Math.min(to, MAX_CLIP_TICKS, Math.max(from, Math.round(ticks)));
			if (times.at(-1) === t) {
				// At the end of a stretch that is held its last value counts.
				if (moment.offsets) kept[kept.length - 1] = moment;
			} else {
				times.push(t);
				kept.push(moment);
			}
		}
		if (kept.every(({ offsets }) => offsets === null)) return null;
		const columns = this.bases.map((base, c) =>
			Float32Array.from(kept, ({ offsets }, i) => {
				if (offsets === null) return NaN;
				return base(this.adds ? times[i] : from) + offsets[c];
			}),
		);
		return { times: Uint32Array.from(times), columns };
	}
}

/** How long a device has to be silent to stand still. */
function silenceOf(moments: readonly Moment[]): number {
	const gaps = moments.slice(1).map(({ at }, i) => at - moments[i].at);
	const usual = gaps.sort((a, b) => a - b)[gaps.length >> 1] ?? 0;
	return Math.min(MOST_SILENCE_MS, Math.max(SILENCE_MS, SILENT_TIMES * usual));
}

/** Moments with more between them where a device was silent: it stood where it was. */
function withStillness(moments: readonly Moment[], end: number, every: number | null): Moment[] {
	const out: Moment[] = [];
	const silence = silenceOf(moments);
	moments.forEach((moment, i) => {
		out.push(moment);
		const next = moments[i + 1]?.at ?? end;
		if (every !== null) {
			for (let at = moment.at + every; at < next; at += every) out.push({ ...moment, at });
		} else if (i + 1 < moments.length && next - moment.at > silence) {
			out.push({ ...moment, at: next - JUST_BEFORE_MS });
		}
	});
	const last = out.at(-1)!;
	if (last.at < end) out.push({ ...last, at: end });
	return out;
}
