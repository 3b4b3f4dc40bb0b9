/** What is chosen in Ship, and the command that says the same. */
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { toast } from 'svelte-sonner';
import { removeClip, updateProject } from '$core/edits/clips';
import { Session } from '$lib/session/session.svelte';
import { SYNONYMS } from '$lib/acts/synonyms';
import { rankOf } from '$lib/ui/find';
import { fileStem } from '$core/formats/file-name';
import { shippingFormat } from '$core/formats/registry';
import { makeQuay } from '../../../demo/quay';
import { commandLine, type CommandOptions } from './command-line';
import { shipCommands } from './ship-commands';
import { deleteProfile, keepProfile, renameProfile } from './profile-acts';
import { errorText, ShipState } from './ship-state.svelte';

vi.mock('svelte-sonner', () => ({ toast: { error: vi.fn() } }));
const asked: { path: string; body: Record<string, unknown> }[] = [];
let answer: { status: number; body: unknown };
vi.hoisted(() => vi.stubGlobal('location', new URL('http://127.0.0.1:4720')));
beforeEach(() => {
	asked.length = 0;
	answer = { status: 201, body: { id: 'written', fileName: 'quay.glb', clips: [] } };
	vi.stubGlobal('fetch', async (request: Request) => {
		// Edits are on their way for as long as a test lasts.
		if (request.method === 'PATCH') return new Promise(() => {});
		asked.push({ path: new URL(request.url).pathname, body: (await request.json()) as never });
		return new Response(JSON.stringify(answer.body), {
			status: answer.status,
			headers: { 'content-type': 'application/json' },
		});
	});
});
afterEach(() => vi.restoreAllMocks());
function open() {
	const doc = updateProject(makeQuay(), { name: '  The Quay, at night! ' });
	const session = new Session({ doc, revision: 0, undo: null, redo: null });
	return { session, ship: new ShipState(session) };
}

describe('the command of a build', () => {
	const options: CommandOptions = {
		address: 'http://127.0.0.1:4720/file',
		file: 'quay.hillock.json',
		profile: null,
		clips: ['all'],
		target: 'gltf',
		out: 'quay.glb',
		relative: 0.001,
		own: { translation: 0, rotation: 0.5, scale: 0 },
		parts: ['crane arm/rotation=0.05'],
		flags: ['scene'],
		perClip: false,
		numbers: { rate: 30 },
	};
	it('fetches the project and writes the same file', () => {
		expect(commandLine(options)).toBe(
			'curl -fsS -o quay.hillock.json http://127.0.0.1:4720/file && npx hillock export quay.hillock.json --clip all --to gltf --bound 0.001 --bound-rotation 0.5 --bound-part "crane arm/rotation=0.05" --scene --rate 30 --out quay.glb',
		);
	});
	it('names each clip that is chosen, so that a shell takes it as it is', () => {
		const clips = ['hop', 'sack drop', 'say "$HOME"', '-back'];
		expect(commandLine({ ...options, clips })).toContain(
			' --clip hop --clip "sack drop" --clip "say \\"\\$HOME\\"" --clip=-back --to ',
		);
	});
});

