/** Findings that are meant to be so: marked with a reason, in the clip that they are about. */
import { updateClip } from '../edits/clips';
import type { Clip, Doc, Intended } from '../document/types';
import { frameToTicks } from '../time';
import type { Finding } from './finding';

/** Whether two findings, or a finding and a mark, of one clip are about the same: a rule, a channel, and a time to within a frame. */
export function isAboutTheSame(doc: Doc, one: Place, other: Place): boolean {
	return (
		one.rule === other.rule &&
		one.channel === other.channel &&
		Math.abs(one.t - other.t) < frameToTicks(1, doc.project.frameRate)
	);
}
type Place = Pick<Intended, 'rule' | 'channel' | 't'>;

/** The mark on a finding; undefined where it has none. A motion that was moved since is to be judged anew. */
export function markOn(doc: Doc, finding: Finding): Intended | undefined {
	return doc.clips[finding.clip]?.intended?.find((mark) => isAboutTheSame(doc, mark, finding));
}

/** Without an empty list where nothing is marked any more. */
function withIntended(doc: Doc, id: string, intended: readonly Intended[]): Doc {
	if (intended.length > 0) return updateClip(doc, id, { intended });
	const clip: Clip = { ...doc.clips[id] };
	delete clip.intended;
	return { ...doc, clips: { ...doc.clips, [id]: clip } };
}

/** Says of a finding why it is meant to be so. */
export function markIntended(doc: Doc, finding: Finding, reason: string): Doc {
	const { rule, channel, t, clip } = finding;
	const before = markOn(doc, finding);
	const others = (doc.clips[clip].intended ?? []).filter((own) => own !== before);
	return withIntended(doc, clip, [...others, { rule, channel, t: Math.round(t), reason }]);
}

/** The finding counts again. */
export function unmark(doc: Doc, { clip }: Finding, mark: Intended): Doc {
	return withIntended(
		doc,
		clip,
		(doc.clips[clip].intended ?? []).filter((own) => own !== mark),
	);
}
