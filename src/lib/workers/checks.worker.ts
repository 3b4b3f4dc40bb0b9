/** Checks the open clip away from the page: it keeps the document, is told what changed, and answers with findings. */
import { expose } from 'comlink';
import { checkClip } from '$core/check/check';
import type { Changeset } from '$core/document/changeset';
import type { Doc } from '$core/document/types';
import type { Finding } from '$core/check/finding';
import { Mirror } from './mirror';

const mirror = new Mirror();

const checks = {
	open: (whole: Doc): void => mirror.open(whole),
	/** Findings on a clip after a change; null where the change does not fit what is known here. */
	check(change: Changeset | null, clip: string): Finding[] | null {
		const doc = mirror.after(change);
		if (!doc) return null;
		return doc.clips[clip] ? checkClip(doc, doc.clips[clip]) : [];
	},
};
export type Checks = typeof checks;

expose(checks);
