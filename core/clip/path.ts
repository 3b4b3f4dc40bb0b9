/** Where a part's origin goes over a clip: for motion paths and spacing. */
import { POSE_STRIDE, writeVector, type CompiledClip } from './compile';
import { slotOf } from './slots';
import { multiplyMatrices, poseMatrix, type Matrix } from '../pose/matrix';

/** The parents of a part from the root down, then itself, as indices into the compiled clip's parts. */
function chainOf(compiled: CompiledClip, part: string): number[] {
	const chain: number[] = [];
	for (let index = compiled.indexOfPart.get(part); index !== undefined;) {
		chain.unshift(index);
		const { parent } = compiled.parts[index];
		index = parent === null ? undefined : compiled.indexOfPart.get(parent);
	}
	return chain;
}

/** World matrix of a part in a pose, in the project's own space and units; null when it is not in the clip's tree. */
export function worldMatrix(compiled: CompiledClip, part: string, pose: Float64Array): Matrix | null {
	return chainOf(compiled, part).reduce<Matrix | null>((world, index) => {
		const local = poseMatrix(pose, index * POSE_STRIDE, compiled.parts[index].eulerOrder);
		return world ? multiplyMatrices(world, local) : local;
	}, null);
}

/**
 * World places of a part's origin at the given ticks of a round: x, y, z each. Reads only what moves it. With `seen`,
 * a pose, its parents stand still as they are there: the way as the parent sees it.
 */
export function partPath(
	compiled: CompiledClip,
	part: string,
	ticks: readonly number[],
	seen?: Float64Array,
): Float64Array {
	const out = new Float64Array(3 * ticks.length);
	const pose = (seen ?? compiled.rest).slice();
	const chain = new Set(seen ? chainOf(compiled, part).slice(-1) : chainOf(compiled, part));
	const ofChain = (slot: number) => chain.has(Math.floor(slot / POSE_STRIDE));
	const moving = [...compiled.channels, ...compiled.formulas.order].map(({ slot }) => slot).filter(ofChain);
	const readers = moving.map((slot) => ({ slot, read: slotOf(compiled, slot).read }));
	const vectors = compiled.vectors.filter(({ slot }) => ofChain(slot));
	ticks.forEach((t, i) => {
		for (const { slot, read } of readers) pose[slot] = read(t);
		for (const vector of vectors) writeVector(vector, t, pose);
		const world = worldMatrix(compiled, part, pose);
		if (world) out.set(world.subarray(12, 15), 3 * i);
	});
	return out;
}
