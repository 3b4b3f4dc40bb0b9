/** What a rule is: what it looks at, how it finds, how it tells and how it mends. */
import type { FlatCurve } from '../../player/curve/flat';
import type { CompiledClip } from '../clip/compile';
import type { Channel, Clip, Doc } from '../document/types';
import { unitAt } from '../document/units';
import type { Finding, Found } from './finding';

export interface Scene {
	doc: Doc;
	clip: Clip;
	compiled: CompiledClip;
}
/** A channel of numbers that moves something. */
export interface Subject extends Scene {
	channel: Channel;
	curve: FlatCurve;
	/** Range of the channel over the clip; the unit that small and large are measured in. */
	range: number;
}

export interface Mend {
	label: string;
	edit: (doc: Doc, finding: Finding) => Doc;
}

interface Telling {
	id: string;
	/** What is found, in a line. */
	title: string;
	/** Why it matters to somebody who watches. */
	why: string | ((finding: Finding) => string);
	/** What was measured, in words with units. */
	measure: (finding: Finding, doc: Doc) => string;
	/** Edits that put it right, by id. They are given the finding, and work on the document as it is now. */
	mends: Readonly<Record<string, Mend>>;
}

/** A rule that looks at every channel of numbers that moves. */
export interface ChannelRule extends Telling {
	scope: 'channel';
	find: (subject: Subject) => Found[];
}
/** A rule that looks at a clip as a whole. */
export interface ClipRule extends Telling {
	scope: 'clip';
	find: (scene: Scene) => Found[];
}
export type Rule = ChannelRule | ClipRule;

/** Shares of a channel's range below which a finding is not worth telling. */
export const NOTICEABLE = 0.02;
export const SAMPLES = 48;

/** A number in three digits. */
export function short(value: number | string): string {
	return typeof value === 'number' ? String(Number(value.toPrecision(3))) : value;
}

/** A measured fact with the unit of the finding's channel. */
export function withUnit({ facts, channel }: Finding, doc: Doc, name: string): string {
	const own = channel === null ? undefined : doc.channels[channel];
	return short(facts[name]) + (own ? unitAt(doc, own) : '');
}

export function numberOf({ facts }: Finding, name: string): number {
	return Number(facts[name]);
}

/** `3 keys`, `1 key`. */
export function counted(count: number | string, one: string, many: string): string {
	return Number(count) === 1 ? `a ${one}` : `${count} ${many}`;
}

/** Some keys of the finding's channel, as edits take them; none where the channel is gone. */
export function keysOf({ channel }: Finding, ...times: readonly number[]): Map<string, Set<number>> {
	return new Map(channel === null ? [] : [[channel, new Set(times)]]);
}
