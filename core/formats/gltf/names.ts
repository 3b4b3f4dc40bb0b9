/** What a file calls the nodes and materials that parts have beside their own nodes: readers find things by name. */
import { uniqueNames, type Prepared } from '../../tracks/ship';

/** Of the node on top of all. */
export const TOP = '/';

/** Names by `part path`, none of them a part's. */
export function ownNames({ parts, partNames }: Pick<Prepared, 'parts' | 'partNames'>): Map<string, string> {
	const named = parts.map(({ id }) => ({ id, name: partNames.get(id)! }));
	const own = parts.flatMap(({ id, numbers = [] }) => {
		const name = partNames.get(id)!;
		return [
			{ id: `${id} size`, name: `${name} · drawing` },
			{ id: `${id} model`, name: `${name} · model` },
			{ id: `${id} travel`, name: `${name} · travel` },
			{ id: `${id} colour`, name: `${name} · body` },
			{ id: `${id} stroke`, name: `${name} · line` },
			...numbers.map((number) => ({ id: `${id} number ${number.key}`, name: `${name} · ${number.name}` })),
		];
	});
	const names = uniqueNames([...named, ...own, { id: TOP, name: 'z up' }]);
	for (const { id } of parts) names.delete(id);
	return names;
}
