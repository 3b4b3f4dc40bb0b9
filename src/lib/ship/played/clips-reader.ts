/** A clip file as the player plays it, by itself or in the zip that brings its player along. */
import { strFromU8, unzipSync } from 'fflate';
import { partTree, type CompiledClip } from '$core/clip/compile';
import type { Doc } from '$core/document/types';
import { uniqueNames } from '$core/tracks/ship';
import { readClips } from '$player/file/read';
import { evaluateRound } from '$player/motion';
import { TICKS_PER_SECOND } from '$player/time';
import type { ReadClip, ReadFile } from './reader';

function open(text: string, doc: Doc, clips: readonly CompiledClip[]): ReadFile {
	const set = readClips(JSON.parse(text));
	const partNames = uniqueNames(partTree(doc).parts);
	const clipNames = uniqueNames(clips.map(({ clip }) => clip));
	return {
		readBy: 'the player',
		clipOf({ clip, layout }): ReadClip {
			const own = set.clips.get(clipNames.get(clip.id)!)!;
			const shown = set.layout.rest.slice();
			const moves = layout.targets.flatMap(({ part, path, at, size }) => {
				const from = set.layout.places.get(partNames.get(part)!)?.get(path);
				return from === undefined ? [] : [{ from, at, size }];
			});
			return {
				read(seconds, pose) {
					shown.set(set.layout.rest);
					evaluateRound(own.motion, Math.min(clip.length, seconds * TICKS_PER_SECOND), 0, shown);
					for (const { from, at, size } of moves) pose.set(shown.subarray(from, from + size), at);
				},
				keysOf: () => [],
			};
		},
		close() {},
	};
}

export function openClips(file: ArrayBuffer, doc: Doc, clips: readonly CompiledClip[]): Promise<ReadFile> {
	return Promise.resolve(open(strFromU8(new Uint8Array(file)), doc, clips));
}

export function openPack(file: ArrayBuffer, doc: Doc, clips: readonly CompiledClip[]): Promise<ReadFile> {
	const unpacked = unzipSync(new Uint8Array(file), { filter: ({ name }) => name.endsWith('.clips.json') });
	const [bytes] = Object.values(unpacked);
	return Promise.resolve(open(strFromU8(bytes), doc, clips));
}
