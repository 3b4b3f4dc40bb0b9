/** The player as files that anybody can take along: each alone, minified, as ES modules. */
import { fileURLToPath } from 'node:url';
import { build } from 'vite';

const root = fileURLToPath(new URL('..', import.meta.url));
const ENTRIES = {
	'hillock-player': 'player/index.ts',
	'hillock-player-dom': 'player/bind/dom.ts',
	'hillock-player-three': 'player/bind/three.ts',
};

for (const [name, entry] of Object.entries(ENTRIES))
	await build({
		root,
		configFile: false,
		logLevel: 'warn',
		publicDir: false,
		build: {
			outDir: 'build/client/player',
			emptyOutDir: false,
			target: 'es2022',
			minify: true,
			rollupOptions: {
				input: `${root}/${entry}`,
				preserveEntrySignatures: 'strict',
				output: { format: 'es', entryFileNames: `${name}.js` },
			},
		},
	});
