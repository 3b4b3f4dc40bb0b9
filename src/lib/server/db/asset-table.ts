import type { Database } from 'better-sqlite3';

export interface AssetRow {
	project: string;
	id: string;
	name: string;
	media_type: string;
	content: Buffer;
	made_at: string;
}

export function assetTable(db: Database) {
	const insert = db.prepare<AssetRow>(
		`INSERT INTO asset (project, id, name, media_type, content, made_at)
		 VALUES (@project, @id, @name, @media_type, @content, @made_at) ON CONFLICT (project, id) DO NOTHING`,
	);
	const find = db.prepare<[string, string], AssetRow>('SELECT * FROM asset WHERE project = ? AND id = ?');
	const size = db.prepare<[string], { bytes: number | null }>(
		'SELECT sum(length(content)) AS bytes FROM asset WHERE project = ?',
	);
	return {
		/** The same content a second time is kept once. */
		insert: (row: AssetRow) => insert.run(row),
		find: (project: string, id: string) => find.get(project, id),
		/** Bytes that a project's assets take. */
		size: (project: string) => size.get(project)!.bytes ?? 0,
	};
}
