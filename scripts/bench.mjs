/** `npm run bench [name …]`: runs the benchmarks and prints their figures; `--write` keeps them in docs/benchmarks.md. */
import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { build } from 'vite';
import { findChromium, installPackages, root, run } from './setup.mjs';

installPackages();
if (!existsSync(`${root}/build-node/hillock.js`) && run('npm', ['run', '--silent', 'build']) !== 0)
	process.exit(1);
process.env.CHROMIUM = findChromium() ?? '';
// Bundled as it ships: a module runner's imports would be what is measured.
await build({
	configFile: false,
	logLevel: 'warn',
	publicDir: false,
	resolve: {
		alias: {
			$core: fileURLToPath(new URL('../core', import.meta.url)),
			$player: fileURLToPath(new URL('../player', import.meta.url)),
		},
	},
	build: {
		ssr: true,
		outDir: 'build-node/bench',
		target: 'node20',
		rollupOptions: {
			input: { run: 'benchmarks/run.ts' },
			output: { format: 'es', entryFileNames: '[name].js' },
		},
	},
});
const { runBenchmarks } = await import('../build-node/bench/run.js');
await runBenchmarks(process.argv.slice(2));
