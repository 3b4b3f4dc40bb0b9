/** How far all that is drawn reaches, as it rests. */
import type { Part } from '../document/types';
import { boxOf } from './box';
import type { Space } from '../pose/space';
import type { Vec3 } from '../../player/maths/vector';
import { layoutOf } from '../clip/layout';
import { worldMatrix } from '../clip/path';

/** In the project's own space; null where nothing is drawn. `parts` has parents before their children. */
export function restBox(parts: readonly Part[], space: Space): { low: Vec3; high: Vec3 } | null {
	const layout = layoutOf(parts, [], []);
	const tree = { parts, indexOfPart: new Map(parts.map(({ id }, i) => [id, i])), layout };
	const low: Vec3 = [Infinity, Infinity, Infinity];
	const high: Vec3 = [-Infinity, -Infinity, -Infinity];
	for (const { id, drawing } of parts) {
		const box = boxOf(drawing, space);
		const m = box && worldMatrix(tree, id, { layout, pose: layout.rest });
		if (!box || !m) continue;
		for (let corner = 0; corner < 8; corner++) {
			const at = [0, 1, 2].map((k) => ((corner >> k) & 1 ? box.high[k] : box.low[k]));
			for (let k = 0; k < 3; k++) {
				const v = m[k] * at[0] + m[4 + k] * at[1] + m[8 + k] * at[2] + m[12 + k];
				low[k] = Math.min(low[k], v);
				high[k] = Math.max(high[k], v);
			}
		}
	}
	return low[0] === Infinity ? null : { low, high };
}
