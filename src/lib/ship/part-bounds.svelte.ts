/** Bounds of single parts, chosen in the table of what was written. */
import type { Doc } from '$core/document/types';
import type { PartsBounds } from '$core/tracks/bounds';

/** What a part's bounds call the share of all its paths. */
const SHARE = 'relative';

/** A bound of a part that is chosen. */
export interface PartBound {
	part: string;
	/** The path, or null for all of the part, by a fraction of each path's range. */
	path: string | null;
	value: number;
}

export class PartBounds {
	set = $state.raw<PartsBounds>({});

	/** The bound of a path of a part, or the fraction of all of it; 0 where none is chosen. */
	of(part: string, path: string | null): number {
		return this.set[part]?.[path ?? SHARE] ?? 0;
	}

	/** Chooses one; 0 takes it back. */
	choose({ part, path, value }: PartBound): void {
		const own = { ...this.set[part] };
		if (value > 0) own[path ?? SHARE] = value;
		else delete own[path ?? SHARE];
		const next: Record<string, Readonly<Record<string, number>>> = { ...this.set, [part]: own };
		if (Object.keys(own).length === 0) delete next[part];
		this.set = next;
	}

	/** Those of the parts that there still are. */
	list(doc: Doc): PartBound[] {
		return Object.entries(this.set)
			.filter(([part]) => Object.hasOwn(doc.parts, part))
			.flatMap(([part, own]) =>
				Object.entries(own).map(([path, value]) => ({ part, path: path === SHARE ? null : path, value })),
			);
	}

	/** As bounds have them; nothing where there are none. */
	within(doc: Doc): { parts?: PartsBounds } {
		const kept = Object.entries(this.set).filter(([part]) => Object.hasOwn(doc.parts, part));
		return kept.length > 0 ? { parts: Object.fromEntries(kept) } : {};
	}

	/** As the command line says them: a part by its name, where no other has it. */
	said(doc: Doc): string[] {
		const names = Object.values(doc.parts).map(({ name }) => name);
		return this.list(doc).map(({ part, path, value }) => {
			const { name } = doc.parts[part];
			const called = names.filter((own) => own === name).length > 1 ? part : name;
			return `${called}${path === null ? '' : `/${path}`}=${Number(value.toPrecision(6))}`;
		});
	}
}
