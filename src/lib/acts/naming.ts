/** Names and places in order for what is new. */

/** A name with a number that nobody has yet. */
export function freeName(base: string, taken: readonly string[]): string {
	if (!taken.includes(base)) return base;
	for (let n = 2; ; n++) if (!taken.includes(`${base} ${n}`)) return `${base} ${n}`;
}

/** The last of some fractional orders. */
export function lastOrder(orders: readonly string[]): string | null {
	return orders.reduce<string | null>((last, order) => (last === null || order > last ? order : last), null);
}
