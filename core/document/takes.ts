/** Takes: recordings, raw, kept beside the keys that were made of them. */
import type { Component, Property } from './types';

/** What one column of a take is of. */
export interface TakeColumn {
	part: string;
	property: Property;
	component: Component;
	/** Of a colour, which of its red, green, blue and alpha. */
	index?: number;
}

/** What tells two columns of a take apart. */
export function columnName({ part, property, component, index }: TakeColumn): string {
	return [part, property, component, ...(index === undefined ? [] : [index])].join(' ');
}

export const SMOOTHINGS = ['none', 'even', 'steady'] as const;
export type Smoothing = (typeof SMOOTHINGS)[number];

/** How keys are made of a take. Shares are of what each column goes over. */
export interface Cleaning {
	/** Gaps that last no longer than so many ticks are bridged; none is where it is absent or 0. */
	bridge?: number;
	/** Single values that stand out become what those near them say. */
	spikes: boolean;
	/** `even` over a span of time, `steady` strongly where it stands still and hardly where it is fast. */
	smoothing: Smoothing;
	/** Ticks that even smoothing looks at. */
	span: number;
	/** 0 hardly to 1 strongly. */
	steadiness: number;
	/** Smoothing changes no value by more than this share. */
	most: number;
	/** What stays within this share for a while stands still: it becomes a hold. 0 finds none. */
	stillness: number;
	/** Keys are first put where it turns, and stand level there. */
	turns: boolean;
	/** Keys stay within this share of what was cleaned. */
	tolerance: number;
}

export interface Take {
	type: 'take';
	id: string;
	name: string;
	order: string;
	clip: string;
	/** SHA-256 of the samples, which the project keeps as a file. */
	asset: string;
	/** How many moments were recorded. */
	samples: number;
	/** Ticks of the clip between which it was recorded. */
	from: number;
	to: number;
	columns: TakeColumn[];
	cleaning: Cleaning;
}

export const MOST_TAKE_COLUMNS = 400;

export const CLEANING: Cleaning = {
	spikes: true,
	smoothing: 'steady',
	span: 7200,
	steadiness: 0.3,
	most: 0.02,
	stillness: 0.01,
	turns: true,
	tolerance: 0.02,
};
