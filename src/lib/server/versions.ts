/** The project as it was after each of its edits, worked out backwards from how it is now. */
import { touchedIds, type Changeset } from '$core/document/changeset';
import { applyChecked } from '$core/document/checked-changeset';
import { migrateChangeset } from '$core/document/migrate';
import { touched } from '$core/edits/touched';
import type { components } from '$lib/api/types.generated';
import type { journalTable, JournalRow } from './db/journal-table';
import { ApiError } from './problem';

type Schemas = components['schemas'];
type Version = Schemas['Version'];
type Journal = ReturnType<typeof journalTable>;

/** A changeset as the journal has it, in the current version of the format. */
export function changesetOf(text: string, version: number): Changeset {
	return migrateChangeset(JSON.parse(text) as Changeset, version);
}

/** The project at a revision, from a later one. */
export function walkBack(journal: Journal, project: string, from: Version, revision: number): Version {
	let { doc } = from;
	for (const { inverse, version } of journal.backTo(project, revision, from.revision)) {
		const applied = applyChecked(doc, changesetOf(inverse, version));
		if (!applied.ok) throw ApiError.of(applied.problems);
		doc = applied.value;
	}
	return { doc, revision };
}

/** Rows of the journal, newest first, with what each of them touched; `now` is the project at a later revision. */
export function tellRows(
	journal: Journal,
	project: string,
	now: Version,
	rows: readonly JournalRow[],
): Schemas['JournalEntry'][] {
	let at = now;
	return rows.map((row) => {
		const after = walkBack(journal, project, at, row.revision);
		at = walkBack(journal, project, after, row.revision - 1);
		const { revision, kind, label, made_at, name } = row;
		const ids = touchedIds(changesetOf(row.forward, row.version));
		return { revision, kind, label, made_at, name, touched: touched(at.doc, after.doc, ids) };
	});
}
