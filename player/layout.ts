/** Where in a pose the numbers of what moves lie. A pose is one Float64Array; what nothing moves has no place in it. */

/**
 * How two values of a target are mixed: numbers straight, colours (sRGB and alpha) in linear light, unit quaternions
 * the short way round, switches at a half. Angles are the Euler angles of the clip under way, in degrees, from which
 * its rotation is made: they are never mixed.
 */
export type TargetKind = 'number' | 'colour' | 'rotation' | 'switch' | 'angles';

export interface Target {
	readonly part: string;
	/** What of the part: translation, rotation, opacity … */
	readonly path: string;
	readonly kind: TargetKind;
	/** Its first number in a pose, and how many it has. */
	readonly at: number;
	readonly size: number;
}

export interface PoseLayout {
	readonly targets: readonly Target[];
	/** The pose at rest: its length is that of every pose. */
	readonly rest: Float64Array;
	/** First number of a target by its part, then its path. */
	readonly places: ReadonlyMap<string, ReadonlyMap<string, number>>;
}

/** A target to be laid out, with its numbers at rest. */
export interface NewTarget {
	part: string;
	path: string;
	kind: TargetKind;
	rest: ArrayLike<number>;
}

/** Lays targets out one after another, in their order. */
export function makeLayout(wanted: readonly NewTarget[]): PoseLayout {
	const targets: Target[] = [];
	const places = new Map<string, Map<string, number>>();
	let at = 0;
	for (const { part, path, kind, rest } of wanted) {
		targets.push({ part, path, kind, at, size: rest.length });
		let ofPart = places.get(part);
		if (!ofPart) places.set(part, (ofPart = new Map()));
		ofPart.set(path, at);
		at += rest.length;
	}
	const rest = new Float64Array(at);
	wanted.forEach((target, i) => rest.set(target.rest, targets[i].at));
	return { targets, places, rest };
}

/** Numbers of a pose of one layout as they lie in another; what only the other has is 0, or as in `missing`. */
export function moveNumbers(
	from: PoseLayout,
	numbers: ArrayLike<number>,
	to: PoseLayout,
	missing: ArrayLike<number> | null = null,
): Float64Array {
	const moved = missing ? Float64Array.from(missing) : new Float64Array(to.rest.length);
	for (const { part, path, at, size } of to.targets) {
		const was = placeOf(from, part, path);
		if (was >= 0) for (let k = 0; k < size; k++) moved[at + k] = numbers[was + k];
	}
	return moved;
}

/** The first number of a target in a pose, or −1 where nothing moves it. */
export function placeOf({ places }: PoseLayout, part: string, path: string): number {
	return places.get(part)?.get(path) ?? -1;
}
