/**
 * All that happens to projects on disk: one revision number, one journal and one line of undo each. A changeset is
 * checked, then entities, revision and journal row are committed in one transaction.
 */
import type { Database } from 'better-sqlite3';
import { customAlphabet } from 'nanoid';
import { createHash } from 'node:crypto';
import { diffDocuments, isEmpty, touchedIds, touchesAny, type Changeset } from '$core/document/changeset';
import { applyChecked } from '$core/document/checked-changeset';
import { migrateEntity, VERSION } from '$core/document/migrate';
import type { TakenIn } from '$core/formats/format';
import { MOST_ASSET_BYTES } from '$core/formats/project/limits';
import { assetsOf } from '$core/document/assets';
import { begin, type Beginning } from '$core/motions/beginnings';
import { emptyDoc, MAPS, type Doc, type Project } from '$core/document/types';
import type { Space } from '$core/pose/space';
import { validateDocument, validateShape } from '$core/document/validate';
import { entityTable } from './db/entity-table';
import { assetTable, type AssetRow } from './db/asset-table';
import { exportTable } from './db/export-table';
import { journalTable } from './db/journal-table';
import { projectTable, type ProjectRow } from './db/project-table';
import type { components } from '$lib/api/types.generated';
import { mediaOf, type Media } from './media';
import { ApiError } from './problem';
import { changesetOf, tellRows, walkBack } from './versions';

export const newId = customAlphabet('0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz', 16);

/** A file that comes with a document. */
export interface NewFile extends Media {
	/** SHA-256 of the content, in hexadecimal. */
	id: string;
}
export async function newFile({ id, name, content }: TakenIn['files'][number]): Promise<NewFile> {
	return { id, ...(await mediaOf(name, Buffer.from(content))) };
}

type Schemas = components['schemas'];
type Saved = Schemas['Saved'];
type Line = Omit<Saved, 'revision'>;
type Foreign = Schemas['Foreign'];
type Answered = Schemas['Answered'];

/** Documents kept in memory. */
const CACHED = 16;
/** A file that no revision refers to is kept for this long: it may be about to be used. */
const KEEP_UNUSED_DAYS = 1;
/** Deleted projects can be brought back for this long. */
const KEEP_DELETED_DAYS = 30;
const DAY = 86_400_000;

export function sha256(content: Uint8Array): string {
	return createHash('sha256').update(content).digest('hex');
}

export class ProjectStore {
	private readonly projects;
	private readonly entities;
	private readonly journal;
	readonly exports;
	private readonly assets;
	/** Who is told when a project changes, or goes. */
	private readonly watchers = new Map<string, Set<(isThere: boolean) => void>>();
	private readonly cache = new Map<string, { revision: number; doc: Doc }>();

	constructor(
		private readonly db: Database,
		private readonly now: () => string = () => new Date().toISOString(),
	) {
		this.projects = projectTable(db);
		this.entities = entityTable(db);
		this.journal = journalTable(db);
		this.exports = exportTable(db);
		this.assets = assetTable(db);
		const oldest = new Date(Date.parse(this.now()) - KEEP_DELETED_DAYS * DAY).toISOString();
		this.projects.purge(oldest);
		this.assets.collect(new Date(Date.parse(this.now()) - KEEP_UNUSED_DAYS * 86_400_000).toISOString());
	}

	list() {
		return this.projects.list().map((row) => ({
			...this.load(row.id),
			updatedAt: row.updated_at,
			bytes: row.bytes + row.body.length,
		}));
	}

	/** Calls a function after each change of a project, and when it is deleted; gives what ends it. */
	watch(id: string, told: (isThere: boolean) => void): () => void {
		const all = this.watchers.get(id) ?? new Set();
		this.watchers.set(id, all.add(told));
		return () => {
			all.delete(told);
			if (all.size === 0 && this.watchers.get(id) === all) this.watchers.delete(id);
		};
	}

