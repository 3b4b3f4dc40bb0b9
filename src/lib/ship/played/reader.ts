/** Written files as their readers play them: three.js, the browser itself, the player. */
import type { CompiledClip } from '$core/clip/compile';
import type { Doc } from '$core/document/types';
import type { Choices } from '$core/tracks/ship';

/** A clip of a file. */
export interface ReadClip {
	/** Writes what the file has at a time of the clip, in the project's units; what it has not stays as it is. */
	read(seconds: number, pose: Float64Array): void;
	/** Seconds of the keys of a part's path, where the file has such. */
	keysOf(part: string, path: string): readonly number[];
}

export interface ReadFile {
	/** Who reads it, for a sentence. */
	readBy: string;
	/** Paths that it does not read: these are shown as the project has them. */
	skips?: readonly string[];
	clipOf(compiled: CompiledClip): ReadClip;
	close(): void;
}

export type OpenFile = (
	file: ArrayBuffer,
	doc: Doc,
	clips: readonly CompiledClip[],
	choices: Choices,
) => Promise<ReadFile>;

const READERS: Readonly<Record<string, () => Promise<OpenFile>>> = {
	gltf: async () => (await import('./gltf-reader')).openGltf,
	css: async () => (await import('./page-reader')).openSheet,
	animations: async () => (await import('./page-reader')).openAnimations,
	clips: async () => (await import('./clips-reader')).openClips,
	player: async () => (await import('./clips-reader')).openPack,
};

/** Whose reader takes several files in a zip. */
const TAKES_ZIPS = 'gltf';

/** Whether files of a format are played beside their project, those of one clip each too. */
export function isPlayed(format: string, perClip = false): boolean {
	return format in READERS && (!perClip || format === TAKES_ZIPS);
}

/** Throws where the file cannot be read: as any reader of it would. */
export async function openFile(
	format: string,
	file: ArrayBuffer,
	doc: Doc,
	clips: readonly CompiledClip[],
	choices: Choices,
): Promise<ReadFile> {
	return (await READERS[format]())(file, doc, clips, choices);
}
