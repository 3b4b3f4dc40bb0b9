/** How the room for making clips is laid out: remembered for each project. */
import { keep, readKept } from '$lib/ui/kept';

/** Balanced: lanes over the bench, the stage beside them. Stage: it lies over both. Lanes: stage and bench beside them. */
export const ARRANGEMENTS = ['balanced', 'stage', 'lanes'] as const;
export type ArrangementName = (typeof ARRANGEMENTS)[number];

export class Arrangement {
	name = $state<ArrangementName>('balanced');

	constructor(private readonly project: string) {
		const kept = readKept(this.key);
		this.name = ARRANGEMENTS.find((name) => name === kept) ?? 'balanced';
	}

	private get key(): string {
		return `layout-${this.project}`;
	}

	choose(name: ArrangementName): void {
		this.name = name;
		keep(this.key, name);
	}
}
