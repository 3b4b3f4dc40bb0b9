import type { Database } from 'better-sqlite3';

export interface JournalRow {
	project: string;
	revision: number;
	edit_id: string;
	kind: 'edit' | 'undo' | 'redo';
	label: string;
	forward: string;
	inverse: string;
	below: number | null;
	made_at: string;
	/** Of the document's format, in which the changesets were written. */
	version: number;
	/** What the version after this edit is called, where somebody named it. */
	name: string | null;
}

export function journalTable(db: Database) {
	const insert = db.prepare<Omit<JournalRow, 'name'>>(
		`INSERT INTO journal (project, revision, edit_id, kind, label, forward, inverse, below, made_at, version)
		 VALUES (@project, @revision, @edit_id, @kind, @label, @forward, @inverse, @below, @made_at, @version)`,
	);
	const byEdit = db.prepare<[string, string], JournalRow>(
		'SELECT * FROM journal WHERE project = ? AND edit_id = ?',
	);
	const byRevision = db.prepare<[string, number], JournalRow>(
		'SELECT * FROM journal WHERE project = ? AND revision = ?',
	);
	const between = db.prepare<
		[string, number, number],
		Pick<JournalRow, 'revision' | 'label' | 'forward' | 'version'>
	>(
		`SELECT revision, label, forward, version FROM journal
		 WHERE project = ? AND revision > ? AND revision < ? ORDER BY revision`,
	);
	const backTo = db.prepare<[string, number, number], Pick<JournalRow, 'inverse' | 'version'>>(
		`SELECT inverse, version FROM journal
		 WHERE project = ? AND revision > ? AND revision <= ? ORDER BY revision DESC`,
	);
	// The line of undo is a chain through `below`; what was undone last is the newest edit that stands on the top.
	const above = db.prepare<[string, number | null], JournalRow>(
		`SELECT * FROM journal WHERE project = ? AND kind = 'edit' AND below IS ? ORDER BY revision DESC LIMIT 1`,
	);
	const backFrom = db.prepare<[string, number, number], JournalRow>(
		'SELECT * FROM journal WHERE project = ? AND revision <= ? ORDER BY revision DESC LIMIT ?',
	);
	const named = db.prepare<[string], JournalRow>(
		'SELECT * FROM journal WHERE project = ? AND name IS NOT NULL ORDER BY revision DESC',
	);
	const rename = db.prepare<[string | null, string, number]>(
		'UPDATE journal SET name = ? WHERE project = ? AND revision = ?',
	);
	return {
		insert: (row: Omit<JournalRow, 'name'>) => insert.run(row),
		byEdit: (project: string, editId: string) => byEdit.get(project, editId),
		byRevision: (project: string, revision: number) => byRevision.get(project, revision),
		/** What was done after one revision and before another, both left out. */
		between: (project: string, after: number, before: number) => between.all(project, after, before),
		/** What leads back from a revision to an earlier one, in the order to be applied. */
		backTo: (project: string, revision: number, from: number) => backTo.all(project, revision, from),
		above: (project: string, revision: number | null) => above.get(project, revision),
		/** The newest rows up to a revision, newest first. */
		backFrom: (project: string, revision: number, limit: number) => backFrom.all(project, revision, limit),
		/** All whose version has a name, newest first. */
		named: (project: string) => named.all(project),
		/** False where there is no such row. */
		rename: (project: string, revision: number, name: string | null) =>
			rename.run(name, project, revision).changes > 0,
	};
}
