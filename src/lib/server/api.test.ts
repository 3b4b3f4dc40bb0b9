/** The API as a client meets it: the route handlers on a database of their own. */
import SwaggerParser from '@apidevtools/swagger-parser';
import Ajv from 'ajv/dist/2020';
import { createHash } from 'node:crypto';
import { mkdtempSync, readdirSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { closeLive, liveStream } from './live';
import type { Changeset } from '$core/document/changeset';
import { diffDocuments } from '$core/document/changeset';
import { putBlend, putCue, putSavedShape } from '$core/edits/clips';
import { MAX_FILE_LENGTH } from '$core/formats/project/limits';
import { newFormula, putFormula } from '$core/edits/formulas';
import { setValue } from '$core/edits/keys';
import { removePart } from '$core/edits/parts';
import { VERSION } from '$core/document/migrate';
import type { Doc } from '$core/document/types';
import { writeProjectFile } from '$core/formats/project/file';
import { makeQuay } from '../../../demo/quay';
import * as assetsRoute from '../../routes/api/projects/[project]/assets/+server';
import * as assetRoute from '../../routes/api/projects/[project]/assets/[asset]/+server';
import * as demoRoute from '../../routes/api/demo/+server';
import * as journalRoute from '../../routes/api/projects/[project]/journal/+server';
import * as importRoute from '../../routes/api/projects/import/+server';
import * as projectRoute from '../../routes/api/projects/[project]/+server';
import * as redoRoute from '../../routes/api/projects/[project]/redo/+server';
import * as restoreRoute from '../../routes/api/projects/[project]/restore/+server';
import * as versionRoute from '../../routes/api/projects/[project]/versions/[revision]/+server';
import * as undoRoute from '../../routes/api/projects/[project]/undo/+server';
import { openDatabase } from './db/database';
import { openapi } from '$lib/api/openapi';
import { ProjectStore } from './project-store';
import { EDIT_LIMIT } from './request';
import { allowFollowing, refuseStrangers } from './safety';
import { closeStore, getStore } from './store';

const BASE = 'http://127.0.0.1:4720';
let folder: string;

beforeEach(() => {
	folder = mkdtempSync(join(tmpdir(), 'hillock-api-'));
	process.env.HILLOCK_DATA = folder;
});
afterEach(async () => {
	await closeStore();
	rmSync(folder, { recursive: true, force: true });
});

type Handler = (event: never) => Response | Promise<Response>;

async function ask(
	handler: Handler,
	project: string,
	init: { body?: unknown; text?: string; headers?: Record<string, string> } = {},
	described: unknown = handler,
) {
	const body = init.text ?? (init.body === undefined ? undefined : JSON.stringify(init.body));
	const request = new Request(`${BASE}/api`, {
		method: body === undefined ? 'GET' : 'POST',
		body,
		headers: { 'content-type': 'application/json', ...init.headers },
	});
	const response = await handler({ params: { project }, request } as never);
	await expectAsDescribed(described, response.clone());
	const type = response.headers.get('content-type') ?? '';
	return {
		status: response.status,
		type,
		// eslint-disable-next-line @typescript-eslint/no-explicit-any
		body: type.includes('json') ? ((await response.json()) as any) : null,
	};
}

/** Which path and method of the description a handler is. */
const operations = new Map<unknown, Operation>(
	Object.entries(
		import.meta.glob<Record<string, unknown>>('../../routes/api/**/+server.ts', { eager: true }),
	).flatMap(([file, handlers]) => {
		const path = file.slice('../../routes'.length, -'/+server.ts'.length).replace(/\[(\w+)\]/g, '{$1}');
		const methods = (openapi.paths as Record<string, Record<string, Operation>>)[path];
		return Object.entries(handlers).map(([method, handler]) => [handler, methods[method.toLowerCase()]]);
	}),
);
interface Operation {
	responses: Record<string, { content?: Record<string, { schema?: { $ref?: string } }> }>;
}
const ajv = new Ajv({ strict: false, formats: {} }).addSchema(
	{ $id: 'api', components: openapi.components },
	'api',
);

/** Each answer is one that the description has, and its body is as it is described there: no more and no less. */
async function expectAsDescribed(handler: unknown, response: Response): Promise<void> {
	const { responses } = operations.get(handler)!;
	const described = responses[response.status];
	expect(described, `an answer ${response.status}`).toBeDefined();
	const [mediaType] = (response.headers.get('content-type') ?? '').split(';');
	if (!mediaType.includes('json')) return;
	const schema = described.content?.[mediaType]?.schema;
	expect(schema?.$ref, `${response.status} ${mediaType}`).toMatch(/^#/);
	const validate = ajv.compile({ $ref: `api${schema!.$ref}` });
	expect(validate(await response.json()), JSON.stringify(validate.errors)).toBe(true);
}

function newProject(): { id: string; doc: Doc } {
	const id = getStore().add(makeQuay());
	return { id, doc: getStore().load(id).doc };
}

const SACK = { clip: 'sack-drop', part: 'mail-sack', property: 'translation', component: 'y' } as const;
const SACK_ID = 'sack-drop/mail-sack/translation/y';

function keyAt(doc: Doc, t: number, v: number): Changeset {
	return diffDocuments(doc, setValue(doc, SACK, t, v));
}
function edit(id: string, revision: number, changeset: unknown, editId: string, label = 'Set value') {
	return ask(projectRoute.PATCH as Handler, id, {
		body: { editId, label, changeset },
		headers: { 'if-match': `"${revision}"` },
	});
}
function retrace(handler: unknown, id: string, revision: number, editId: string) {
	return ask(handler as Handler, id, { body: { editId }, headers: { 'if-match': `"${revision}"` } });
}

describe('a disk without room', () => {
	it('is said, nothing is lost or half taken, and it goes on when there is room again', async () => {
		const { id } = newProject();
		const db = getStore()['db'];
		const pages = db.pragma('page_count', { simple: true }) as number;
		db.pragma(`max_page_count = ${pages}`);
		let count = 0;
		const once = () =>
			edit(id, count, keyAt(getStore().load(id).doc, 7200, 100 + count), `e${count}`, 'x'.repeat(120));
		// At first there is room in the pages that there are.
		let full = await once();
		while (full.status === 200 && count++ < 400) full = await once();
		expect(full).toMatchObject({ status: 507, body: { title: 'The disk of the server is full' } });
		expect(getStore().load(id).revision).toBe(count);
		await closeStore();
		expect(getStore().load(id).revision).toBe(count);
		expect(await once()).toMatchObject({ status: 200, body: { revision: count + 1 } });
	});

	it('a page that is torn is told as what it is', async () => {
		const { id } = newProject();
		vi.spyOn(getStore(), 'load').mockImplementation(() => {
			throw Object.assign(new Error('malformed'), { code: 'SQLITE_CORRUPT_VTAB' });
		});
		expect(await ask(projectRoute.GET as Handler, id)).toMatchObject({
			status: 500,
			body: { type: '/problems/damaged' },
		});
	});
});

describe('edits', () => {
	it('that change nothing make no revision, and those without a changeset are refused, stale ones too', async () => {
		const { id, doc } = newProject();
		const nothing = { put: {}, drop: [], splice: {} };
		expect(await edit(id, 0, nothing, 'n1')).toMatchObject({
			status: 200,
			body: { revision: 0, undo: null },
		});
		await edit(id, 0, keyAt(doc, 7200, 9), 'e1');
		expect(await edit(id, 0, nothing, 'n2')).toMatchObject({
			status: 200,
			body: { revision: 1, missed: [{ revision: 1 }] },
		});
		for (const changeset of [undefined, null, 7, {}])
			for (const base of [0, 1]) expect((await edit(id, base, changeset, 'n3')).status).toBe(422);
		expect(getStore().load(id).revision).toBe(1);
	});
	it('are stored with a new revision; undo and redo lead there and back, also after a restart', async () => {
		const { id, doc } = newProject();
		expect((await edit(id, 0, keyAt(doc, 7200, 9), 'e1')).body).toMatchObject({
			revision: 1,
			undo: 'Set value',
			redo: null,
		});
		const keyed = getStore().load(id).doc;
		await closeStore();
		expect(getStore().load(id).doc).toEqual(keyed);
		expect((await retrace(undoRoute.POST, id, 1, 'u1')).body).toMatchObject({
			revision: 2,
			undo: null,
			redo: 'Set value',
		});
		expect(getStore().load(id).doc).toEqual(doc);
		await closeStore();
		expect((await retrace(redoRoute.POST, id, 2, 'r1')).body).toMatchObject({ revision: 3, redo: null });
		expect(getStore().load(id).doc).toEqual(keyed);
	});

	it('of every kind of entity are on disk when they are acknowledged', async () => {
		const { id, doc } = newProject();
		const clip = Object.keys(doc.clips)[0];
		const part = Object.keys(doc.parts)[0];
		const formula = newFormula(clip, part, 'scale', 'z');
		const made = [
			(d: Doc) => putFormula(d, formula),
			(d: Doc) => putCue(d, { type: 'cue', id: 'horn', clip, name: 'horn', t: 0, payload: null }),
			(d: Doc) =>
				putBlend(d, {
					from: clip,
					to: clip,
					kind: 'cut',
					seconds: 0,
					start: 'start',
					shape: { kind: 'hold' },
				}),
			(d: Doc) =>
				putSavedShape(d, {
					type: 'savedShape',
					id: 'own',
					name: 'own',
					order: 'a0',
					shape: { kind: 'fall' },
				}),
		].reduce((next, put) => put(next), doc);
		expect((await edit(id, 0, diffDocuments(doc, made), 'all')).status).toBe(200);
		await closeStore();
		expect(getStore().load(id).doc).toEqual(made);
	});

	it('leave every version to be looked at, also those before an undo', async () => {
		const { id, doc } = newProject();
		await edit(id, 0, keyAt(doc, 7200, 9), 'e1');
		const keyed = getStore().load(id).doc;
		await edit(id, 1, keyAt(keyed, 14_400, 1), 'e2');
		await retrace(undoRoute.POST, id, 2, 'u1');
		const version = (revision: number) =>
			versionRoute.GET({ params: { project: id, revision: String(revision) } } as never) as Promise<Response>;
		expect((await (await version(0)).json()).doc).toEqual(doc);
		expect((await (await version(1)).json()).doc).toEqual(keyed);
		expect((await (await version(2)).json()).doc.channels[SACK_ID].keys).toContainEqual(
			expect.objectContaining({ t: 14_400, v: 1 }),
		);
		expect((await (await version(3)).json()).doc).toEqual(keyed);
		for (const bad of [4, -1, 0.5, NaN]) expect((await version(bad)).status).toBe(404);
	});

	it('are told to those who watch, as is that the project is gone', async () => {
		const { id, doc } = newProject();
		const told: boolean[] = [];
		const stop = getStore().watch(id, (isThere) => told.push(isThere));
		await edit(id, 0, keyAt(doc, 7200, 9), 'e1');
		getStore().remove(id);
		expect(told).toEqual([true, false]);
		stop();
		getStore().restore(id);
		await edit(id, 1, keyAt(doc, 9600, 9), 'e2');
		expect(told).toHaveLength(2);
	});

	it('are told as they happen on a line that stays open, from a revision on, until the server stops', async () => {
		const { id, doc } = newProject();
		await edit(id, 0, keyAt(doc, 7200, 9), 'e1', 'first');
		const store = getStore();
		const lines = [0, 1].map((since) => liveStream(store, id, since).body!.getReader());
		const read = async (line: number) => new TextDecoder().decode((await lines[line].read()).value);
		expect(await read(0)).toBe('retry: 1500\n\n');
		expect(await read(0)).toMatch(/^id: 1\ndata: .*"label":"first".*\n\n$/);
		expect(await read(1)).toBe('retry: 1500\n\n');
		// Who has gone is told nothing more, and does not hinder those who stay.
		await lines[0].cancel();
		await edit(id, 1, keyAt(store.load(id).doc, 9600, 9), 'e2', 'second');
		expect(await read(1)).toMatch(/^id: 2\ndata: .*"label":"second"/);
		store.remove(id);
		expect(await read(1)).toBe('event: gone\ndata: {}\n\n');
		closeLive();
		expect((await lines[1].read()).done).toBe(true);
		// All are closed: nothing is left to be closed twice.
		expect(closeLive).not.toThrow();
	});

	it('are listed a page at a time with what each touched, and a version can have a name', async () => {
		const { id, doc } = newProject();
		await edit(id, 0, keyAt(doc, 7200, 9), 'e1', 'first');
		await edit(id, 1, keyAt(getStore().load(id).doc, 7200, 8), 'e2', 'second');
		await retrace(undoRoute.POST, id, 2, 'u1');
		const list = async (query: string) => {
			const url = new URL(`${BASE}/journal${query}`);
			const response = (await journalRoute.GET({ params: { project: id }, url } as never)) as Response;
			await expectAsDescribed(journalRoute.GET, response.clone());
			return ((await response.json()) as { rows?: { revision: number; name: string | null }[] }).rows;
		};
		expect(await list('')).toMatchObject([
			{ revision: 3, kind: 'undo', label: 'second', touched: { before: 8, after: 9 } },
			{ revision: 2, kind: 'edit', label: 'second', touched: { before: 9, after: 8 } },
			{ revision: 1, label: 'first', name: null, touched: { part: 'mail sack', after: 9 } },
		]);
		expect((await list('?upTo=2'))?.map(({ revision }) => revision)).toEqual([2, 1]);
		expect(await list('?upTo=x')).toBeUndefined();
		const name = (revision: string, body: unknown) =>
			ask(
				((event: { request: Request }) =>
					versionRoute.PATCH({ ...event, params: { project: id, revision } } as never)) as Handler,
				id,
				{ body },
				versionRoute.PATCH,
			);
		expect((await name('2', { name: ' heavy sack ' })).status).toBe(204);
		expect(await list('?named=true')).toMatchObject([{ revision: 2, name: 'heavy sack' }]);
		expect((await name('2', { name: null })).status).toBe(204);
		expect(await list('?named=true')).toEqual([]);
		for (const bad of ['', 'x'.repeat(81), 7, undefined])
			expect((await name('2', { name: bad })).status).toBe(422);
		for (const bad of ['0', '4', 'x']) expect((await name(bad, { name: 'n' })).status).toBe(404);
		await ask(projectRoute.DELETE as Handler, id);
		expect((await name('2', { name: 'n' })).status).toBe(404);
	});

	it('after an undo start a new line: what was undone is not done again', async () => {
		const { id, doc } = newProject();
		await edit(id, 0, keyAt(doc, 7200, 9), 'e1', 'first');
		await edit(id, 1, keyAt(getStore().load(id).doc, 9600, 8), 'e2', 'second');
		await retrace(undoRoute.POST, id, 2, 'u1');
		const third = await edit(id, 3, keyAt(getStore().load(id).doc, 12_000, 7), 'e3', 'third');
		expect(third.body).toMatchObject({ undo: 'third', redo: null });
		expect((await retrace(undoRoute.POST, id, 4, 'u2')).body).toMatchObject({ undo: 'first', redo: 'third' });
		expect((await retrace(undoRoute.POST, id, 5, 'u3')).body).toMatchObject({ undo: null, redo: 'first' });
		expect(getStore().load(id).doc).toEqual(doc);
		expect((await retrace(undoRoute.POST, id, 6, 'u4')).status).toBe(409);
	});

	it('sent again after a lost answer get the first answer and happen once', async () => {
		const { id, doc } = newProject();
		const changeset = keyAt(doc, 7200, 9);
		const first = await edit(id, 0, changeset, 'same');
		const again = await edit(id, 0, changeset, 'same');
		expect(again.body).toEqual(first.body);
		expect(getStore().load(id).revision).toBe(1);
	});

	it('on a stale revision are refused when they touch the same channel, and taken when they do not', async () => {
		const { id, doc } = newProject();
		await edit(id, 0, keyAt(doc, 7200, 9), 'a');
		const clash = await edit(id, 0, keyAt(doc, 9600, 5), 'b');
		expect(clash).toMatchObject({ status: 412, type: 'application/problem+json' });
		expect(clash.body).toMatchObject({ type: '/problems/stale-revision', revision: 1 });
		const elsewhere = diffDocuments(doc, setValue(doc, { ...SACK, component: 'z' }, 0, 1));
		expect((await edit(id, 0, elsewhere, 'c')).body).toMatchObject({ revision: 2 });
	});

	it('without or with a wrong If-Match are refused', async () => {
		const { id, doc } = newProject();
		const body = { editId: 'x', label: 'x', changeset: keyAt(doc, 7200, 9) };
		expect((await ask(projectRoute.PATCH as Handler, id, { body })).status).toBe(428);
		expect(
			(await ask(projectRoute.PATCH as Handler, id, { body, headers: { 'if-match': 'W/"0"' } })).status,
		).toBe(400);
		expect((await edit(id, 99, body.changeset, 'y')).status).toBe(412);
	});

	it.each<[string, (doc: Doc) => unknown, string]>([
		['no changeset', () => 'pelican', ''],
		[
			'a key without a value',
			() => ({
				put: {},
				drop: [],
				splice: { [SACK_ID]: [{ at: 0, remove: 0, insert: [{ t: 1, shape: { kind: 'hold' } }] }] },
			}),
			'/splice/sack-drop~1mail-sack~1translation~1y/0/insert/0',
		],
		[
			'keys out of order',
			() => ({
				put: {},
				drop: [],
				splice: { [SACK_ID]: [{ at: 0, remove: 0, insert: [{ t: 99_999, v: 1, shape: { kind: 'hold' } }] }] },
			}),
			'/splice/sack-drop~1mail-sack~1translation~1y/keys/1/t',
		],
		[
			'a splice beyond the keys',
			() => ({ put: {}, drop: [], splice: { [SACK_ID]: [{ at: 500, remove: 1, insert: [] }] } }),
			'/splice/sack-drop~1mail-sack~1translation~1y/0/at',
		],
		['a part that channels still name', () => ({ put: {}, splice: {}, drop: ['mail-sack'] }), '/drop/0'],
		[
			'a ring of parents',
			(doc) => ({
				splice: {},
				drop: [],
				put: { 'crane-post': { ...doc.parts['crane-post'], parent: 'hook' } },
			}),
			'/put/crane-post/parent',
		],
		[
			'an id that differs',
			(doc) => ({ splice: {}, drop: [], put: { elsewhere: doc.parts.buoy } }),
			'/put/elsewhere/id',
		],
		[
			'an unknown member',
			(doc) => ({ splice: {}, drop: [], put: { buoy: { ...doc.parts.buoy, wings: 2 } } }),
			'/put/buoy/wings',
		],
		[
			'a reserved id',
			(doc) => ({ splice: {}, drop: [], put: { constructor: { ...doc.parts.buoy, id: 'constructor' } } }),
			'/put/constructor/id',
		],
		['something to drop that is not there', () => ({ put: {}, splice: {}, drop: ['nobody'] }), '/drop/0'],
	])('with %s change nothing and say where', async (_, make, pointer) => {
		const { id, doc } = newProject();
		const refused = await edit(id, 0, make(doc), 'bad');
		expect(refused).toMatchObject({ status: 422, type: 'application/problem+json' });
		expect(refused.body.pointer).toBe(pointer);
		expect(refused.body.detail.length).toBeGreaterThan(10);
		await closeStore();
		expect(getStore().load(id)).toMatchObject({ revision: 0, doc });
	});

	it('over the size limit are refused unread', async () => {
		const { id } = newProject();
		const text = `{"editId":"big","label":"big","changeset":"${'x'.repeat(EDIT_LIMIT)}"}`;
		expect(
			(await ask(projectRoute.PATCH as Handler, id, { text, headers: { 'if-match': '"0"' } })).status,
		).toBe(413);
	});

	it('that delete a part with its channels come back whole', async () => {
		const { id, doc } = newProject();
		const changeset = diffDocuments(doc, removePart(doc, 'ferry'));
		expect(changeset.drop).toEqual(
			expect.arrayContaining(['ferry', 'paddle-wheel', 'ferry-crossing/ferry/translation/x']),
		);
		await edit(id, 0, changeset, 'gone');
		await retrace(undoRoute.POST, id, 1, 'back');
		expect(getStore().load(id).doc).toEqual(doc);
		expect(getStore().deleted()).toEqual([]);
	});
});

describe('imports', () => {
	const file = () => JSON.parse(writeProjectFile(makeQuay())) as Record<string, never>;
	const send = (text: string) => ask(importRoute.POST as Handler, '', { text });
	// eslint-disable-next-line @typescript-eslint/no-explicit-any
	const broken = (change: (body: any) => void) => {
		const body = file();
		change(body);
		return JSON.stringify(body);
	};

	it('of a written file give the same document', async () => {
		const { status, body } = await send(writeProjectFile(makeQuay()));
		expect(status).toBe(201);
		const { doc } = getStore().load(body.id);
		expect({ ...doc, project: { ...doc.project, id: 'quay' } }).toEqual(makeQuay());
	});

	it('keep markup in names as text', async () => {
		const name = '<img src=x onerror=alert(1)>';
		const { body } = await send(broken((b) => (b.parts.buoy.name = name)));
		expect(getStore().load(body.id).doc.parts.buoy.name).toBe(name);
	});

	it.each<[string, () => string, RegExp, string | undefined]>([
		['what is not JSON', () => '{"format": pelican}', /not JSON/, ''],
		['another format', () => '{"format":"song"}', /no Hillock project file/, '/format'],
		['a newer version', () => broken((b) => (b.version = VERSION + 1)), /newer/, '/version'],
		[
			'a ring of parents',
			() => broken((b) => (b.parts['crane-post'].parent = 'hook')),
			/ancestor/,
			undefined,
		],
		[
			'a channel for a part that is not there',
			() => broken((b) => delete b.parts.buoy),
			/There is no part/,
			undefined,
		],
		[
			'keys out of order',
			() => broken((b) => b.channels[SACK_ID].keys.reverse()),
			/order of time/,
			'/channels/sack-drop~1mail-sack~1translation~1y/keys/1/t',
		],
		['NaN', () => JSON.stringify(file()).replace('"v":3.1', '"v":NaN'), /not JSON/, ''],
		[
			'1e400',
			() => JSON.stringify(file()).replace('"v":3.1', '"v":1e400'),
			/must be/,
			'/channels/sack-drop~1mail-sack~1translation~1y/keys/0/v',
		],
		[
			'a fraction of a tick',
			() => broken((b) => (b.channels[SACK_ID].keys[0].t = 0.5)),
			/integer/,
			'/channels/sack-drop~1mail-sack~1translation~1y/keys/0/t',
		],
		[
			'an unknown shape',
			() => broken((b) => (b.channels[SACK_ID].keys[0].shape = { kind: 'wobble' })),
			/./,
			'/channels/sack-drop~1mail-sack~1translation~1y/keys/0/shape/kind',
		],
		['__proto__ as an id', () => JSON.stringify(file()).replace('"buoy":{', '"__proto__":{'), /./, undefined],
		['deep nesting', () => '['.repeat(30_000_000), /deeper/, ''],
	])('refuse %s and store nothing', async (_, make, message, pointer) => {
		const refused = await send(make());
		expect(refused.status).toBeGreaterThanOrEqual(400);
		expect(refused.status).toBeLessThan(500);
		expect(refused.body.detail).toMatch(message);
		if (pointer !== undefined) expect(refused.body.pointer).toBe(pointer);
		expect(getStore().list()).toEqual([]);
	});

	it('of 60 MB of brackets are refused by their depth, larger ones by their size', async () => {
		expect((await send('['.repeat(60 * 1024 * 1024))).status).toBe(422);
		expect((await send('['.repeat(MAX_FILE_LENGTH + 1))).status).toBe(413);
	});
});

describe('projects', () => {
	it('that are deleted are gone from the list and can be restored', async () => {
		const { id, doc } = newProject();
		expect((await ask(projectRoute.DELETE as Handler, id)).status).toBe(204);
		expect(getStore().list()).toEqual([]);
		const [{ deletedAt, keptUntil, ...told }] = getStore().deleted();
		expect(told).toEqual({ id, name: doc.project.name });
		expect(Date.parse(keptUntil) - Date.parse(deletedAt)).toBe(30 * 86_400_000);
		expect((await ask(projectRoute.GET as Handler, id)).status).toBe(404);
		expect((await ask(restoreRoute.POST as Handler, id, { body: {} })).status).toBe(204);
		expect(getStore().load(id).doc).toEqual(doc);
	});

	it('that a newer version wrote are refused unharmed', async () => {
		const { id, doc } = newProject();
		await closeStore();
		const db = openDatabase(folder);
		db.prepare('UPDATE project SET version = 99 WHERE id = ?').run(id);
		db.close();
		const refused = await ask(projectRoute.GET as Handler, id);
		expect(refused.status).toBe(409);
		expect(refused.body.detail).toMatch(/newer Hillock/);
		await closeStore();
		const again = openDatabase(folder);
		again.prepare('UPDATE project SET version = ? WHERE id = ?').run(VERSION, id);
		again.close();
		expect(getStore().load(id).doc).toEqual(doc);
	});

	it('of the demo are both there', async () => {
		const { body } = await ask(demoRoute.POST as Handler, '', { body: {} });
		expect(body.ids).toHaveLength(2);
		expect(
			getStore()
				.list()
				.map((item) => item.doc.project.name)
				.sort(),
		).toEqual(['Parcel slip', 'Quay']);
	});
});

describe('safety', () => {
	const event = (headers: Record<string, string>, method = 'PATCH', path = '/api/projects') =>
		({
			request: new Request(`${BASE}${path}`, { method, headers }),
			url: new URL(`${BASE}${path}`),
			cookies: { get: () => undefined, set: () => {} },
		}) as never;
	const status = async (headers: Record<string, string>, method?: string) =>
		(await refuseStrangers(event(headers, method)))?.status ?? 200;

	it('answers to local names only', async () => {
		expect(await status({ host: 'localhost:4720' }, 'GET')).toBe(200);
		expect(await status({ host: '[::1]:4720' }, 'GET')).toBe(200);
		expect(await status({ host: 'harbour.example' }, 'GET')).toBe(403);
		expect(await status({ host: '127.0.0.1.harbour.example' }, 'GET')).toBe(403);
	});

	it('takes writes from its own pages only', async () => {
		const host = '127.0.0.1:4720';
		expect(await status({ host, origin: 'http://127.0.0.1:4720' })).toBe(200);
		expect(await status({ host })).toBe(200);
		expect(await status({ host, origin: 'http://127.0.0.1:9999' })).toBe(403);
		expect(await status({ host, origin: 'https://harbour.example' })).toBe(403);
		expect(await status({ host, origin: 'null' })).toBe(403);
		expect(await status({ host, 'sec-fetch-site': 'cross-site' })).toBe(403);
		expect(await status({ host, origin: 'https://harbour.example' }, 'GET')).toBe(200);
	});

	it('lets pages of named sites read what a running game follows, and no others, and nothing else', () => {
		process.env.HILLOCK_ORIGINS = 'http://localhost:5173';
		const allowed = (origin: string, id: string) => {
			const response = new Response('');
			allowFollowing(
				{ request: new Request(BASE, { headers: { origin } }), route: { id } } as never,
				response,
			);
			return response.headers.get('access-control-allow-origin');
		};
		try {
			const clips = '/api/projects/[project]/clips.json';
			expect(allowed('http://localhost:5173', clips)).toBe('http://localhost:5173');
			expect(allowed('http://localhost:5173', '/api/projects/[project]/live')).toBe('http://localhost:5173');
			expect(allowed('http://localhost:5174', clips)).toBeNull();
			expect(allowed('null', clips)).toBeNull();
			expect(allowed('http://localhost:5173', '/api/projects/[project]')).toBeNull();
			delete process.env.HILLOCK_ORIGINS;
			expect(allowed('http://localhost:5173', clips)).toBeNull();
		} finally {
			delete process.env.HILLOCK_ORIGINS;
		}
	});

	it('wants the token where one is set', async () => {
		process.env.HILLOCK_TOKEN = 'tide';
		try {
			expect(await status({ host: 'localhost' }, 'GET')).toBe(401);
			expect(await status({ host: 'localhost', authorization: 'Bearer ebb' }, 'GET')).toBe(401);
			expect(await status({ host: 'localhost', authorization: 'Bearer tide' }, 'GET')).toBe(200);
		} finally {
			delete process.env.HILLOCK_TOKEN;
		}
	});

	it('refuses a database of a newer version unharmed', () => {
		const db = openDatabase(folder);
		db.pragma('user_version = 99');
		db.close();
		expect(() => openDatabase(folder)).toThrow(/newer/);
	});
});

it('the description of the API is valid OpenAPI 3.1 and knows every route', async () => {
	await SwaggerParser.validate(structuredClone(openapi) as never);
	const routes: string[] = [];
	const walk = (directory: string, path: string) => {
		for (const name of readdirSync(directory)) {
			const full = join(directory, name);
			if (statSync(full).isDirectory()) walk(full, `${path}/${name.replace(/^\[(.*)\]$/, '{$1}')}`);
			else if (name === '+server.ts') routes.push(path);
		}
	};
	walk('src/routes/api', '/api');
	expect(routes.sort()).toEqual(Object.keys(openapi.paths).sort());
});

describe('pictures and films', () => {
	const PNG = Buffer.from(
		'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
		'base64',
	);
	const add = async (project: string, body: Buffer) => {
		const request = new Request(`${BASE}/api`, { method: 'POST', body: new Uint8Array(body) });
		const url = new URL(`${BASE}/api?name=quay.png`);
		const response = await (assetsRoute.POST({
			params: { project },
			request,
			url,
		} as never) as Promise<Response>);
		return { status: response.status, body: (await response.json()) as { id: string; mediaType: string } };
	};
	const get = (project: string, asset: string) =>
		assetRoute.GET({ params: { project, asset } } as never) as Promise<Response>;

	it('are kept by their content, once, and come back as what they are', async () => {
		const { id } = newProject();
		const added = await add(id, PNG);
		expect(added).toMatchObject({ status: 201, body: { mediaType: 'image/png' } });
		expect((await add(id, PNG)).body.id).toBe(added.body.id);
		const answer = await get(id, added.body.id);
		expect(answer.headers.get('content-type')).toBe('image/png');
		expect(answer.headers.get('content-security-policy')).toContain('sandbox');
		expect(Buffer.from(await answer.arrayBuffer())).toEqual(PNG);
	});

	it('are told by their content: what is neither is refused, and one project does not see another', async () => {
		const { id } = newProject();
		// The last begins as MP4 does, and is a picture that browsers do not show.
		for (const text of [
			'<html><svg></svg></html>',
			'hello',
			'',
			'{"keys": []}',
			'the "nodes" of a scene',
			`\0\0\0\x18ftypheic${'\0'.repeat(16)}`,
		])
			expect((await add(id, Buffer.from(text))).status).toBe(400);
		expect((await add(id, Buffer.from('<?xml version="1.0"?><svg xmlns="x"/>'))).body.mediaType).toBe(
			'image/svg+xml',
		);
		const { body } = await add(id, PNG);
		expect((await get(newProject().id, body.id)).status).toBe(404);
		expect((await add('nobody', PNG)).status).toBe(404);
	});

	it('come with a project that is brought in; one whose content is another is refused, and nothing is stored', () => {
		const store = getStore();
		const doc = makeQuay();
		const files = (id: string) => [{ id, name: 'quay.png', content: PNG, mediaType: 'image/png' }];
		expect(() => store.add(doc, { files: files('0'.repeat(64)) })).toThrow(/has been changed/);
		expect(store.list()).toEqual([]);
		const asset = createHash('sha256').update(PNG).digest('hex');
		const project = store.add(doc, { files: files(asset) });
		expect(store.asset(project, asset).content).toEqual(PNG);
	});

	it('that no revision refers to any more are let go after a day; others stay', () => {
		const folder = mkdtempSync(join(tmpdir(), 'hillock-assets-'));
		const db = openDatabase(folder);
		const at = (day: number) => new ProjectStore(db, () => `2026-05-0${day}T08:00:00.000Z`);
		const store = at(1);
		const project = store.add(makeQuay());
		const [used, undone, unused] = ['red', 'blue', 'grey'].map(
			(fill) =>
				store.addAsset(project, {
					name: fill,
					content: Buffer.from(`<svg fill="${fill}"/>`),
					mediaType: 'image/svg+xml',
				}).id,
		);
		const show = (revision: number, asset: string) => {
			const doc = store.load(project).doc;
			const drawing = { kind: 'image' as const, asset, size: [1, 1, 0], offset: [0, 0, 0] };
			const put = { buoy: { ...doc.parts.buoy, drawing } };
			store.edit(project, revision, `edit-${revision}`, 'Show a picture', {
				put,
				splice: {},
				drop: [],
			} as never);
		};
		show(0, undone);
		show(1, used);
		const kept = (own: ProjectStore, id: string) => {
			try {
				return own.asset(project, id).id === id;
			} catch {
				return false;
			}
		};
		expect([used, undone, unused].map((id) => kept(at(1), id))).toEqual([true, true, true]);
		// Undo may still want the second one.
		expect([used, undone, unused].map((id) => kept(at(3), id))).toEqual([true, true, false]);
		db.close();
		rmSync(folder, { recursive: true });
	});
});
