/** Which parts of a pinned version are shown beside what they are now. */
import type { CompiledClip, PartTree } from '$core/clip/compile';
import { allNumbersIn } from '$core/clip/layout';
import type { Part } from '$core/document/types';

/** A clip ready to play, and its pose at some time. */
export interface PosedClip {
	compiled: CompiledClip;
	pose: Float64Array;
}

/** Parts that move in a clip and hang on none that does. */
export function movingRoots({ channels, vectors, formulas, parts, indexOfPart }: CompiledClip): string[] {
	const moving = new Set([
		...[...channels, ...vectors].map(({ channel }) => channel.part),
		...formulas.order.map(({ formula }) => formula.part),
	]);
	return [...moving].filter((id) => {
		let at = parts[indexOfPart.get(id)!]?.parent ?? null;
		while (at !== null && !moving.has(at)) at = parts[indexOfPart.get(at)!].parent;
		return at === null;
	});
}

/** Whether a part is another one, or a descendant of it. */
export function hangsOn(tree: PartTree, part: string | null, root: string): boolean {
	return (
		part !== null && (part === root || hangsOn(tree, tree.parts[tree.indexOfPart.get(part)!].parent, root))
	);
}

/** Whether a part, its parents and all below it are posed alike in two versions. */
export function standAlike(part: string, a: PosedClip, b: PosedClip): boolean {
	const { parts } = a.compiled;
	return parts.every(({ id }) => {
		if (!hangsOn(a.compiled, id, part) && !hangsOn(a.compiled, part, id)) return true;
		const [from, to] = [a.compiled.indexOfPart.get(id)!, b.compiled.indexOfPart.get(id)];
		if (to === undefined || parts[from].parent !== b.compiled.parts[to].parent) return false;
		const [here, there] = [numbersOf(parts[from], a), numbersOf(b.compiled.parts[to], b)];
		return here.length === there.length && here.every((v, k) => v === there[k]);
	});
}

function numbersOf(part: Part, { compiled, pose }: PosedClip): number[] {
	return allNumbersIn({ layout: compiled.layout, pose }, part);
}
