import { compileClip } from '../core/clip/compile';
import { gltfShipping } from '../core/formats/gltf/shipping';
import { tracksOf } from '../core/tracks/track';
import { ticksToSeconds, TICKS_PER_SECOND } from '../player/time';
import { chosenClips, readProject } from './files';

/** Prints `{clip, target, path, t, value}` for every path, at a rate, over each clip. */
export function sampleFile(file: string, options: { clip: readonly string[]; rate: number }): void {
	const doc = readProject(file);
	const rows: string[] = [];
	for (const clip of chosenClips(doc, options.clip)) {
		const compiled = compileClip(doc, clip);
		for (const { part, path, source } of tracksOf(doc, compiled, gltfShipping.terms(doc)).tracks) {
			const value = new Float64Array(source.size);
			const samples = Math.floor(ticksToSeconds(clip.length) * options.rate + 1e-9);
			for (let i = 0; i <= samples; i++) {
				const t = i / options.rate;
				source.evaluate(Math.min(clip.length, t * TICKS_PER_SECOND), value);
				rows.push(JSON.stringify({ clip: clip.name, target: part.name, path, t, value: [...value] }));
			}
		}
	}
	process.stdout.write(`[\n${rows.join(',\n')}\n]\n`);
}
