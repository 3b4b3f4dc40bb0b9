/** Files that become parts; the server's answers are played. */
import { toast } from 'svelte-sonner';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { removePart } from '$core/edits/parts';
import { Session } from '$lib/session/session.svelte';
import { makeParcelSlip } from '../../../demo/parcel-slip';
import { makeQuay } from '../../../demo/quay';
import { addPart, newPartKinds } from './new-parts';
import { kindOfFile, replaceFile, takeFile } from './part-files';

const answers = vi.hoisted(() => ({ asset: {} as unknown, model: {} as unknown }));
vi.mock('$lib/api/client', () => ({
	api: {
		addAsset: async () => answers.asset,
		addModel: async () => answers.model,
		save: () => new Promise(() => {}),
	},
}));
vi.mock('svelte-sonner', () => ({
	toast: Object.assign(vi.fn(), { error: vi.fn(), loading: vi.fn(() => 7), dismiss: vi.fn() }),
}));

let session: Session;
beforeEach(() => {
	vi.clearAllMocks();
	vi.stubGlobal(
		'Image',
		class {
			src = '';
			naturalWidth = 300;
			naturalHeight = 200;
			decode = async () => {};
		},
	);
	session = new Session({ doc: makeParcelSlip(), revision: 0, undo: null, redo: null });
	session.openClip('gauge-settles');
});
afterEach(() => vi.unstubAllGlobals());
const made = () => session.doc.parts[session.selection.partId ?? ''];
const refused = () => vi.mocked(toast.error).mock.calls.map(([title]) => title);

it.each([
	['crane.glb', '', 'model'],
	['crane.GLTF', '', 'model'],
	['icon.svg', 'image/svg+xml', 'drawing'],
	['parcel.png', 'image/png', 'picture'],
	['film.mp4', 'video/mp4', null],
	['notes.txt', 'text/plain', null],
])('%s that is dropped is taken as %s', (name, type, kind) => {
	expect(kindOfFile(new File([], name, { type }))).toBe(kind);
});

it('a picture becomes a part of its own proportions, called as its file', async () => {
	answers.asset = { ok: true, value: { id: 'f'.repeat(64), mediaType: 'image/png' } };
	await takeFile(session, 'picture', new File(['…'], 'harbour map.png'));
	expect(made()).toMatchObject({
		name: 'harbour map',
		drawing: { kind: 'image', asset: 'f'.repeat(64), size: [80, 80 / 1.5, 0] },
	});
	expect(refused()).toEqual([]);
});

it('what is dropped stands where it was dropped', async () => {
	session.view.look.standpoint = () => ({
		middle: [1, 2, 3],
		eye: { at: [0, 0, 9], orientation: [0, 0, 0, 1] },
	});
	answers.asset = { ok: true, value: { id: 'f'.repeat(64), mediaType: 'image/png' } };
	await takeFile(session, 'picture', new File(['…'], 'map.png'), [-40.2, 55.7, 0]);
	expect(made().rest.translation.slice(0, 2)).toEqual(
		session.doc.project.space === 'interface' ? [-40, 56] : [-40.2, 55.7],
	);
	answers.model = { ok: true, value: { doc: makeQuay(), leftOut: [] } };
	await takeFile(session, 'model', new File(['…'], 'quay.glb'), [7, 8, 9]);
	const root = Object.values(session.doc.parts).find(({ name }) => name === 'quay')!;
	expect(root.rest.translation.slice(0, 2)).toEqual([7, 8]);
	await takeFile(session, 'picture', new File(['…'], 'menu.png'));
	expect(made().rest.translation.slice(0, 2)).toEqual([1, 2]);
});

it('what is no picture, or what the server refuses, is told and makes no part', async () => {
	const before = session.doc;
	answers.asset = { ok: true, value: { id: 'f'.repeat(64), mediaType: 'video/mp4' } };
	await takeFile(session, 'picture', new File(['…'], 'film.png'));
	answers.asset = { ok: false, problem: { title: 'Too large', detail: 'at most 32 MB' } };
	await takeFile(session, 'picture', new File(['…'], 'large.png'));
	answers.model = { ok: false, problem: { title: 'No model', detail: 'it is torn' } };
	await takeFile(session, 'model', new File(['…'], 'torn.glb'));
	expect(refused()).toEqual(['This is no picture', 'Too large', 'No model']);
	expect(toast.dismiss).toHaveBeenCalledWith(7);
	expect(session.doc).toBe(before);
});

it('a model brings its parts and clips, and it is said how many and what is left out', async () => {
	answers.model = { ok: true, value: { doc: makeQuay(), leftOut: ['a light'] } };
	const before = Object.keys(session.doc.clips).length;
	await takeFile(session, 'model', new File(['…'], 'quay.glb'));
	const { parts, clips } = makeQuay();
	expect(Object.keys(session.doc.clips)).toHaveLength(before + Object.keys(clips).length);
	expect(vi.mocked(toast).mock.lastCall).toEqual([
		`${Object.keys(parts).length} parts and ${Object.keys(clips).length} clips came with it`,
		{ description: 'Left out: a light' },
	]);
});

it('new parts of an interface have its measure, stand in the picture and over what is there', () => {
	const rows = newPartKinds('interface').map((kind) => {
		addPart(session, kind);
		const { drawing, rest } = made();
		return `${kind} ${'size' in drawing ? drawing.size : ''} at ${rest.translation}`;
	});
	expect(rows).toMatchInlineSnapshot(`
		[
		  "card 80,80,0 at 180,320,10",
		  "ellipse 80,80,0 at 180,320,11",
		  "path  at 180,320,12",
		  "label 160,40,0 at 180,320,13",
		  "empty  at 180,320,14",
		  "box 80,80,0 at 180,320,15",
		  "ball 80,80,0 at 180,320,16",
		  "cylinder 80,80,0 at 180,320,17",
		  "cone 80,80,0 at 180,320,18",
		  "plane 80,80,0 at 180,320,19",
		]
	`);
});

it('a part is drawn from another file where it stands; what is none leaves it as it is', async () => {
	answers.asset = { ok: true, value: { id: 'a'.repeat(64), mediaType: 'image/png' } };
	await takeFile(session, 'picture', new File(['…'], 'map.png'));
	const { id, drawing, rest } = made();
	answers.asset = { ok: true, value: { id: 'b'.repeat(64), mediaType: 'image/png' } };
	await replaceFile(session, id, new File(['…'], 'other.png'));
	expect(session.doc.parts[id]).toMatchObject({ rest, drawing: { ...drawing, asset: 'b'.repeat(64) } });
	const before = session.doc;
	answers.asset = { ok: true, value: { id: 'c'.repeat(64), mediaType: 'video/mp4' } };
	await replaceFile(session, id, new File(['…'], 'film.mp4'));
	expect([session.doc, refused()]).toEqual([before, ['This is no picture']]);
	void session.project.undo();
	expect(session.doc.parts[id].drawing).toEqual(drawing);
	answers.asset = { ok: true, value: { id: 'd'.repeat(64), mediaType: 'image/png' } };
	const late = replaceFile(session, id, new File(['…'], 'late.png'));
	session.edit('Delete part', (doc) => removePart(doc, id));
	await late;
	expect(session.doc.parts[id]).toBe(undefined);
});
