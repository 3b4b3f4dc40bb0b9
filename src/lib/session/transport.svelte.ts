/** The playhead: where it stands, and how it moves while playing. */
import type { Clip } from '$core/document/types';
import { localTime, playedTicks } from '$player/loop';
import { frameToTicks, snapToFrame, ticksToFrame } from '$core/time';
import { TICKS_PER_SECOND } from '$player/time';
import { cancelFrame, nextTick } from '$lib/ui/frames';

const place = { local: 0, round: 0 };

export class Transport {
	/** Ticks since the clip's start; grows over rounds while a looping clip plays. */
	ticks = $state(0);
	playing = $state(false);
	/** Preview speed: 1 is the clip's own. Never part of the clip. */
	speed = $state(1);
	/** Ticks between which playing goes round; null plays the clip as it is. A matter of looking, not of the clip. */
	range = $state.raw<{ from: number; to: number } | null>(null);
	/** Pictures a second as measured while playing. */
	measuredRate = $state(0);

	private lastTime = 0;
	/** When it began to play from where it stood, as `performance.now()` says it. */
	startedAt = 0;

	/** Whether pausing rests on a whole frame, where keys stand; else exactly where the playhead was. */
	restsOnFrames = $state(true);

	constructor(
		private readonly clip: () => Clip | null,
		private readonly frameRate: () => number,
	) {}

	/** Where the playhead stands on the ruler: within the clip. At rest the end is the end, not the next start. */
	get local(): number {
		const clip = this.clip();
		if (!clip) return 0;
		if (!this.playing) return Math.min(this.ticks, clip.length);
		localTime(clip, this.ticks, place);
		return place.local;
	}

	seek(ticks: number): void {
		const length = this.clip()?.length ?? 0;
		this.ticks = Math.min(Math.max(0, Math.round(ticks)), length);
	}

	/** Plays between two ticks only; the order does not matter, and nothing between them takes the range away. */
	setRange(a: number, b: number): void {
		const length = this.clip()?.length ?? 0;
		const from = Math.max(0, Math.min(a, b));
		const to = Math.min(length, Math.max(a, b));
		this.range = to > from ? { from, to } : null;
	}

	stepFrames(frames: number, frameRate: number): void {
		this.stop();
		this.seek(frameToTicks(Math.round(ticksToFrame(this.local, frameRate)) + frames, frameRate));
	}

	toggle(): void {
		if (this.playing) this.stop();
		else this.play();
	}

	play(fromStart = false): void {
		const clip = this.clip();
		if (!clip) return;
		const { range } = this;
		const at = this.local;
		if (range) this.ticks = fromStart || at < range.from || at >= range.to ? range.from : at;
		else this.ticks = fromStart || this.ticks >= playedTicks(clip) ? 0 : at;
		if (this.playing) return;
		this.playing = true;
		this.lastTime = this.startedAt = performance.now();
		nextTick(this.advance);
	}

	stop(): void {
		if (!this.playing) return;
		cancelFrame(this.advance);
		const at = this.local;
		this.playing = false;
		this.ticks = this.resting(at);
	}

	/** Where a playhead that stops comes to rest; the end of a clip is a place of its own. */
	private resting(at: number): number {
		const length = this.clip()?.length ?? 0;
		if (!this.restsOnFrames || at >= length) return Math.round(at);
		return Math.min(length, snapToFrame(at, this.frameRate()));
	}

	private readonly advance = (time: number): void => {
		const clip = this.clip();
		if (!clip) return this.stop();
		const elapsed = Math.max(0, time - this.lastTime);
		// A frame's time may be before play was pressed: nothing has gone by then, and nothing is counted twice.
		this.lastTime = Math.max(this.lastTime, time);
		if (elapsed > 0) this.measuredRate = 0.9 * this.measuredRate + 0.1 * (1000 / elapsed);
		const next = this.ticks + (elapsed / 1000) * TICKS_PER_SECOND * this.speed;
		const { range } = this;
		if (range && next >= range.to) {
			this.ticks = range.from + ((next - range.to) % (range.to - range.from));
			nextTick(this.advance);
			return;
		}
		const end = playedTicks(clip);
		if (next >= end) {
			this.ticks = end;
			this.stop();
			return;
		}
		this.ticks = next;
		nextTick(this.advance);
	};
}
