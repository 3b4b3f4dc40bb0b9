import type { Database } from 'better-sqlite3';
import { MAP_OF, MAPS, type Doc, type Entity } from '$core/document/types';

type StoredEntity = Exclude<Entity, { type: 'project' }>;

export function entityTable(db: Database) {
	const all = db.prepare<[string], { body: string }>('SELECT body FROM entity WHERE project = ?');
	const put = db.prepare(
		`INSERT INTO entity (project, id, type, clip, part, body) VALUES (?, ?, ?, ?, ?, ?)
		 ON CONFLICT (project, id) DO UPDATE SET type = excluded.type, clip = excluded.clip, part = excluded.part, body = excluded.body`,
	);
	const drop = db.prepare('DELETE FROM entity WHERE project = ? AND id = ?');
	return {
		/** All entities of a project, in maps by kind. */
		load(project: string): Omit<Doc, 'project'> {
			const maps = Object.fromEntries(MAPS.map((map) => [map, {} as Record<string, Entity>]));
			for (const { body } of all.iterate(project)) {
				const entity = JSON.parse(body) as StoredEntity;
				maps[MAP_OF[entity.type]][entity.id] = entity;
			}
			return maps as unknown as Omit<Doc, 'project'>;
		},
		put(project: string, entity: StoredEntity): void {
			const clip = 'clip' in entity ? entity.clip : null;
			const part = 'part' in entity ? entity.part : null;
			put.run(project, entity.id, entity.type, clip, part, JSON.stringify(entity));
		},
		drop: (project: string, id: string) => drop.run(project, id),
	};
}