describe('a profile', () => {
	it('is kept under a free name, says the command, and is chosen again with all that it has', () => {
		const { session, ship } = open();
		const [hop, , ...others] = session.project.clips;
		others.forEach(({ id }) => ship.toggle(id));
		ship.parts.choose({ part: 'crane-arm', path: 'rotation', value: 0.05 });
		ship.parts.choose({ part: 'crane-arm', path: null, value: 0.01 });
		ship.parts.choose({ part: 'gone', path: null, value: 0.5 });
		expect(ship.command).toContain(' --bound-part "crane arm/rotation=0.05" --bound-part "crane arm=0.01" ');
		ship.format = shippingFormat('csv')!;
		ship.numbers = { rate: 12 };
		ship.percent = 0.3;
		ship.own = { translation: 0, rotation: 0.25, scale: 0 };
		expect(ship.command).not.toContain('--bound-part');
		keepProfile(session, ship);
		expect(ship.profile?.name).toBe('CSV');
		expect(ship.command).toMatch(
			/npx hillock export the-quay-at-night\.hillock\.json --profile CSV --out the-quay-at-night\.csv$/,
		);
		const kept = ship.profile!;
		expect(kept).toMatchObject({
			target: 'csv',
			bounds: { relative: 0.003, rotation: 0.25, parts: { 'crane-arm': { relative: 0.01, rotation: 0.05 } } },
			choices: { rate: 12 },
		});
		ship.parts.choose({ part: 'crane-arm', path: 'rotation', value: 0 });
		expect([ship.profile, ship.request.bounds?.parts]).toEqual([null, { 'crane-arm': { relative: 0.01 } }]);
		ship.parts.choose({ part: 'crane-arm', path: null, value: 0 });
		ship.percent = 1;
		expect([ship.profile, ship.command.includes('--rate 12')]).toEqual([null, true]);
		ship.format = shippingFormat('gltf')!;
		ship.switches = { curvesOnly: true };
		ship.left = new Set();
		keepProfile(session, ship);
		expect(ship.profile).toMatchObject({ name: 'glTF', clips: null, choices: { curvesOnly: true } });
		ship.take(kept);
		expect(ship.profile).toBe(kept);
		expect(ship.parts.of('crane-arm', 'rotation')).toBe(0.05);
		expect(ship.chosen[0]).toEqual(hop);
		expect([ship.format.id, ship.percent, ship.own.rotation, ship.numbers]).toEqual([
			'csv',
			0.3,
			0.25,
			{ rate: 12 },
		]);
		// Two of a name would leave a build in doubt.
		renameProfile(session, kept, ' glTF ');
		expect(session.doc.profiles[kept.id].name).toBe('glTF 2');
		// What is deleted meanwhile does not come back by a field of it.
		deleteProfile(session, kept.id);
		renameProfile(session, kept, 'Table');
		expect(Object.values(session.doc.profiles).map(({ name }) => name)).toEqual(['glTF']);
	});

	it('goes with its last clip, and keeps the others', () => {
		const { session, ship } = open();
		const [first, second, ...others] = session.project.clips;
		others.forEach(({ id }) => ship.toggle(id));
		keepProfile(session, ship);
		session.edit('Delete clip', (doc) => removeClip(doc, first.id));
		expect(Object.values(session.doc.profiles)[0].clips).toEqual([second.id]);
		session.edit('Delete clip', (doc) => removeClip(doc, second.id));
		expect(session.doc.profiles).toEqual({});
	});
});

