/** Cleans takes away from the page: it keeps the samples, and answers column by column. */
import { expose } from 'comlink';
import type { Cleaning } from '$core/document/takes';
import { TakeCleaner, type CleanedColumn, type TakeGroup } from '$core/takes/clean';
import type { TakeSamples } from '$core/takes/samples-file';

/** Of one column: the keys of each stretch, and what cleaning came to. */
export type CleanedKeys = Omit<CleanedColumn, 'cleaned'>;

/** So many takes are kept at hand. */
const MOST_KEPT = 3;
const kept = new Map<string, TakeCleaner>();

const takes = {
	open(id: string, samples: TakeSamples, groups: readonly TakeGroup[]): void {
		kept.delete(id);
		kept.set(id, new TakeCleaner(samples, groups));
		if (kept.size > MOST_KEPT) kept.delete(kept.keys().next().value!);
	},
	/** Null where the take is not known here. */
	clean(id: string, column: number, cleaning: Cleaning): CleanedKeys | null {
		const made = kept.get(id)?.cleanColumn(column, cleaning);
		return made ? { stretches: made.stretches, figures: made.figures } : null;
	},
};
export type Takes = typeof takes;

expose(takes);
