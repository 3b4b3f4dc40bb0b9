import type { Database } from 'better-sqlite3';
import { migrateEntity, VERSION } from '$core/document/migrate';
import { MAP_OF, MAPS, type Doc, type Entity } from '$core/document/types';

type StoredEntity = Exclude<Entity, { type: 'project' }>;

export function entityTable(db: Database) {
	const all = db.prepare<[string], { body: string; version: number }>(
		'SELECT body, version FROM entity WHERE project = ?',
	);
	const put = db.prepare(
		`INSERT INTO entity (project, id, type, clip, part, body, version) VALUES (?, ?, ?, ?, ?, ?, ?)
		 ON CONFLICT (project, id) DO UPDATE SET type = excluded.type, clip = excluded.clip, part = excluded.part, body = excluded.body,
			version = excluded.version`,
	);
	const drop = db.prepare('DELETE FROM entity WHERE project = ? AND id = ?');
	return {
		/** All entities of a project in the current version, in maps by kind. */
		load(project: string): Omit<Doc, 'project'> {
			const maps = Object.fromEntries(MAPS.map((map) => [map, {} as Record<string, Entity>]));
			for (const { body, version } of all.iterate(project)) {
				const entity = migrateEntity(JSON.parse(body), version) as StoredEntity;
				maps[MAP_OF[entity.type]][entity.id] = entity;
			}
			return maps as unknown as Omit<Doc, 'project'>;
		},
		put(project: string, entity: StoredEntity): void {
			const clip = 'clip' in entity ? entity.clip : null;
			const part = 'part' in entity ? entity.part : null;
			put.run(project, entity.id, entity.type, clip, part, JSON.stringify(entity), VERSION);
		},
		drop: (project: string, id: string) => drop.run(project, id),
	};
}
