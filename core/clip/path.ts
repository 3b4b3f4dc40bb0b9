/** Where a part's origin goes over a clip: for motion paths and spacing. */
import { placeOf } from '../../player/layout';
import { evaluateRound, type Motion } from '../../player/motion';
import { multiplyMatrices, type Matrix } from '../pose/matrix';
import { flatChannels, type CompiledClip, type PartTree } from './compile';
import type { Vec3 } from '../../player/maths/vector';
import { partMatrix, vectorIn, type Posed } from './layout';

/** The parents of a part from the root down, then itself, as indices into the parts of a tree. */
function chainOf({ parts, indexOfPart }: PartTree, part: string): number[] {
	const chain: number[] = [];
	for (let index = indexOfPart.get(part); index !== undefined;) {
		chain.unshift(index);
		const { parent } = parts[index];
		index = parent === null ? undefined : indexOfPart.get(parent);
	}
	return chain;
}

/** World matrix of a part in a pose, in the project's own space and units; null when it is not in the tree. */
export function worldMatrix(tree: PartTree, part: string, posed: Posed): Matrix | null {
	return chainOf(tree, part).reduce<Matrix | null>((world, index) => {
		const local = partMatrix(posed, tree.parts[index]);
		return world ? multiplyMatrices(world, local) : local;
	}, null);
}

/**
 * World places of a part's origin at the given ticks of a round: x, y, z each. Reads only what moves it. With
 * `seen`, a pose, its parents stand still as they are there: the way as the parent sees it.
 */
export function partPath(
	compiled: CompiledClip,
	part: string,
	ticks: readonly number[],
	seen?: Float64Array,
): Float64Array {
	const out = new Float64Array(3 * ticks.length);
	const chain = chainOf(compiled, part).map((index) => compiled.parts[index]);
	const own = chain.at(-1);
	if (!own) return out;
	const { layout } = compiled;
	const moving = motionOf(compiled, new Set(seen ? [own.id] : chain.map(({ id }) => id)));
	const pose = layout.rest.slice();
	const posed = { layout, pose };
	const still =
		seen && own.parent !== null ? worldMatrix(compiled, own.parent, { layout, pose: seen }) : null;
	ticks.forEach((t, i) => {
		evaluateRound(moving, t, 0, pose);
		const frame = seen || own.parent === null ? still : worldMatrix(compiled, own.parent, posed);
		out.set(placeIn(frame, vectorIn(posed, own, 'translation')), 3 * i);
	});
	return out;
}

/** A place of a part's parent as its matrix carries it into the world; without one it stands there. */
function placeIn(frame: Matrix | null, [x, y, z]: Vec3): Vec3 {
	if (!frame) return [x, y, z];
	const along = (row: number) => frame[row] * x + frame[4 + row] * y + frame[8 + row] * z + frame[12 + row];
	return [along(0), along(1), along(2)];
}

/** What moves some parts of a clip: all of it where formulas do, since they may read anything. */
function motionOf(compiled: CompiledClip, ids: ReadonlySet<string>): Motion {
	if (compiled.formulas.order.some(({ formula }) => ids.has(formula.part))) return compiled;
	const channels = compiled.channels.filter(({ channel }) => ids.has(channel.part));
	const rotations = new Set([...ids].map((id) => placeOf(compiled.layout, id, 'rotation')));
	return {
		...compiled,
		...flatChannels(channels),
		vectors: compiled.vectors.filter(({ part }) => ids.has(part.id)),
		turns: compiled.turns.filter(({ rotation }) => rotations.has(rotation)),
		compute: null,
	};
}