describe('what is chosen in Ship', () => {
	it('is every clip, until some are left out', () => {
		const { session, ship } = open();
		const all = session.project.clips;
		expect(ship.chosen).toEqual(all);
		expect(ship.command).toMatch(
			/ -o the-quay-at-night\.hillock\.json http:\/\/127\.0\.0\.1:4720\/api\/projects\/quay\/file .* --clip all .* --out the-quay-at-night\.glb$/,
		);
		all.slice(2).forEach(({ id }) => ship.toggle(id));
		expect(ship.chosen).toEqual(all.slice(0, 2));
		for (const { name } of all.slice(0, 2)) expect(ship.command).toContain(`--clip "${name}"`);
		expect(ship.command).not.toContain(all[2].name);
		ship.toggle(all[2].id);
		expect(ship.chosen).toEqual(all.slice(0, 3));
		// One alone gives the file its name, as on the server.
		all.slice(0, 2).forEach(({ id }) => ship.toggle(id));
		expect(ship.command).toContain(`--out ${fileStem(all[2].name)}.glb`);
	});

	it('has no bounds where no motion leaves', () => {
		const { ship } = open();
		ship.own = { translation: 1, rotation: 0, scale: 0 };
		expect(ship.command).toContain('--bound 0.001 --bound-translation 1');
		ship.format = shippingFormat('types')!;
		expect(ship.command).toContain(' --clip all --to types --out the-quay-at-night.clips.d.ts');
	});

	it('is asked for with the bounds that are set, and is old once the project is edited', async () => {
		const { session, ship } = open();
		ship.percent = 0.2;
		ship.own = { translation: 0.01, rotation: 0, scale: 0 };
		const writing = ship.write();
		expect(ship.isWorking).toBe(true);
		await writing;
		expect(asked).toMatchObject([
			{
				path: '/api/projects/quay/export',
				body: { target: 'gltf', bounds: { relative: 0.002, translation: 0.01 } },
			},
		]);
		expect(Object.keys(asked[0].body.bounds as object)).toEqual(['relative', 'translation']);
		expect(asked[0].body.clips).toEqual(session.project.clips.map(({ id }) => id));
		expect([ship.isWorking, ship.result?.id, ship.isStale]).toEqual([false, 'written', false]);
		session.edit('Rename', (doc) => updateProject(doc, { name: 'Pier' }));
		expect(ship.isStale).toBe(true);
	});

	it('that is refused is told, and leaves what was written before', async () => {
		const { ship } = open();
		expect([ship.isWorking, ship.percent]).toEqual([false, 0.1]);
		await ship.write();
		answer = { status: 422, body: { title: 'No', detail: 'It cannot be.' } };
		await ship.write();
		expect([ship.isWorking, ship.result?.id]).toEqual([false, 'written']);
		expect(vi.mocked(toast.error).mock.calls).toMatchObject([['No', { description: 'It cannot be.' }]]);
	});
});

it('errors are told by their exponent where they are small', () => {
	expect([0, 0.00042, 0.5].map(errorText)).toEqual(['0', '4.2e-4', '0.5']);
});

describe('the finder of Ship', () => {
	function list() {
		const { session, ship } = open();
		const went: string[] = [];
		return { ship, session, went, commands: shipCommands(session, ship, (place) => went.push(place)) };
	}
	const run = (commands: ReturnType<typeof shipCommands>, id: string) => {
		const command = commands.find((own) => own.id === id)!;
		expect(command.can(), id).toBe(true);
		command.run();
	};

	it.each([
		['render', 'ship-export'],
		['glb', 'ship-to-gltf'],
		['typescript', 'ship-to-types'],
		['tolerance', 'ship-bound'],
		['cli', 'ship-command'],
		['preset', 'ship-keep-profile'],
		['gif', 'ship-film'],
		['spreadsheet', 'ship-to-csv'],
		['svg', 'ship-to-svg'],
		['timeline', 'compose'],
		['dashboard', 'projects'],
		['undo', 'undo'],
		['dark mode', 'night'],
	])('"%s" finds %s first', (search, id) => {
		const ranked = list().commands.map((own) => ({
			id: own.id,
			rank: rankOf({ label: own.label, words: SYNONYMS[own.id] }, search),
		}));
		expect(ranked.sort((a, b) => b.rank - a.rank)[0].id).toBe(id);
	});

	it('has words for its own commands only', () => {
		const ids = list().commands.map(({ id }) => id);
		for (const id of Object.keys(SYNONYMS).filter((own) => own.startsWith('ship-')))
			expect(ids).toContain(id);
	});

	it('chooses clips and formats, and goes where it says', () => {
		const { ship, session, went, commands } = list();
		run(commands, 'ship-none');
		expect(ship.chosen).toEqual([]);
		expect(commands.find(({ id }) => id === 'ship-export')!.can()).toBe(false);
		run(commands, 'ship-all');
		expect(ship.chosen).toEqual(session.project.clips);
		run(commands, 'ship-to-types');
		expect(ship.command).toContain('--to types');
		expect(commands.find(({ id }) => id === 'ship-bound')!.can()).toBe(false);
		run(commands, 'compose');
		run(commands, 'projects');
		expect(went).toEqual(['compose', 'projects']);
	});
});
