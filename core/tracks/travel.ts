/** How far a clip carries its parts away, round by round: what engines call root motion. */
import type { CompiledClip } from '../clip/compile';
import { componentsOf, type Part } from '../document/types';
import type { Vec3 } from '../../player/maths/vector';

/** What a part that hangs on none gains each round along each axis: what accumulates of its translation. Null where nothing does. */
export function travelOf({ channels }: CompiledClip, { id, parent }: Part): Vec3 | null {
	if (parent !== null) return null;
	const travel = componentsOf('translation').map(
		(axis) =>
			channels.find(
				({ channel }) =>
					channel.part === id && channel.property === 'translation' && channel.component === axis,
			)?.change ?? 0,
	);
	return travel.some((change) => change !== 0) ? (travel as Vec3) : null;
}
