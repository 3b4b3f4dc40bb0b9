/** A map without some of its entities. */
export function without<T>(
	map: Readonly<Record<string, T>>,
	isGone: (entity: T) => boolean,
): Record<string, T> {
	return Object.fromEntries(Object.entries(map).filter(([, entity]) => !isGone(entity)));
}
