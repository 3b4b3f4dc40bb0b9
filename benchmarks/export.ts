/** Bytes and errors of every demo clip at a bound of a thousandth, as read back. */
import { gzipSync } from 'node:zlib';
import { clipsInOrder, type Clip, type Doc } from '../core/document/types';
import { bake } from '../core/fit/fit';
import { clipFileShipper } from '../core/formats/clips/shipping';
import { gltfTracks, shipGltf } from '../core/formats/gltf/testing';
import { worstShare } from '../core/tracks/report';
import { makeParcelSlip } from '../demo/parcel-slip';
import { makeQuay } from '../demo/quay';
import { figure, type Figure } from './figure';

const BOUNDS = { relative: 0.001 };

function bakedBytes(doc: Doc, clip: Clip): Buffer {
	const baked = gltfTracks(doc, clip).map(({ source }) => bake(source, 60));
	return Buffer.concat(
		baked.flatMap(({ times, values }) => [Buffer.from(times.buffer), Buffer.from(values.buffer)]),
	);
}

export async function exportFigures(): Promise<Figure[]> {
	const figures: Figure[] = [];
	let [total, totalBaked, milliseconds, paths] = [0, 0, 0, 0];
	let [clipFiles, glbs] = [0, 0];
	for (const doc of [makeQuay(), makeParcelSlip()]) {
		const all = clipsInOrder(doc);
		clipFiles += gzipSync((await clipFileShipper.ship(doc, all, { bounds: BOUNDS })).bytes).length;
		const glb = await shipGltf(doc, all, { bounds: BOUNDS, switches: { curvesOnly: true } });
		glbs += gzipSync(glb.bytes).length;
		for (const clip of all) {
			const start = performance.now();
			const written = await shipGltf(doc, [clip], { bounds: BOUNDS, switches: { curvesOnly: true } });
			milliseconds += performance.now() - start;
			const bytes = written.clips[0].tracks.reduce((sum, track) => sum + track.bytes, 0);
			const baked = bakedBytes(doc, clip);
			if (baked.length === 0) continue;
			total += bytes;
			totalBaked += baked.length;
			paths += written.clips[0].tracks.length;
			figures.push(
				figure(
					`${doc.project.name}: ${clip.name}`,
					`${bytes} bytes, ${((100 * bytes) / baked.length).toFixed(1)} % of 60 Hz LINEAR (${((100 * bytes) / gzipSync(baked).length).toFixed(0)} % of that in gzip); largest error ${(100 * worstShare(written)).toFixed(1)} % of its bound`,
					'within the bound',
					worstShare(written) <= 1,
				),
			);
		}
	}
	figures.push(
		figure(
			'clip files of all demo clips in gzip, against .glb of their curves in gzip (which leaves out what glTF cannot say)',
			`${(clipFiles / glbs).toFixed(2)} (${clipFiles} of ${glbs} bytes)`,
			'under 0.50',
			clipFiles / glbs < 0.5,
		),
	);
	figures.push(
		figure(
			'all demo clips',
			`${((100 * total) / totalBaked).toFixed(1)} % of 60 Hz LINEAR; ${((1000 * paths) / milliseconds).toFixed(0)} paths a second, written, read back and measured`,
		),
	);
	return figures;
}
