/** `npm run demo`: installs, builds, and starts Hillock with the demo projects. */
import { spawn } from 'node:child_process';
import { existsSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { installPackages, root, run, say } from './setup.mjs';

function newest(path) {
	const stat = statSync(path);
	if (!stat.isDirectory()) return stat.mtimeMs;
	return readdirSync(path).reduce((latest, name) => Math.max(latest, newest(join(path, name))), 0);
}

const SOURCES = [
	'player',
	'core',
	'src',
	'cli',
	'demo',
	'static',
	'docs/schema',
	'package-lock.json',
	'vite.config.ts',
	'svelte.config.js',
];

installPackages();
const built = join(root, 'build-node/hillock.js');
const stale =
	!existsSync(built) || SOURCES.some((source) => newest(join(root, source)) > statSync(built).mtimeMs);
if (stale) {
	say('Building …');
	if (run('npm', ['run', '--silent', 'build']) !== 0) process.exit(1);
}
const child = spawn(process.execPath, ['bin/hillock.js', 'demo', ...process.argv.slice(2)], {
	cwd: root,
	stdio: 'inherit',
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => child.kill(signal));
child.on('exit', (code) => process.exit(code ?? 0));
