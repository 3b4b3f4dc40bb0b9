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
	// The journal keeps every revision in reach, as what leads back to it.
	const collect = db.prepare<[string]>(
		`DELETE FROM asset WHERE made_at < ?
		 AND NOT EXISTS (SELECT 1 FROM entity WHERE entity.project = asset.project AND instr(entity.body, asset.id))
		 AND NOT EXISTS (SELECT 1 FROM journal WHERE journal.project = asset.project
			AND (instr(journal.forward, asset.id) OR instr(journal.inverse, asset.id)))`,
	);
	return {
		/** Deletes what was taken in before a time and is in no revision of its project. */
		collect: (before: string) => collect.run(before),
		/** The same content a second time is kept once. */
		insert: (row: AssetRow) => insert.run(row),
		find: (project: string, id: string) => find.get(project, id),
		/** Bytes that a project's assets take. */
		size: (project: string) => size.get(project)!.bytes ?? 0,
	};
}
