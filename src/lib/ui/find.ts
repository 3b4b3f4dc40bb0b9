/** Finding things by some letters of their name, or by other words for them. */

export interface Findable {
	label: string;
	/** Other words for it, each of one word or more. */
	words?: readonly string[];
}

const split = (text: string) =>
	text
		.toLowerCase()
		.split(/[^\p{L}\p{N}÷%]+/u)
		.filter((word) => word !== '');

/** How well one typed word fits: whole words before beginnings before what stands inside, the name before other words. */
function fitOf(typed: string, label: readonly string[], others: readonly string[]): number {
	if (label.includes(typed)) return 1;
	if (others.includes(typed)) return 0.9;
	if (label.some((word) => word.startsWith(typed))) return 0.8;
	if (others.some((word) => word.startsWith(typed))) return 0.6;
	if (label.some((word) => word.includes(typed))) return 0.3;
	return others.some((word) => word.includes(typed)) ? 0.2 : 0;
}

/**
 * How well something fits what was typed, 0 where it does not. Every typed word has to be in it, in any order; a whole
 * name, or another word for it in full, comes first, then names that begin alike, short ones before long ones.
 */
export function rankOf({ label, words = [] }: Findable, search: string): number {
	const typed = split(search);
	if (typed.length === 0) return 1;
	const own = split(label);
	const others = words.flatMap(split);
	const fits = typed.map((word) => fitOf(word, own, others));
	if (fits.includes(0)) return 0;
	const all = typed.join(' ');
	const isWhole = words.some((word) => split(word).join(' ') === all);
	const begins = own.join(' ').startsWith(all);
	const mean = fits.reduce((sum, fit) => sum + fit, 0) / fits.length;
	return mean + (own.join(' ') === all ? 4 : isWhole ? 2 : begins ? 1 : 0) + 1 / (10 + own.length);
}
