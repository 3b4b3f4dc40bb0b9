/** What the lanes draw and how it lies on their canvas. */
import type { RawColumn } from '$lib/acts/take-work.svelte';
import type { FlatCurve } from '$player/curve/flat';
import type { CurveContext } from '$core/curve/handles';
import type { KeySelection } from '$core/edits/keys';
import { playedTicks } from '$player/loop';
import type { Clip, Component, Property } from '$core/document/types';
import type { FormulaRow, LaneRow, Row } from './rows';
import type { ValueRange } from './scale';
import { HUES } from './units';

export interface Palette {
	paper: string;
	sheet: string;
	band: string;
	rule: string;
	ink: string;
	muted: string;
	lake: string;
	rust: string;
	hues: Record<string, string>;
}

export function readPalette(element: Element): Palette {
	const style = getComputedStyle(element);
	const read = (name: string) => style.getPropertyValue(name).trim();
	return {
		paper: read('--paper'),
		sheet: read('--sheet'),
		band: read('--band'),
		rule: read('--rule'),
		ink: read('--ink'),
		muted: read('--muted'),
		lake: read('--lake'),
		rust: read('--rust'),
		hues: Object.fromEntries(Object.entries(HUES).map(([property, name]) => [property, read(name)])),
	};
}

/** A curve of another lane that is drawn in this one too. */
export interface LaidOver {
	name: string;
	property: Property;
	curve: FlatCurve;
}

export interface LanePicture {
	rows: readonly Row[];
	scrollTop: number;
	width: number;
	height: number;
	x: (ticks: number) => number;
	ticksAt: (x: number) => number;
	clip: Clip;
	/** Of the clip, in ticks. */
	length: number;
	/** What a number of a part is counted in, as it is written behind it. */
	unitAt: (place: { part: string; property: Property; component: Component }) => string;
	/** Of the project: keys between frames are drawn as such. */
	frameRate: number;
	/** Where vertical lines go, in ticks. */
	gridLines: readonly number[];
	curve: (channel: string) => FlatCurve | undefined;
	/** The curve that a channel had in the pinned version. */
	pinned: (channel: string) => FlatCurve | undefined;
	/** What the open take has of a channel. */
	raw: (channel: string) => RawColumn | undefined;
	/** Whether a channel's speed is drawn over its value. */
	showsSpeed: (channel: string) => boolean;
	/** What else is drawn in a channel's lane, on the same axis. */
	others: (channel: string) => readonly LaidOver[];
	/** The four numbers of a colour or an orientation at a time. */
	vector: (channel: string, ticks: number, out: Float64Array) => void;
	/** What a formula gives over time; undefined where it cannot be computed. */
	formula: (id: string) => ((ticks: number, round?: number) => number) | undefined;
	formulaRange: (row: FormulaRow) => ValueRange;
	range: (row: LaneRow) => ValueRange;
	/** Whether a lane tells the values between which it goes, at its edge. */
	tellsRange: (id: string) => boolean;
	context: (row: LaneRow) => CurveContext;
	keys: KeySelection;
	isPicked: (id: string) => boolean;
	pickedPart: string | null;
	palette: Palette;
}

/** Pixels after the clip's end that its later rounds cover; none where it plays once. */
export function roundsOf({ clip, length, width, x }: LanePicture): { from: number; to: number } {
	return { from: Math.max(0, x(length)), to: Math.min(width, x(playedTicks(clip))) };
}

/** Pixels of a lane that its clip covers. */
export function extentOf(picture: LanePicture): { first: number; last: number } {
	return { first: Math.max(0, picture.x(0)), last: Math.min(picture.width, picture.x(picture.length)) };
}
