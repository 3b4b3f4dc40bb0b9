/** The package by itself: packed, laid into an empty folder, used there by Node.js and by a compiler. */
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

const CLIPS = {
	format: 'hillock-clips',
	version: 1,
	space: 'world',
	parts: [{ name: 'arm' }, { name: 'hook', parent: 0 }],
	shapes: [],
	clips: [
		{
			name: 'reach',
			length: 72_000,
			curves: [
				{ part: 1, path: 'translation.y', times: [0, 72_000], quantum: 0.5, values: [0, 4], spans: 1 },
				{ part: 0, path: 'rotation.z', times: [0, 72_000], quantum: 1, values: [0, 90], spans: 1 },
			],
			cues: [{ name: 'there', t: 24_000, payload: { far: 1 } }],
		},
	],
	blends: [],
};
const GAME = `
import { placeOf, Player, readClips, type Cue, type Names } from 'hillock-player';
import { bindToElements, playCalmly } from 'hillock-player/dom';
import { bindToObjects } from 'hillock-player/three';
import { follow } from 'hillock-player/live';
interface Own extends Names { clip: 'reach'; part: 'arm' | 'hook'; cue: Cue & { name: 'there' }; trigger: 'tug' }
export function start(json: unknown, root: HTMLElement, scene: Parameters<typeof bindToObjects>[1]): number {
	const set = readClips<Own>(json);
	const player = new Player(set, { oncue: ({ cue }) => console.log(cue.name === 'there') });
	player.play({ clip: 'reach', blend: { kind: 'crossfade', seconds: 0.2 } });
	player.trigger('tug');
	playCalmly(player, set, { clip: 'reach' });
	bindToElements(set, root)(player.pose);
	follow<Own>('http://127.0.0.1:4720/clips.json', player, { onset: ({ clips }) => clips.has('reach') });
	bindToObjects(set, scene)(player.pose);
	return placeOf(player.layout, 'hook', 'translation');
}
`;

let folder: string;
let files: string[];
beforeAll(() => {
	folder = mkdtempSync(join(tmpdir(), 'player-'));
	const packed = execFileSync('npm', ['pack', '--silent', '--json', '--pack-destination', folder], {
		cwd: 'player',
		encoding: 'utf8',
		stdio: ['ignore', 'pipe', 'ignore'],
	});
	const [{ filename, files: inside }] = JSON.parse(packed.slice(packed.indexOf('[\n'))) as {
		filename: string;
		files: { path: string }[];
	}[];
	files = inside.map(({ path }) => path);
	const own = join(folder, 'node_modules/hillock-player');
	mkdirSync(own, { recursive: true });
	execFileSync('tar', ['-xzf', join(folder, filename), '-C', own, '--strip-components=1']);
	writeFileSync(join(folder, 'package.json'), '{ "type": "module" }');
}, 120_000);
afterAll(() => rmSync(folder, { recursive: true }));

describe('the package', () => {
	it('holds what is used and no more', () => {
		expect(files).toEqual(
			expect.arrayContaining(['LICENSE', 'README.md', 'package.json', 'dist/hillock-player.js']),
		);
		expect(
			files.filter((path) => /\.test\.|^(?!dist\/|LICENSE|README\.md|package\.json)/.test(path)),
		).toEqual([]);
		const { dependencies } = JSON.parse(
			readFileSync(join(folder, 'node_modules/hillock-player/package.json'), 'utf8'),
		) as {
			dependencies?: unknown;
		};
		expect(dependencies).toBeUndefined();
	});

	it('plays a clip file in Node.js, with its cue', () => {
		writeFileSync(
			join(folder, 'play.js'),
			`import { placeOf, Player, readClips } from 'hillock-player';
			const player = new Player(readClips(${JSON.stringify(CLIPS)}), { oncue: ({ cue }) => console.log(cue.name, cue.payload.far) });
			player.play({ clip: 'reach' });
			player.advance(0.5);
			const { layout, pose } = player;
			console.log(pose[placeOf(layout, 'hook', 'translation') + 1], pose[placeOf(layout, 'arm', 'rotation') + 2].toFixed(6));`,
		);
		const said = execFileSync('node', ['play.js'], { cwd: folder, encoding: 'utf8' });
		// Half of the way: 45 degrees about z.
		expect(said.trim().split('\n')).toEqual(['there 1', '1 0.382683']);
	});

	// The strictest way to resolve modules: what it finds others find.
	it('has types as a compiler finds them', () => {
		const compile = (game: string) => {
			writeFileSync(join(folder, 'game.ts'), game);
			const options = [
				'--module',
				'nodenext',
				'--moduleResolution',
				'nodenext',
				'--target',
				'es2022',
				'--lib',
				'es2023,dom',
			];
			const tsc = resolve('node_modules/typescript/bin/tsc');
			try {
				execFileSync('node', [tsc, '--noEmit', '--strict', ...options, 'game.ts'], {
					cwd: folder,
					encoding: 'utf8',
				});
				return '';
			} catch (error) {
				return (error as { stdout: string }).stdout;
			}
		};
		expect(compile(GAME)).toBe('');
		expect(
			compile(
				GAME.replaceAll("clip: 'reach'", "clip: 'fetch'").replace(
					"clip: 'fetch'; part",
					"clip: 'reach'; part",
				),
			),
		).toMatch(/'"fetch"' is not assignable to type '"reach"'/);
	}, 60_000);
});
