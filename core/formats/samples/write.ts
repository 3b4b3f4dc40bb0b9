/** What clips do at a rate, in the terms of glTF: metres, y up, unit quaternions, linear light. */
import { compileClip } from '../../clip/compile';
import type { Clip, Doc } from '../../document/types';
import { tracksOf } from '../../tracks/track';
import { ticksToSeconds, TICKS_PER_SECOND } from '../../../player/time';
import { gltfShipping } from '../gltf/shipping';

/** What one path of a part says at a time. */
export interface SampleRow {
	clip: string;
	target: string;
	path: string;
	/** Seconds. */
	t: number;
	value: number[];
}

/** Every path of a clip, one after the other, at `rate` places a second from its start on. */
export function* sampleRows(doc: Doc, clip: Clip, rate: number): Generator<SampleRow> {
	const compiled = compileClip(doc, clip);
	for (const { part, path, source } of tracksOf(doc, compiled, gltfShipping.terms(doc)).tracks) {
		const value = new Float64Array(source.size);
		const samples = Math.floor(ticksToSeconds(clip.length) * rate + 1e-9);
		for (let i = 0; i <= samples; i++) {
			const t = i / rate;
			source.evaluate(Math.min(clip.length, t * TICKS_PER_SECOND), value);
			yield { clip: clip.name, target: part.name, path, t, value: [...value] };
		}
	}
}
