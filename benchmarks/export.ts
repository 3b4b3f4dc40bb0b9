/** Bytes and errors of every demo clip at a bound of a thousandth, as read back. */
import { gzipSync } from 'node:zlib';
import { clipsInOrder, type Clip, type Doc } from '../core/document/types';
import { bake } from '../core/fit/fit';
import { TICKS_PER_SECOND } from '../player/time';
import { classesOf, writeSheet } from '../core/formats/css/write';
import { writeKeyframes, type WrittenClip } from '../core/formats/web/prepare';
import { clipFileShipper } from '../core/formats/clips/shipping';
import { gltfTracks, shipGltf } from '../core/formats/gltf/testing';
import { worstShare } from '../core/tracks/report';
import { makeParcelSlip } from '../demo/parcel-slip';
import { makeQuay } from '../demo/quay';
import { figure, type Figure } from './figure';

const BOUNDS = { relative: 0.001 };

function bakedBytes(doc: Doc, clip: Clip): Buffer {
	const baked = gltfTracks(doc, clip, { curvesOnly: true }).map(({ source }) => bake(source, 60));
	return Buffer.concat(
		baked.flatMap(({ times, values }) => [Buffer.from(times.buffer), Buffer.from(values.buffer)]),
	);
}

/** A style sheet of a clip in gzip, against the same with a keyframe for each frame at 60 Hz. */
function sheetShare(doc: Doc, clip: Clip): { bytes: number; share: number } {
	const { clips, partNames } = writeKeyframes(doc, [clip], { bounds: BOUNDS }, 'CSS');
	const bytesOf = (own: readonly WrittenClip[]) =>
		gzipSync(writeSheet(doc.project.name, own, partNames, classesOf([clip]))).length;
	const frames = Math.ceil((60 * clip.length) / TICKS_PER_SECOND);
	const baked = clips.map((own) => ({
		...own,
		strips: own.strips.map(({ strip }) => {
			const values = new Float64Array(strip.source.size);
			return {
				strip,
				frames: Array.from({ length: frames + 1 }, (_, i) => {
					strip.source.evaluate((clip.length * i) / frames, values);
					return {
						at: i / frames,
						values: Array.from(values, (v) => Number(v.toFixed(4))),
						easing: 'linear',
					};
				}),
			};
		}),
	}));
	const bytes = bytesOf(clips);
	return { bytes, share: bytes / bytesOf(baked) };
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
	const slip = makeParcelSlip();
	for (const clip of clipsInOrder(slip)) {
		const { bytes, share } = sheetShare(slip, clip);
		figures.push(
			figure(
				`CSS of ${clip.name} in gzip, against a keyframe for each frame at 60 Hz in gzip`,
				`${share.toFixed(2)} (${bytes} bytes)`,
				'under 0.25',
				share < 0.25,
			),
		);
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