	private tell(id: string, isThere = true): void {
		for (const told of this.watchers.get(id) ?? []) told(isThere);
	}

	isEmpty(): boolean {
		return this.projects.list().length === 0;
	}

	private row(id: string, deleted = false): ProjectRow {
		const row = this.projects.find(id);
		if (!row || (row.deleted_at !== null) !== deleted) {
			throw new ApiError('not-found', `There is no project "${id}" here.`);
		}
		return row;
	}

	private docOf(row: ProjectRow): Doc {
		const cached = this.cache.get(row.id);
		if (cached?.revision === row.revision) return cached.doc;
		if (row.version > VERSION)
			throw new ApiError('newer-project', 'A newer Hillock has written this project: update Hillock.');
		const project = migrateEntity(JSON.parse(row.body), row.version) as Project;
		const doc: Doc = { project, ...this.entities.load(row.id) };
		this.remember(row.id, row.revision, doc);
		return doc;
	}

	private remember(id: string, revision: number, doc: Doc): void {
		this.cache.delete(id);
		this.cache.set(id, { revision, doc });
		if (this.cache.size > CACHED) this.cache.delete(this.cache.keys().next().value!);
	}

	private line(row: Pick<ProjectRow, 'id' | 'undo_top'>): Line {
		const top = row.undo_top === null ? undefined : this.journal.byRevision(row.id, row.undo_top);
		return { undo: top?.label ?? null, redo: this.journal.above(row.id, row.undo_top)?.label ?? null };
	}

	load(id: string): Schemas['Loaded'] {
		const row = this.row(id);
		return { doc: this.docOf(row), revision: row.revision, ...this.line(row) };
	}

	/** Edits up to a revision (the newest without one), newest first, or all whose version has a name. */
	history(id: string, limit: number, upTo?: number): Schemas['JournalEntry'][] {
		const row = this.row(id);
		return tellRows(
			this.journal,
			id,
			this.nowOf(row),
			this.journal.backFrom(id, upTo ?? row.revision, limit),
		);
	}

	namedVersions(id: string): Schemas['JournalEntry'][] {
		return tellRows(this.journal, id, this.nowOf(this.row(id)), this.journal.named(id));
	}

	/** Gives the version after an edit a name, or takes it away. */
	nameVersion(id: string, revision: number, name: string | null): void {
		this.row(id);
		if (!this.journal.rename(id, revision, name))
			throw new ApiError('not-found', `There is no version ${revision} of this project.`);
	}

	/** The project as it was after an edit, worked out backwards from how it is now. */
	version(id: string, revision: number): Schemas['Version'] {
		const row = this.row(id);
		const known = Number.isInteger(revision) && revision >= 0 && revision <= row.revision;
		if (!known) throw new ApiError('not-found', `There is no version ${revision} of this project.`);
		return walkBack(this.journal, id, this.nowOf(row), revision);
	}

	private nowOf(row: ProjectRow): Schemas['Version'] {
		return { doc: this.docOf(row), revision: row.revision };
	}

	/** Takes in a picture, a film, a sound or a model; its id is the SHA-256 of its content. */
	addAsset(project: string, media: Media): Schemas['Asset'] {
		this.row(project);
		return this.keepAsset(project, media);
	}

	private keepAsset(project: string, { name, content, mediaType }: Media): Schemas['Asset'] {
		if (this.assets.size(project) + content.length > MOST_ASSET_BYTES)
			throw new ApiError('too-large', 'The pictures, films and models of a project may take 256 MB in all.');
		const id = sha256(content);
		this.assets.insert({ project, id, name, media_type: mediaType, content, made_at: this.now() });
		return { id, mediaType };
	}

	/** All that a document refers to, as far as it is here. */
	assetsOf(project: string, doc: Doc): AssetRow[] {
		return [...assetsOf(doc)].flatMap((id) => this.assets.find(project, id) ?? []);
	}

