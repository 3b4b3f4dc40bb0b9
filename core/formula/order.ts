/** The order in which formulas are computed: each after those that it reads. */

export type Ordered<T> = { ok: true; order: T[] } | { ok: false; cycle: T[] };

/**
 * Sorts nodes so that each comes after all that `needs` gives for it; otherwise the nodes of one ring, each of which
 * needs the next. Depth-first search; the same input gives the same order.
 */
export function orderByNeeds<T>(nodes: readonly T[], needs: (node: T) => readonly T[]): Ordered<T> {
	const done = new Set<T>();
	const order: T[] = [];
	for (const root of nodes) {
		if (done.has(root)) continue;
		// A stack of its own: chains may be longer than the call stack.
		const trail: { node: T; left: T[] }[] = [{ node: root, left: [...needs(root)] }];
		const onTrail = new Set([root]);
		while (trail.length > 0) {
			const { node, left } = trail[trail.length - 1];
			const next = left.pop();
			if (next === undefined) {
				trail.pop();
				onTrail.delete(node);
				done.add(node);
				order.push(node);
			} else if (onTrail.has(next)) {
				return {
					ok: false,
					cycle: trail.map((entry) => entry.node).slice(trail.findIndex((e) => e.node === next)),
				};
			} else if (!done.has(next)) {
				trail.push({ node: next, left: [...needs(next)] });
				onTrail.add(next);
			}
		}
	}
	return { ok: true, order };
}
