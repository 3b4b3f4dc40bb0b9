import type { Database } from 'better-sqlite3';

export interface ExportRow {
	id: string;
	project: string;
	file_name: string;
	media_type: string;
	content: Buffer;
	report: string;
	made_at: string;
}

/** Exports kept for each project; older ones go. */
const KEPT = 10;

export function exportTable(db: Database) {
	const insert = db.prepare<ExportRow>(
		`INSERT INTO export (id, project, file_name, media_type, content, report, made_at)
		 VALUES (@id, @project, @file_name, @media_type, @content, @report, @made_at)`,
	);
	const trim = db.prepare(
		`DELETE FROM export WHERE project = ? AND id NOT IN
		 (SELECT id FROM export WHERE project = ? ORDER BY made_at DESC, id LIMIT ${KEPT})`,
	);
	const find = db.prepare<[string], ExportRow>('SELECT * FROM export WHERE id = ?');
	return {
		insert(row: ExportRow): void {
			insert.run(row);
			trim.run(row.project, row.project);
		},
		find: (id: string) => find.get(id),
	};
}
