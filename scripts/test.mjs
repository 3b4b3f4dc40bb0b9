/**
 * `npm test`: installs what is missing, then lint, format, types, unit tests, build, end-to-end tests. Goes on after
 * a failure, so that one run tells all; the last line counts the tests (and each step that is no test as one).
 */
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

function tests(name, command, args, file, read, env = {}) {
	say(`\n== ${name}`);
	const status = run(command, args, env);
	const report = existsSync(file) ? read(JSON.parse(readFileSync(file, 'utf8'))) : { good: 0, bad: 0 };
	// A runner that fails without a failed test (it could not start, a hook broke) is a failure of its own.
	count(name, report.good, status !== 0 && report.bad === 0 ? 1 : report.bad);
}

step('generate', 'npm', ['run', '--silent', 'generate']);
step('lint', 'npx', ['eslint', '.']);
step('format', 'npx', ['prettier', '--check', '--log-level', 'warn', '.']);
step('types of the core', 'npx', ['tsc', '-p', 'core']);
step('types', 'npx', ['svelte-check', '--tsconfig', './tsconfig.json', '--threshold', 'warning']);
const built = step('build', 'npm', ['run', '--silent', 'build']);
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
