/** What the checks look at, and how they report. */
import type { CompiledClip } from '../clip/compile';
import type { CompiledCurve } from '../curve/compile';
import type { Channel, Clip, Doc, Property } from '../document/types';
import type { Finding, Mend, Rule, Severity } from './finding';

export interface Scene {
	doc: Doc;
	clip: Clip;
	compiled: CompiledClip;
	found: Finding[];
}
export interface Subject extends Scene {
	channel: Channel;
	curve: CompiledCurve;
	/** Range of the channel over the clip; the unit that small and large are measured in. */
	range: number;
}

/** Shares of a channel's range below which a finding is not worth telling. */
export const NOTICEABLE = 0.02;
export const SAMPLES = 48;

export function number(value: number): string {
	return String(Number(value.toPrecision(3)));
}

export function unitOfProperty(doc: Doc, property: Property): string {
	if (property === 'translation') return doc.project.space === 'world' ? ' m' : ' px';
	return property === 'rotation' ? '°' : '';
}

export function unitOf({ channel, doc }: Subject): string {
	return unitOfProperty(doc, channel.property);
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
