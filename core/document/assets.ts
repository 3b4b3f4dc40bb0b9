/** The files that a project refers to: pictures, films, sounds, models and samples of takes, by the SHA-256 of their content. */
import type { Doc } from './types';

/** Pictures and models that parts are drawn as. */
export function drawnAssets({ parts }: Pick<Doc, 'parts'>): Set<string> {
	return new Set(Object.values(parts).flatMap(({ drawing }) => ('asset' in drawing ? [drawing.asset] : [])));
}

export function assetsOf(doc: Doc): Set<string> {
	const found = drawnAssets(doc);
	for (const { reference, sound } of Object.values(doc.clips)) {
		if (reference) found.add(reference.asset);
		if (sound) found.add(sound.asset);
	}
	for (const { asset } of Object.values(doc.takes)) found.add(asset);
	return found;
}
