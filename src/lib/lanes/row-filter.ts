import type { Property } from '$core/document/types';

/** Which rows are wanted; the family of a property is what its hue tells. */
export interface RowFilter {
	/** Words that part or channel must contain. */
	words: string;
	families: ReadonlySet<Property>;
	pickedOnly: boolean;
}

export const NO_FILTER: RowFilter = { words: '', families: new Set(), pickedOnly: false };

export function isFiltering({ words, families, pickedOnly }: RowFilter): boolean {
	return words.trim() !== '' || families.size > 0 || pickedOnly;
}
