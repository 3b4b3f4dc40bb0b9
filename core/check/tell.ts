/** Findings in words, and their mends. */
import type { Doc } from '../document/types';
import { channelLabel } from '../document/labels';
import type { Finding } from './finding';
import { ruleOf } from './rules';

export interface Told {
	title: string;
	measure: string;
	why: string;
	mends: { id: string; label: string }[];
}

export function tellFinding(doc: Doc, finding: Finding): Told {
	const { title, why, measure, mends } = ruleOf(finding);
	return {
		title,
		measure: measure(finding, doc),
		why: typeof why === 'string' ? why : why(finding),
		mends: finding.mends.map((id) => ({ id, label: mends[id].label })),
	};
}

/** Where a finding is, in words: clip / part / channel. */
export function placeOf(doc: Doc, { clip, channel }: Finding): string {
	const own = channel === null ? undefined : (doc.channels[channel] ?? doc.formulas[channel]);
	const name = doc.clips[clip]?.name ?? clip;
	if (!own) return name;
	const part = doc.parts[own.part];
	return `${name} / ${part.name} / ${channelLabel(own.property, own.component, part)}`;
}

/**
 * The edit that a finding proposes; null where what it is about is gone since. It is made on the document as it is now,
 * without looking for anything again.
 */
export function mendFinding(doc: Doc, finding: Finding, mend: string): Doc | null {
	const { clip, channel } = finding;
	if (!doc.clips[clip] || (channel !== null && !doc.channels[channel] && !doc.formulas[channel])) return null;
	return ruleOf(finding).mends[mend].edit(doc, finding);
}
