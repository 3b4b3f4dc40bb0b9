import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import ts from 'typescript';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { makeQuay } from '../../../demo/quay';
import { updateClip, putCue } from '../../edits/clips';
import { clipsInOrder, type Doc } from '../../document/types';
import { typeOf, writeTypes } from './write';

let folder: string;
beforeAll(() => {
	folder = mkdtempSync(join(tmpdir(), 'types-'));
});
afterAll(() => rmSync(folder, { recursive: true }));

/** A game that knows its motion by name. */
const GAME = `
import { Player, readClips } from 'hillock-player';
import type { CueName, Names, PartName } from './quay.clips';

export const noisy: CueName[] = ['thump'];
export const watched: PartName = 'mail sack';
export function start(json: unknown): number[] {
	const loud: number[] = [];
	const player = new Player(readClips<Names>(json), {
		oncue: ({ cue }) => {
			if (cue.name === 'thump') loud.push(cue.payload.loudness.toFixed().length);
		},
		onmessage: (message) => {
			if (message.name === 'thud') loud.push(message.payload.volume.toFixed().length);
		},
	});
	player.play({ clip: 'sack drop' });
	player.trigger('all still');
	player.set('fog', 0.3);
	player.layer('over', { parts: ['pelican'] }).play({ clip: 'pelican hop' });
	return loud;
}
`;

/** What a compiler has against the game beside declarations of a document. */
function problems(doc: Doc, game = GAME): string[] {
	const main = join(folder, 'game.ts');
	writeFileSync(main, game);
	writeFileSync(join(folder, 'quay.clips.d.ts'), writeTypes(doc, clipsInOrder(doc)));
	const program = ts.createProgram([main], {
		strict: true,
		noEmit: true,
		skipLibCheck: true,
		target: ts.ScriptTarget.ES2022,
		module: ts.ModuleKind.ESNext,
		moduleResolution: ts.ModuleResolutionKind.Bundler,
		lib: ['lib.es2022.d.ts'],
		types: [],
		paths: { 'hillock-player': [resolve('player/index.ts')] },
	});
	return ts
		.getPreEmitDiagnostics(program)
		.map(({ messageText }) => ts.flattenDiagnosticMessageText(messageText, ' '));
}

describe('declarations of the names of a project', () => {
	const quay = makeQuay();

	it('compile a game that knows them, and break it where a cue, a clip, a part or a payload has changed', () => {
		expect(problems(quay)).toEqual([]);
		const [thump] = Object.values(quay.cues).filter(({ name }) => name === 'thump');
		const renamed = Object.values(quay.cues).reduce(
			(doc, cue) => (cue.name === 'thump' ? putCue(doc, { ...cue, name: 'landed' }) : doc),
			quay,
		);
		expect(problems(renamed).join()).toMatch(/'"thump"' is not assignable/);
		expect(problems(updateClip(quay, thump.clip, { name: 'sack falls' })).join()).toMatch(
			/'"sack drop"' is not assignable/,
		);
		expect(problems(putCue(quay, { ...thump, payload: { loudness: 'high' } })).join()).toMatch(/toFixed/);
		for (const [name, other] of [
			["['pelican']", "['heron']"],
			["'all still'", "'all stop'"],
			["'fog'", "'mist'"],
			["'thud'", "'bang'"],
			['payload.volume', 'payload.force'],
		])
			expect(problems(quay, GAME.replace(name, other)).join(), name).toMatch(
				/heron|all stop|mist|bang|no overlap|force/,
			);
	}, 60_000);

	it('stand for any JSON payload', () => {
		expect(typeOf({ a: 1, 'b c': [true, 'x'], d: null, e: [], f: {}, g: [{ h: 2 }, { h: 3 }] })).toBe(
			'{ a: number; "b c": (boolean | string)[]; d: null; e: never[]; f: Record<string, never>; g: { h: number }[] }',
		);
	});

	it('are sound for a project without cues, and for names that hold anything', () => {
		const odd = ['*/ export const a = 1; /*', 'two\nlines', '"quoted" \\ `ticks`'];
		const named = odd.reduce((doc, name, i) => updateClip(doc, clipsInOrder(doc)[i].id, { name }), {
			...quay,
			cues: {},
			project: { ...quay.project, name: odd[0] },
		});
		const game = `import type { ClipName, CueName } from './quay.clips';
			export const clips: ClipName[] = ${JSON.stringify(odd)}; export const none: CueName[] = [];`;
		expect(problems(named, game)).toEqual([]);
		expect(problems(named, game.replace('[] = []', "[] = ['x']")).join()).toMatch(/not assignable/);
	}, 60_000);
});
