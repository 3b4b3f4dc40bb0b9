import type { Property } from '$core/document/types';

/** Which rows are wanted; the family of a property is what its hue tells. */
export interface RowFilter {
	/** Words that part or channel must contain. */
	words: string;
	families: ReadonlySet<Property>;
	/** Only these parts; null is all of them. */
	parts: ReadonlySet<string> | null;
}

export const NO_FILTER: RowFilter = { words: '', families: new Set(), parts: null };

export function isFiltering({ words, families, parts }: RowFilter): boolean {
	return words.trim() !== '' || families.size > 0 || parts !== null;
}
