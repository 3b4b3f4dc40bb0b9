/** What the command line makes of its arguments. */
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { CliError } from './error';
import { execFileSync } from 'node:child_process';
import { COMMAND_EXAMPLES } from './examples';
import { ACTIONS, run } from './program';

let told: string;
const calls: unknown[][] = [];
const recorded = (fails?: Error) =>
	Object.fromEntries(
		Object.keys(ACTIONS).map((name) => [
			name,
			(...given: unknown[]) => {
				calls.push([name, ...given]);
				if (fails) throw fails;
			},
		]),
	) as unknown as typeof ACTIONS;

/** What is called, and with what, for a line of arguments; null where nothing is. */
async function called(line: string, fails?: Error): Promise<unknown[] | null> {
	calls.length = 0;
	told = '';
	process.exitCode = undefined;
	await run(line.split(' ').filter(Boolean), recorded(fails));
	return calls.length === 1 ? calls[0] : null;
}

beforeEach(() => {
	const tell = (text: unknown) => ((told += String(text)), true);
	vi.spyOn(process.stdout, 'write').mockImplementation(tell);
	vi.spyOn(process.stderr, 'write').mockImplementation(tell);
});
afterEach(() => {
	vi.restoreAllMocks();
	process.exitCode = undefined;
});

const SERVING = { port: 4720, host: '127.0.0.1' };
const EXPORTING = { clip: ['a'], to: 'gltf', bound: 0.001, out: 'o.glb' };
const PROFILED = { to: 'gltf', bound: 0.001, profile: ['a'], out: 'o' };

it.each([
	['serve', ['serve', { ...SERVING, demo: false }]],
	['demo', ['serve', { ...SERVING, demo: true }]],
	[
		'serve --port 0 --host 0.0.0.0 --token secret --data here',
		['serve', { port: 0, host: '0.0.0.0', token: 'secret', data: 'here', demo: false }],
	],
	['serve --port 65535', ['serve', { ...SERVING, port: 65_535, demo: false }]],
	['export p.json --clip a --out o.glb', ['exportFiles', ['p.json'], EXPORTING]],
	[
		'export p.json q.json --profile a --shard 2/5 --jobs 3 --watch --json --out o',
		[
			'exportFiles',
			['p.json', 'q.json'],
			{ ...PROFILED, shard: { part: 2, of: 5 }, jobs: 3, watch: true, json: true },
		],
	],
	[
		'export p.json --clip a --clip b --out o.glb --bound 0.01 --bound-translation 2 --bound-rotation 0.5 --bound-scale 0.1 --bound-number 0.02',
		[
			'exportFiles',
			['p.json'],
			{
				...EXPORTING,
				clip: ['a', 'b'],
				bound: 0.01,
				boundTranslation: 2,
				boundRotation: 0.5,
				boundScale: 0.1,
				boundNumber: 0.02,
			},
		],
	],
	['import p.glb', ['importFile', 'p.glb', {}]],
	['import p.glb --out o.json --data here', ['importFile', 'p.glb', { out: 'o.json', data: 'here' }]],
	['rehearse p.json', ['rehearseFile', 'p.json', { frames: 60 }]],
	[
		'rehearse p.json --name a --frames random --sarif',
		['rehearseFile', 'p.json', { name: ['a'], frames: 'random', sarif: true }],
	],
	['sample p.json --clip a', ['sampleFile', 'p.json', { clip: ['a'], rate: 60 }]],
	['sample p.json --clip a --rate 24', ['sampleFile', 'p.json', { clip: ['a'], rate: 24 }]],
	['check p.json', ['checkFile', 'p.json', {}]],
	['backup', ['backupData', {}]],
	['backup --out b.sqlite --data here', ['backupData', { out: 'b.sqlite', data: 'here' }]],
	['restore b.sqlite --data here', ['restoreData', 'b.sqlite', { data: 'here' }]],
	[
		'check p.json --clip a --clip b --json --strict',
		['checkFile', 'p.json', { clip: ['a', 'b'], json: true, strict: true }],
	],
	['check p.json --sarif', ['checkFile', 'p.json', { sarif: true }]],
])('%s', async (line, expected) => {
	vi.stubEnv('HILLOCK_DATA', undefined);
	expect(await called(line)).toEqual(expected);
	expect([told, process.exitCode]).toEqual(['', undefined]);
});

