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

/** Findings of one rule: told one by one, or as a group where there are many. */
export interface FindingGroup {
	title: string;
	findings: Finding[];
	isMany: boolean;
	/** What mends them all. */
	mends: { id: string; label: string }[];
}

/** From so many on, findings of one rule are told together. */
const MANY = 3;

/** Findings in groups of one rule each, in the order of the first of each. */
export function groupFindings(doc: Doc, findings: readonly Finding[]): FindingGroup[] {
	const byRule = new Map<string, Finding[]>();
	for (const finding of findings) byRule.set(finding.rule, [...(byRule.get(finding.rule) ?? []), finding]);
	return [...byRule.values()].map((own) => {
		const { title, mends } = tellFinding(doc, own[0]);
		const shared = mends.filter(({ id }) => own.every((finding) => finding.mends.includes(id)));
		return { title, findings: own, isMany: own.length >= MANY, mends: shared };
	});
}

/** Mends all of some findings at once; those whose channel is gone since are passed over. Null where that is all. */
export function mendFindings(doc: Doc, findings: readonly Finding[], mend: string): Doc | null {
	let mended: Doc | null = null;
	for (const finding of findings) mended = mendFinding(mended ?? doc, finding, mend) ?? mended;
	return mended;
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
