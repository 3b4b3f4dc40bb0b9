/** Samples that are cleaned in a worker, column by column. */
import { wrap, type Remote } from 'comlink';
import equal from 'fast-deep-equal';
import type { Cleaning } from '$core/document/takes';
import type { TakeGroup } from '$core/takes/clean';
import type { TakeSamples } from '$core/takes/samples-file';
import type { CleanedKeys, Takes } from './takes.worker';

export type { CleanedKeys } from './takes.worker';

let remote: Remote<Takes> | null = null;
function started(): Remote<Takes> {
	remote ??= wrap<Takes>(new Worker(new URL('./takes.worker.ts', import.meta.url), { type: 'module' }));
	return remote;
}

let opened = 0;

export class WorkedSamples {
	private readonly id = `take ${++opened}`;
	private told: Promise<void> | null = null;
	private groups: readonly TakeGroup[] = [];

	constructor(readonly samples: TakeSamples) {}

	/** Which of its columns are cleaned together, as orientations or colours. */
	cleanTogether(groups: readonly TakeGroup[]): this {
		if (!equal(groups, this.groups)) this.told = null;
		this.groups = groups;
		return this;
	}

	get width(): number {
		return this.samples.columns.length;
	}

	async clean(column: number, cleaning: Cleaning): Promise<CleanedKeys> {
		const own = started();
		this.told ??= own.open(this.id, this.samples, this.groups);
		await this.told;
		const made = await own.clean(this.id, column, cleaning);
		if (made) return made;
		// Others were opened since: it is told again.
		this.told = null;
		return this.clean(column, cleaning);
	}

	/** All columns one after the other; null as soon as `isWanted` says so. */
	async cleanAll(
		cleaning: Cleaning,
		isWanted: () => boolean = () => true,
		ondone: (columns: number) => void = () => {},
	): Promise<CleanedKeys[] | null> {
		const all: CleanedKeys[] = [];
		for (let i = 0; i < this.width; i++) {
			all.push(await this.clean(i, cleaning));
			if (!isWanted()) return null;
			ondone(all.length);
		}
		return all;
	}
}
