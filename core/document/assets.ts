/** The files that a project refers to: pictures, films, sounds and models, by the SHA-256 of their content. */
import type { Doc } from './types';

export function assetsOf(doc: Doc): Set<string> {
	const found = new Set<string>();
	for (const { drawing } of Object.values(doc.parts)) if ('asset' in drawing) found.add(drawing.asset);
	for (const { reference, sound } of Object.values(doc.clips)) {
		if (reference) found.add(reference.asset);
		if (sound) found.add(sound.asset);
	}
	return found;
}
