import type { Clip, Doc } from '../document/types';

/** A name as files have it, without their ending: letters and digits of any script, small, all else hyphens. */
export function fileStem(name: string): string {
	const plain = name.normalize('NFC').toLowerCase();
	return plain.replace(/[^\p{L}\p{N}]+/gu, '-').replace(/^-|-$/g, '') || 'project';
}

/** What a file of some clips is called: as the only one, or as the project. */
export function stemOfClips(doc: Doc, clips: readonly Pick<Clip, 'name'>[]): string {
	return fileStem(clips.length === 1 ? clips[0].name : doc.project.name);
}
