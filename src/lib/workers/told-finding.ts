/** A finding as it crosses from the worker: edits stay behind, and are looked up again when one is wanted. */
import { checkClip } from '$core/check/check';
import type { Finding, Mend } from '$core/check/finding';
import type { Doc } from '$core/document/types';

export type ToldFinding = Omit<Finding, 'mends'> & { mends: string[] };

export function tell(finding: Finding): ToldFinding {
	return { ...finding, mends: finding.mends.map((mend) => mend.label) };
}

/** The mend that a told finding offered; undefined where the document has changed under it. */
export function mendOf(doc: Doc, told: ToldFinding, label: string): Mend | undefined {
	const clip = doc.clips[told.clip];
	return (clip ? checkClip(doc, clip) : [])
		.find(
			({ rule, channel, t, measure }) =>
				rule === told.rule && channel === told.channel && t === told.t && measure === told.measure,
		)
		?.mends.find((mend) => mend.label === label);
}
