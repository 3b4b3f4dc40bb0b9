/** Bytes and errors of every demo clip at a bound of a thousandth, as read back. */
import { gzipSync } from 'node:zlib';
import { compileClip } from '../core/clip/compile';
import { clipsInOrder, partsInTree, type Clip, type Doc } from '../core/document/types';
import { bake } from '../core/fit/fit';
import { PATHS, pathSource } from '../core/formats/gltf/path';
import { verifyGltf } from '../core/formats/gltf/verify';
import { writeGltf } from '../core/formats/gltf/write';
import { makeParcelSlip } from '../demo/parcel-slip';
import { makeQuay } from '../demo/quay';
import { figure, type Figure } from './figure';

const BOUNDS = { relative: 0.001 };

function bakedBytes(doc: Doc, clip: Clip): Buffer {
	const compiled = compileClip(doc, clip);
	const parts = partsInTree(doc).flatMap(({ part }) =>
		PATHS.flatMap((name) => {
			const path = pathSource(doc, compiled, part, name);
			if (!path) return [];
			const { times, values } = bake(path.source, 60);
			return [Buffer.from(times.buffer), Buffer.from(values.buffer)];
		}),
	);
	return Buffer.concat(parts);
}

export async function exportFigures(): Promise<Figure[]> {
	const figures: Figure[] = [];
	let [total, totalBaked, milliseconds, paths] = [0, 0, 0, 0];
	for (const doc of [makeQuay(), makeParcelSlip()])
		for (const clip of clipsInOrder(doc)) {
			const start = performance.now();
			const written = await writeGltf(doc, [clip], { bounds: BOUNDS, curvesOnly: true });
			milliseconds += performance.now() - start;
			const verified = await verifyGltf(doc, [clip], written, BOUNDS);
			const bytes = written.clips[0].paths.reduce((sum, path) => sum + path.bytes, 0);
			const baked = bakedBytes(doc, clip);
			if (baked.length === 0) continue;
			total += bytes;
			totalBaked += baked.length;
			paths += written.clips[0].paths.length;
			figures.push(
				figure(
					`${doc.project.name}: ${clip.name}`,
					`${bytes} bytes, ${((100 * bytes) / baked.length).toFixed(1)} % of 60 Hz LINEAR (${((100 * bytes) / gzipSync(baked).length).toFixed(0)} % of that in gzip); largest error ${(100 * verified.worstShare).toFixed(1)} % of its bound`,
					'within the bound',
					verified.violations.length === 0,
				),
			);
		}
	figures.push(
		figure(
			'all demo clips',
			`${((100 * total) / totalBaked).toFixed(1)} % of 60 Hz LINEAR; ${((1000 * paths) / milliseconds).toFixed(0)} paths a second, written and measured`,
		),
	);
	return figures;
}
