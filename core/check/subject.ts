/** What the checks look at, and how they report. */
import type { CompiledClip } from '../clip/compile';
import type { FlatCurve } from '../../player/curve/flat';
import type { Channel, Clip, Doc } from '../document/types';
import { unitOf } from '../document/units';
import type { Finding, Mend, Rule, Severity } from './finding';

export interface Scene {
	doc: Doc;
	clip: Clip;
	compiled: CompiledClip;
	found: Finding[];
}
export interface Subject extends Scene {
	channel: Channel;
	curve: FlatCurve;
	/** Range of the channel over the clip; the unit that small and large are measured in. */
	range: number;
}

/** Shares of a channel's range below which a finding is not worth telling. */
export const NOTICEABLE = 0.02;
export const SAMPLES = 48;

export function number(value: number): string {
	return String(Number(value.toPrecision(3)));
}

/** The unit of the channel that is looked at. */
export function unitHere({ channel, doc }: Subject): string {
	return unitOf(channel.property, doc.project.space);
}

export function report(
	subject: Subject,
	rule: Rule,
	severity: Severity,
	t: number,
	measure: string,
	why: string,
	...mends: Mend[]
): void {
	subject.found.push({
		rule,
		severity,
		clip: subject.clip.id,
		channel: subject.channel.id,
		t,
		measure,
		why,
		mends,
	});
}

export function selectionOf(channel: Channel, ...times: number[]): Map<string, Set<number>> {
	return new Map([[channel.id, new Set(times)]]);
}
