/** What of the lanes is seen: zoom, openness, heights. Remembered in the browser, clip by clip. */
import { keep, readKept, readKeptMembers } from '$lib/ui/kept';
import type { Clip } from '$core/document/types';
import { NO_FILTER, type RowFilter } from './row-filter';
import type { ValueRange } from './scale';
import { keepSnap, readSnap, type SnapSettings } from './snap-settings';

export const THIN = 24;
export const NORMAL = 56;
export const TALL = 180;
export const PART_ROW = 26;
/** Pixels of the names before the lanes; where there is little room only these. */
export const HEADER_WIDTH = 266;
export const NARROW_HEADER = 136;
/** Room left of frame 0 and right of the clip's end when it is fitted, in pixels. */
export const MARGIN = 14;

export const RULER_UNITS = ['frames', 'seconds', 'ms'] as const;
export type RulerUnit = (typeof RULER_UNITS)[number];

/** Kept in the browser. */
const RANGES = 'lane-ranges';

interface Remembered {
	from: number;
	ticksPerPixel: number;
	heights: Record<string, number>;
	closed: string[];
	showStill: boolean;
	showSeam?: boolean;
	unit?: RulerUnit;
}

export class LaneView {
	/** Ticks at the left edge of the lanes. */
	from = $state(0);
	ticksPerPixel = $state(1000);
	heights = $state.raw<Readonly<Record<string, number>>>({});
	closed = $state.raw<ReadonlySet<string>>(new Set());
	/** Also show parts that do not move in this clip. */
	showStill = $state(false);
	/** The last and first part of a loop, side by side below the lanes. */
	showSeam = $state(false);
	/** Channels that share one axis, each shown in the lanes of the others. */
	together = $state.raw<readonly string[]>([]);
	/** Lanes that show other values than those their curve has: until the clip is fitted again. */
	values = $state.raw<Readonly<Record<string, ValueRange>>>({});
	filter = $state.raw<RowFilter>(NO_FILTER);
	/** Whether every lane tells the values between which it goes, not only the one under the pointer. */
	tellsRanges = $state(readKept(RANGES) === true);
	/** What the ruler counts in. */
	unit = $state<RulerUnit>('frames');
	/** What drags along time snap to; the same for all clips. */
	snap = $state.raw<SnapSettings>(readSnap());
	/** Pixels of the headers before the lanes. */
	headerWidth = $state(HEADER_WIDTH);
	/** Pixels of the drawn area, without the headers. */
	width = $state(560);
	clipId: string | null = null;

	x(ticks: number): number {
		return (ticks - this.from) / this.ticksPerPixel;
	}

	ticksAt(x: number): number {
		return this.from + x * this.ticksPerPixel;
	}

	setSnap(change: Partial<SnapSettings>): void {
		this.snap = { ...this.snap, ...change };
		keepSnap(this.snap);
	}

	setTellsRanges(all: boolean): void {
		this.tellsRanges = all;
		keep(RANGES, all);
	}

	heightOf(channel: string): number {
		// Lanes that were kept could be thinner once.
		return Math.max(THIN, this.heights[channel] ?? NORMAL);
	}

	setHeight(channel: string, height: number): void {
		this.heights = { ...this.heights, [channel]: Math.round(Math.min(600, Math.max(THIN, height))) };
	}

	/** Thin, normal, tall and round again. */
	cycleHeight(channel: string): void {
		const height = this.heightOf(channel);
		this.setHeight(channel, height < NORMAL ? NORMAL : height < TALL ? TALL : THIN);
	}

	toggleOpen(part: string): void {
		const closed = new Set(this.closed);
		if (!closed.delete(part)) closed.add(part);
		this.closed = closed;
	}

	/** Shows values of a lane `factor` times as wide about one of them, within reason. */
	zoomValue(channel: string, { low, high }: ValueRange, factor: number, about: number): void {
		const span = Math.max(high - low, 1e-6);
		const own = Math.min(1e6, Math.max(1e-6, span * factor)) / span;
		this.values = {
			...this.values,
			[channel]: { low: about - (about - low) * own, high: about + (high - about) * own },
		};
	}

	/** Fits a stretch of time, and every lane the values of its curve. */
	fit(from: number, to: number): void {
		this.values = {};
		const room = Math.max(40, this.width - 2 * MARGIN);
		this.ticksPerPixel = Math.max(1, (to - from) / room);
		this.from = from - MARGIN * this.ticksPerPixel;
	}

	zoom(factor: number, x: number, clip: Clip): void {
		const at = this.ticksAt(x);
		const widest = (2 * clip.length) / Math.max(100, this.width);
		this.ticksPerPixel = Math.min(Math.max(this.ticksPerPixel * factor, 5), Math.max(widest, 50));
		this.from = at - x * this.ticksPerPixel;
		this.keepInSight(clip);
	}

	pan(pixels: number, clip: Clip): void {
		this.from += pixels * this.ticksPerPixel;
		this.keepInSight(clip);
	}

	private keepInSight(clip: Clip): void {
		const lowest = -MARGIN * this.ticksPerPixel;
		const highest = Math.max(lowest, clip.length - (this.width - 60) * this.ticksPerPixel);
		this.from = Math.min(Math.max(this.from, lowest), highest);
	}

	/** Takes up what was remembered of a clip, or fits it; where nothing moves yet all parts stay in sight. */
	open(clip: Clip, isStill: boolean): void {
		if (this.clipId === clip.id) return;
		this.clipId = clip.id;
		const kept = this.read(clip.id);
		this.heights = kept?.heights ?? {};
		this.closed = new Set(kept?.closed ?? []);
		this.showStill = kept?.showStill ?? isStill;
		this.showSeam = kept?.showSeam ?? false;
		this.unit = kept?.unit ?? this.unit;
		this.filter = NO_FILTER;
		this.together = [];
		this.values = {};
		if (kept) {
			this.from = kept.from;
			this.ticksPerPixel = kept.ticksPerPixel;
		} else this.fit(0, clip.length);
	}

	remember(): void {
		if (this.clipId === null) return;
		const { from, ticksPerPixel, heights, showStill, showSeam, unit } = this;
		const kept: Remembered = {
			from,
			ticksPerPixel,
			heights,
			closed: [...this.closed],
			showStill,
			showSeam,
			unit,
		};
		keep(`lanes-${this.clipId}`, kept);
	}

	private read(clip: string): Remembered | null {
		const kept = readKeptMembers(`lanes-${clip}`);
		return typeof kept.from === 'number' ? (kept as unknown as Remembered) : null;
	}
}