it.each([
	['fly', /unknown command 'fly'/],
	['serve --port 65536', /It must be 0 to 65535/],
	['serve --port -1', /It must be 0 to 65535/],
	['serve --port 1.5', /It must be 0 to 65535/],
	['export p.json --clip a --out o.glb --shard 6/5', /It must be a part and a number of parts/],
	['export p.json --clip a --out o.glb --jobs 0', /It must be a whole number from 1/],
	['export p.json --clip a --profile b --out o.glb', /'--profile <name>' cannot be used with option '--clip/],
	['export p.json --bound 0.1 --profile b --out o.glb', /cannot be used with option '--bound/],
	['export p.json --clip a --out o.csv --rate 5000', /It must be a number from 1 to 1000/],
	['export p.json --clip a', /required option '--out <file>'/],
	['export --clip a --out o.glb', /missing required argument 'files'/],
	['export p.json --clip a --out o.glb --bound 0', /It must be a number above 0/],
	['export p.json --clip a --out o.glb --bound-scale much', /It must be a number above 0/],
	['rehearse p.json --frames often', /It must be a number above 0/],
	['sample p.json --clip a --rate Infinity', /It must be a number from 0.001 to 10000/],
	['sample p.json --clip a --rate 1e6', /It must be a number from 0.001 to 10000/],
	['check p.json --loud', /unknown option '--loud'/],
])('%s is refused, with a hint and exit code 2', async (line, message) => {
	expect(await called(line)).toBe(null);
	expect(told).toMatch(message);
	expect(told).toContain('--help');
	expect(process.exitCode).toBe(2);
});

describe('help and version', () => {
	it.each(['--help', 'export --help', '--version'])('%s is printed, and is no error', async (line) => {
		expect(await called(line)).toBe(null);
		expect(told).toMatch(line === '--version' ? /^\d+\.\d+\.\d+\n$/ : /^Usage: hillock/);
		expect(process.exitCode).toBe(0);
	});

	it('names the formats that there are', async () => {
		await called('export --help');
		expect(told).toMatch(/target format: gltf/);
		await called('import --help');
		expect(told).toMatch(/\.hillock\.json.*\.glb/s);
	});
});

it('an error of a command is told in a line, with its exit code; any other is not hidden', async () => {
	await called('check p.json', new CliError('p.json: bad', 1));
	expect([told, process.exitCode]).toEqual(['hillock: p.json: bad\n', 1]);
	await expect(called('check p.json', new TypeError('a fault'))).rejects.toThrow('a fault');
});

it('each command shows an example in its help, which it understands', async () => {
	await called('--help');
	const commands = [...told.matchAll(/^ {2}(\w+) (?:\[options\] )?(?:<|\[options\]| {2})/gm)].map(
		([, name]) => name,
	);
	expect(commands.filter((name) => name !== 'help').sort()).toEqual(Object.keys(COMMAND_EXAMPLES).sort());
	for (const [command, examples] of Object.entries(COMMAND_EXAMPLES))
		for (const line of examples) {
			expect(await called(line.replace('hillock ', '')), line).not.toBeNull();
			await called(`${command} --help`);
			expect(told).toContain(line);
		}
});

it('a shell completes commands, and options of the one that was typed', async () => {
	process.exitCode = undefined;
	told = '';
	await run(['completion', 'bash']);
	const complete = (words: string[]) =>
		execFileSync('bash', [
			'-c',
			`${told}\nCOMP_WORDS=(${words.join(' ')}); COMP_CWORD=${words.length - 1}; _hillock; echo "\${COMPREPLY[@]}"`,
		])
			.toString()
			.trim();
	expect(complete(['hillock', 're'])).toBe('rehearse restore');
	expect(complete(['hillock', 'check', '--s'])).toBe('--sarif --strict');
	await run(['completion', 'csh']);
	expect([process.exitCode, told]).toEqual([2, expect.stringContaining('bash, zsh, fish')]);
});
