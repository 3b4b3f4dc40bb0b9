/** The player as a package of its own, and as files that anybody can take along: each alone, minified, as ES modules. */
import { cpSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'vite';

const root = fileURLToPath(new URL('..', import.meta.url));
const dist = join(root, 'player/dist');
const ENTRIES = {
	'hillock-player': 'player/index.ts',
	'hillock-player-dom': 'player/bind/dom.ts',
	'hillock-player-three': 'player/bind/three.ts',
	'hillock-player-live': 'player/bind/live.ts',
};
/** What stands on the player itself takes the one that lies beside it. */
const PLAYER = '../index';

/** Files below a folder, with their paths. */
function filesBelow(folder) {
	return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
		const path = join(folder, entry.name);
		return entry.isDirectory() ? filesBelow(path) : [path];
	});
}

rmSync(dist, { recursive: true, force: true });
for (const [name, entry] of Object.entries(ENTRIES))
	await build({
		root,
		configFile: false,
		logLevel: 'warn',
		publicDir: false,
		build: {
			outDir: dist,
			emptyOutDir: false,
			target: 'es2022',
			minify: true,
			rollupOptions: {
				input: `${root}/${entry}`,
				preserveEntrySignatures: 'strict',
				external: [PLAYER],
				output: { format: 'es', entryFileNames: `${name}.js` },
			},
		},
	});

const live = join(dist, 'hillock-player-live.js');
const beside = readFileSync(live, 'utf8').replace(`"${PLAYER}"`, '"./hillock-player.js"');
if (beside.includes(PLAYER)) throw new Error('hillock-player-live.js does not find the player');
writeFileSync(live, beside);

const tsc = join(root, 'node_modules/typescript/bin/tsc');
execFileSync(process.execPath, [tsc, '-p', join(root, 'player/tsconfig.types.json')], { stdio: 'inherit' });
// Resolvers of Node want endings.
for (const path of filesBelow(join(dist, 'types')))
	writeFileSync(path, readFileSync(path, 'utf8').replace(/(from ['"]\.[^'"]*)(['"])/g, '$1.js$2'));

// Pages of the application, its examples too, take them from where its own files lie.
const taken = join(root, 'static/player');
mkdirSync(taken, { recursive: true });
for (const name of Object.keys(ENTRIES)) cpSync(join(dist, `${name}.js`), join(taken, `${name}.js`));
cpSync(join(root, 'demo/game'), join(root, 'static/game'), { recursive: true });