	asset(project: string, id: string): AssetRow {
		this.row(project);
		const row = this.assets.find(project, id);
		if (!row) throw new ApiError('not-found', 'This file is not here: put it in again.');
		return row;
	}

	/** Stores a whole document as a new project with an id of its own, and the files that it refers to. */
	add(doc: Doc, { id = newId(), files = [] }: { id?: string; files?: readonly NewFile[] } = {}): string {
		const own: Doc = { ...doc, project: { ...doc.project, id } };
		const checked = validateDocument({ format: 'hillock-project', version: VERSION, ...own });
		if (!checked.ok) throw ApiError.of(checked.problems);
		this.db.transaction(() => {
			this.projects.insert(own.project, this.now());
			for (const map of MAPS) for (const entity of Object.values(own[map])) this.entities.put(id, entity);
			for (const { id: told, ...media } of files) {
				const kept = this.keepAsset(id, media);
				if (kept.id !== told)
					throw new ApiError(
						'bad-document',
						`The file ${told} has been changed: its content is another one.`,
					);
			}
		})();
		// Who brings a project in opens it next.
		this.remember(id, 0, checked.value);
		return id;
	}

	create(name: string, space: Space, start: Beginning = 'nothing'): string {
		const id = newId();
		const frameRate = space === 'world' ? 30 : 60;
		return this.add(begin(emptyDoc({ type: 'project', id, name, space, frameRate }), start), { id });
	}

	remove(id: string): void {
		this.row(id);
		this.projects.setDeleted(id, this.now());
		this.tell(id, false);
	}

	/** Projects that were deleted and can still be brought back, the one deleted last first. */
	deleted(): Schemas['DeletedProject'][] {
		return this.projects.deleted().map(({ id, body, deleted_at: deletedAt }) => ({
			id,
			name: (JSON.parse(body) as Project).name,
			deletedAt,
			keptUntil: new Date(Date.parse(deletedAt) + KEEP_DELETED_DAYS * DAY).toISOString(),
		}));
	}

	restore(id: string): void {
		this.row(id, true);
		this.projects.setDeleted(id, null);
	}

	/** What was done after a revision, with what undo and redo would do now. */
	changes(id: string, after: number): Schemas['Event'][] {
		const row = this.row(id);
		const line = this.line(row);
		return this.missed(id, after, row.revision + 1).map((row) => ({ ...row, ...line }));
	}

	/** What was done after a revision, up to another one that is left out. */
	private missed(id: string, base: number, before: number): Foreign[] {
		return this.journal.between(id, base, before).map(({ revision, label, forward, version }) => ({
			revision,
			label,
			changeset: changesetOf(forward, version),
		}));
	}

	/** The first answer to an edit, when it was made before, and what the journal has of it. */
	private answerAgain(row: ProjectRow, base: number, editId: string) {
		const known = this.journal.byEdit(row.id, editId);
		if (!known) return null;
		const { revision, label } = known;
		const answered: Answered = {
			revision,
			...this.line(row),
			missed: this.missed(row.id, base, revision),
		};
		return { answered, label, changeset: changesetOf(known.forward, known.version) };
	}

