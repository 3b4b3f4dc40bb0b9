/** Findings that are meant to be so: marked with a reason, in the clip that they are about. */
import { updateClip } from '../edits/clips';
import type { Clip, Doc, Intended } from '../document/types';
import { frameToTicks } from '../time';
import type { Finding } from './finding';

/** The mark on a finding; undefined where it has none. A motion that was moved since is to be judged anew. */
export function markOn({ clips, project }: Doc, finding: Finding): Intended | undefined {
	const frame = frameToTicks(1, project.frameRate);
	return clips[finding.clip]?.intended?.find(
		({ rule, channel, t }) =>
			rule === finding.rule && channel === finding.channel && Math.abs(t - finding.t) < frame,
	);
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
