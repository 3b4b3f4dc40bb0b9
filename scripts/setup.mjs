/** What a fresh clone needs before anything else runs: the packages, and for the tests a Chromium. */
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

export const root = fileURLToPath(new URL('..', import.meta.url));

export function say(text) {
	process.stdout.write(`${text}\n`);
}

/** Runs a command in the project's folder with its output shown; gives its exit code. */
export function run(command, args, env = {}) {
	const { status, error } = spawnSync(command, args, {
		cwd: root,
		stdio: 'inherit',
		env: { ...process.env, ...env },
	});
	if (error) say(`${command}: ${error.message}`);
	return status ?? 1;
}

/** Installs the packages when they are not those of the lock file. */
export function installPackages() {
	const lock = readFileSync(`${root}/package-lock.json`, 'utf8');
	const stamp = `${root}/node_modules/.hillock-lock`;
	if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
	say('Installing packages (the database module is compiled: about two minutes) …');
	const env = { CFLAGS: '-O1', CXXFLAGS: '-O1' };
	// node-gyp would fetch Node's headers; where the system has them, they are used.
	if (existsSync('/usr/include/node/node.h')) env.npm_config_nodedir = '/usr';
	if (run('npm', ['ci'], env) !== 0) {
		say('The packages could not be installed: see what npm says above.');
		process.exit(1);
	}
	writeFileSync(stamp, lock);
}

const CHROMIUM_PLACES = [
	process.env.CHROMIUM,
	'/usr/bin/chromium',
	'/usr/bin/chromium-browser',
	'/usr/bin/google-chrome',
	'/Applications/Google Chrome.app/Contents/MacOS/Google Chrome',
];

/** The path of a Chromium, installed by apt where that may be done; null where there is none. */
export function findChromium() {
	const found = CHROMIUM_PLACES.find((place) => place && existsSync(place));
	if (found) return found;
	const isRoot = process.getuid?.() === 0;
	if (isRoot && existsSync('/usr/bin/apt-get')) {
		say('Installing Chromium …');
		run('apt-get', ['update', '-qq']);
		run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', 'chromium'], {
			DEBIAN_FRONTEND: 'noninteractive',
		});
		if (existsSync('/usr/bin/chromium')) return '/usr/bin/chromium';
	}
	say(
		'The end-to-end tests need Chromium: install it ("apt-get install chromium") or set CHROMIUM to its path.',
	);
	return null;
}
