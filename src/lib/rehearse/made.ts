/** A clip file that is tried: what is in it by the document's ids, what plays of it, what was done with it. */
import type { RehearsalInput } from '$core/document/rehearsals';
import { readClips, type ReadClips } from '$player/file/read';
import type { Player } from '$player/player';
import type { Moment } from '$player/triggers';
import type { MadeClips } from '$lib/workers/clips.worker';

/** A file that plays, with the names in it by the document's ids. */
export interface Made extends MadeClips {
	set: ReadClips;
	bytes: number;
	names: { clips: ReadonlyMap<string, string>; parts: ReadonlyMap<string, string> };
}

/** Throws a TypeError for what is no clip file. */
export function readMade(made: MadeClips): Made {
	const set = readClips(JSON.parse(made.text));
	const names = [...set.clips.keys()];
	return {
		...made,
		set,
		bytes: made.text.length,
		names: {
			clips: new Map(made.clips.map((id, i) => [id, names[i]])),
			parts: new Map(made.parts.map((id, i) => [id, set.parts[i].name])),
		},
	};
}

/** What was done, as it is kept. */
export type Done = Moment | { kind: 'set'; name: string; value: number };

/** What a person did, by the ids of the document; null for what no person does. */
export function inputOf(moment: Done, { names }: Made): RehearsalInput['what'] | null {
	switch (moment.kind) {
		case 'tap':
		case 'enter':
		case 'leave': {
			const [part] = [...names.parts].find(([, name]) => name === moment.part) ?? [];
			return part === undefined ? null : { kind: moment.kind, part };
		}
		case 'set':
		case 'call':
		case 'key':
		case 'button':
			return moment;
		default:
			return null;
	}
}

/** What plays on the ground and in the layers, by their names. */
export function playingIn(
	player: Player,
	set: ReadClips | undefined,
): { place: string; clip: string; weight: number }[] {
	const places = [
		{ place: '', at: player as Pick<Player, 'playing'>, share: 1 },
		...(set?.layers ?? []).map(({ name }) => {
			const layer = player.layer(name);
			return { place: name, at: layer, share: layer.weight };
		}),
	];
	return places.flatMap(({ place, at, share }) =>
		at.playing.map(({ clip, weight }) => ({ place, clip: clip.name, weight: weight * share })),
	);
}

/** Something to look at: the first number that moves. */
export function firstMoving({ layout }: ReadClips) {
	const { targets } = layout;
	const target =
		targets.find(({ path }) => path === 'translation') ?? targets.find(({ kind }) => kind === 'number');
	return target ? { part: target.part, path: target.path, component: Math.min(1, target.size - 1) } : null;
}
