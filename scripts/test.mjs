/**
 * `npm test`: installs what is missing, then lint beside format, types and build, then unit tests, then end-to-end
 * tests. Goes on after a failure, so that one run tells all; the last line counts the tests (and each step that is
 * no test as one).
 */
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { findChromium, installPackages, root, run, say } from './setup.mjs';

installPackages();
const chromium = findChromium();
const reports = `${root}/test-results`;
rmSync(reports, { recursive: true, force: true });
mkdirSync(reports, { recursive: true });

let passed = 0;
let failed = 0;
const failures = [];

function count(name, good, bad) {
	passed += good;
	failed += bad;
	if (bad > 0) failures.push(name);
}

function step(name, command, args) {
	say(`\n== ${name}`);
	const ok = run(command, args) === 0;
	count(name, ok ? 1 : 0, ok ? 0 : 1);
	return ok;
}

/** Runs steps one after another while others run, what they print shown when each has ended. */
async function steps(list) {
	for (const [name, command, args] of list) {
		const { ok, output } = await new Promise((resolve) => {
			let text = '';
			const child = spawn(command, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] });
			const add = (chunk) => (text += chunk);
			child.stdout.on('data', add);
			child.stderr.on('data', add);
			child.on('error', (error) => add(`${command}: ${error.message}\n`));
			child.on('close', (status) => resolve({ ok: status === 0, output: text }));
		});
		say(`\n== ${name}\n${output}`);
		count(name, ok ? 1 : 0, ok ? 0 : 1);
	}
}

function tests(name, command, args, file, read, env = {}) {
	say(`\n== ${name}`);
	const status = run(command, args, env);
	const report = existsSync(file) ? read(JSON.parse(readFileSync(file, 'utf8'))) : { good: 0, bad: 0 };
	// A runner that fails without a failed test (it could not start, a hook broke) is a failure of its own.
	count(name, report.good, status !== 0 && report.bad === 0 ? 1 : report.bad);
}

step('generate', 'npm', ['run', '--silent', 'generate']);
// Lint takes as long as all the others together, and each of them keeps one core busy.
await Promise.all([
	steps([['lint', 'npx', ['eslint', '.']]]),
	steps([
		['format', 'npx', ['prettier', '--check', '--log-level', 'warn', '.']],
		['types of the player', 'npx', ['tsc', '-p', 'player']],
		['types of its bindings', 'npx', ['tsc', '-p', 'player/bind']],
		['types of its page', 'npx', ['tsc', '-p', 'player/page']],
		['types of the core', 'npx', ['tsc', '-p', 'core']],
		['types', 'npx', ['svelte-check', '--tsconfig', './tsconfig.json', '--threshold', 'warning']],
		['build', 'npm', ['run', '--silent', 'build']],
	]),
]);
const built = !failures.includes('build');
const unitFile = `${reports}/unit.json`;
tests(
	'unit',
	'npx',
	['vitest', 'run', '--reporter=default', '--reporter=json', `--outputFile.json=${unitFile}`],
	unitFile,
	(report) => ({
		good: report.numPassedTests,
		bad: report.numFailedTests + (report.numFailedTests === 0 && !report.success ? 1 : 0),
	}),
);
if (built && chromium) {
	const file = `${reports}/e2e.json`;
	tests(
		'end to end',
		'npx',
		['playwright', 'test'],
		file,
		({ stats }) => ({ good: stats.expected + stats.flaky, bad: stats.unexpected }),
		{
			CHROMIUM: chromium,
		},
	);
} else count('end to end', 0, 1);

if (failures.length > 0) say(`\nfailed: ${failures.join(', ')}`);
say(`\n${passed} passed, ${failed} failed`);
process.exit(failed > 0 ? 1 : 0);
