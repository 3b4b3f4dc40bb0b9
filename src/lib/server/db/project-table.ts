import type { Database } from 'better-sqlite3';
import { VERSION } from '$core/document/migrate';
import type { Project } from '$core/document/types';

export interface ProjectRow {
	id: string;
	body: string;
	revision: number;
	undo_top: number | null;
	created_at: string;
	updated_at: string;
	deleted_at: string | null;
	/** Of the document's format, in which the body was written. */
	version: number;
}

export function projectTable(db: Database) {
	const list = db.prepare<[], ProjectRow & { bytes: number }>(
		`SELECT p.*, (SELECT coalesce(sum(length(body)), 0) FROM entity WHERE project = p.id) AS bytes
		 FROM project p WHERE deleted_at IS NULL ORDER BY updated_at DESC, id`,
	);
	const deleted = db.prepare<[], ProjectRow & { deleted_at: string }>(
		'SELECT * FROM project WHERE deleted_at IS NOT NULL ORDER BY deleted_at DESC, id',
	);
	const find = db.prepare<[string], ProjectRow>('SELECT * FROM project WHERE id = ?');
	const insert = db.prepare(
		'INSERT INTO project (id, body, revision, undo_top, created_at, updated_at, version) VALUES (?, ?, 0, NULL, ?, ?, ?)',
	);
	const update = db.prepare(
		'UPDATE project SET body = ?, revision = ?, undo_top = ?, updated_at = ?, version = ? WHERE id = ?',
	);
	const setDeleted = db.prepare('UPDATE project SET deleted_at = ? WHERE id = ?');
	const purge = db.prepare('DELETE FROM project WHERE deleted_at < ?');
	return {
		list: () => list.all(),
		deleted: () => deleted.all(),
		find: (id: string) => find.get(id),
		insert: (project: Project, now: string) =>
			insert.run(project.id, JSON.stringify(project), now, now, VERSION),
		update: (project: Project, revision: number, undoTop: number | null, now: string) =>
			update.run(JSON.stringify(project), revision, undoTop, now, VERSION, project.id),
		setDeleted: (id: string, at: string | null) => void setDeleted.run(at, id),
		/** Removes for good what was deleted before a time. */
		purge: (before: string) => purge.run(before).changes,
	};
}