	/**
	 * Applies a changeset that was made on `base`. When others changed the project since, it is applied all the same
	 * if they touched other entities; else it is refused and nothing changes. Either way what they did is told.
	 */
	edit(id: string, base: number, editId: string, label: string, changeset: Changeset): Answered {
		const row = this.row(id);
		const again = this.answerAgain(row, base, editId);
		if (again) return again.answered;
		if (base > row.revision) this.refuseStale(row, base, 'The revision in If-Match is not known here.');
		const doc = this.docOf(row);
		const applied = applyChecked(doc, changeset);
		const missed = this.missed(id, base, row.revision + 1);
		if (missed.length > 0 && validateShape('changeset', changeset).length === 0) {
			const mine = touchedIds(changeset);
			if (missed.some((other) => touchesAny(other.changeset, mine)))
				this.refuseStale(row, base, 'Another window changed the same things.');
		}
		if (!applied.ok) throw ApiError.of(applied.problems);
		// What changes nothing is nothing to undo.
		if (isEmpty(changeset)) return { revision: row.revision, ...this.line(row), missed };
		const inverse = diffDocuments(applied.value, doc);
		const revision = row.revision + 1;
		const top = { id, undo_top: revision };
		this.db.transaction(() => {
			this.store(id, applied.value, changeset);
			this.projects.update(applied.value.project, revision, revision, this.now());
			this.journal.insert({
				project: id,
				revision,
				edit_id: editId,
				kind: 'edit',
				label,
				forward: JSON.stringify(changeset),
				inverse: JSON.stringify(inverse),
				below: row.undo_top,
				made_at: this.now(),
				version: VERSION,
			});
		})();
		this.remember(id, revision, applied.value);
		this.tell(id);
		return { revision, ...this.line(top), missed };
	}

	private refuseStale(row: ProjectRow, base: number, detail: string): never {
		const { id, revision } = row;
		// Of a revision that never was here nobody can say what was missed.
		const missed = base > revision ? null : this.missed(id, base, revision + 1);
		throw new ApiError('stale-revision', detail, undefined, { revision, ...this.line(row), missed });
	}

	/** Takes the last edit back, or does the last undone one again: itself an entry of the journal. */
	retrace(
		id: string,
		base: number,
		editId: string,
		kind: 'undo' | 'redo',
		/** The edit that is meant; without it the last one, whatever it is. */
		of?: string,
	): Answered & { label: string; changeset: Changeset } {
		const row = this.row(id);
		const again = this.answerAgain(row, base, editId);
		if (again) return { ...again.answered, label: again.label, changeset: again.changeset };
		if (base !== row.revision) this.refuseStale(row, base, 'Another window changed the project.');
		const edit =
			kind === 'redo'
				? this.journal.above(id, row.undo_top)
				: row.undo_top === null
					? undefined
					: this.journal.byRevision(id, row.undo_top);
		if (!edit) throw new ApiError('nothing-to-undo', `There is nothing to ${kind}.`);
		if (of !== undefined && edit.edit_id !== of)
			this.refuseStale(row, base, `The last edit is now “${edit.label}”.`);
		const [forward, inverse] = [edit.forward, edit.inverse].map((own) => changesetOf(own, edit.version));
		const changeset = kind === 'undo' ? inverse : forward;
		const doc = this.docOf(row);
		const applied = applyChecked(doc, changeset);
		if (!applied.ok) throw ApiError.of(applied.problems);
		const revision = row.revision + 1;
		const undoTop = kind === 'undo' ? edit.below : edit.revision;
		this.db.transaction(() => {
			this.store(id, applied.value, changeset);
			this.projects.update(applied.value.project, revision, undoTop, this.now());
			this.journal.insert({
				project: id,
				revision,
				edit_id: editId,
				kind,
				label: edit.label,
				forward: JSON.stringify(changeset),
				inverse: JSON.stringify(kind === 'undo' ? forward : inverse),
				below: edit.revision,
				made_at: this.now(),
				version: VERSION,
			});
		})();
		this.remember(id, revision, applied.value);
		this.tell(id);
		return { revision, label: edit.label, changeset, missed: [], ...this.line({ id, undo_top: undoTop }) };
	}

	/** Writes the rows that a changeset touched. */
	private store(id: string, doc: Doc, changeset: Changeset): void {
		for (const gone of changeset.drop) this.entities.drop(id, gone);
		for (const changed of [...Object.keys(changeset.put), ...Object.keys(changeset.splice)]) {
			const map = MAPS.find((name) => Object.hasOwn(doc[name], changed));
			if (map) this.entities.put(id, doc[map][changed]);
		}
	}
}
