import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';

/** What runs in Node.js outside the SvelteKit bundle: the command line and the export worker. */
export default defineConfig({
	publicDir: false,
	resolve: {
		alias: {
			$core: fileURLToPath(new URL('./core', import.meta.url)),
			$player: fileURLToPath(new URL('./player', import.meta.url)),
		},
	},
	ssr: { noExternal: true, external: ['better-sqlite3', 'gltf-validator', 'piscina'] },
	build: {
		ssr: true,
		outDir: 'build-node',
		target: 'node20',
		rollupOptions: {
			input: { hillock: 'cli/hillock.ts', 'export-worker': 'src/lib/server/exports/worker.ts' },
			output: { format: 'es', entryFileNames: '[name].js' },
		},
	},
});
