/** The examples: the lines of each README are run as they stand there, and what comes of them is looked at. */
import { execFile } from 'node:child_process';
import { cpSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import { tmpdir } from 'node:os';
import { extname, join, resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import { expect, test } from '@playwright/test';

const ROOT = process.cwd();
let folder = '';
let site: Server;
let address = '';

test.describe.configure({ mode: 'serial' });
test.beforeAll(async () => {
	folder = mkdtempSync(join(tmpdir(), 'hillock-examples-'));
	cpSync('examples', join(folder, 'examples'), { recursive: true });
	for (const own of ['demo', 'player', 'node_modules']) symlinkSync(resolve(own), join(folder, own));
	const types: Record<string, string> = {
		'.js': 'text/javascript',
		'.html': 'text/html',
		'.json': 'application/json',
	};
	site = createServer((request, response) => {
		const path = join(folder, decodeURI(new URL(request.url!, 'http://x').pathname));
		try {
			const content = readFileSync(path);
			response.setHeader('content-type', types[extname(path)] ?? 'application/octet-stream').end(content);
		} catch {
			response.writeHead(404).end();
		}
	});
	await new Promise<void>((done) => site.listen(0, '127.0.0.1', done));
	address = `http://127.0.0.1:${(site.address() as { port: number }).port}/examples`;
});
test.afterAll(() => {
	site.close();
	rmSync(folder, { recursive: true, force: true });
});

const at = (example: string, ...path: string[]) => join(folder, 'examples', example, ...path);

/** Runs a script where an example lies; `npx` finds what is here. */
function sh(example: string, script: string): Promise<{ code: number; output: string }> {
	const npx = `npx() { local name=$1; shift; if [ "$name" = hillock ]; then node "${ROOT}/bin/hillock.js" "$@"; else node "${ROOT}/node_modules/$name/bin/$name.js" "$@"; fi; }`;
	return new Promise((done) =>
		execFile('bash', ['-ec', `${npx}\n${script}`], { cwd: at(example) }, (error, stdout, stderr) =>
			done({ code: error ? Number(error.code) : 0, output: stdout + stderr }),
		),
	);
}
/** The lines of an example's README. */
async function build(example: string): Promise<string> {
	const [, script] = /```sh\n([\s\S]*?)```/.exec(readFileSync(at(example, 'README.md'), 'utf8'))!;
	const { code, output } = await sh(example, script);
	expect(code, output).toBe(0);
	return output;
}

test('each example has a README with lines to run, and stands in the list', () => {
	const folders = readdirSync('examples', { withFileTypes: true }).filter((own) => own.isDirectory());
	const list = readFileSync('examples/README.md', 'utf8');
	for (const { name } of folders) {
		expect(list).toContain(`(${name}/README.md)`);
		expect(readFileSync(at(name, 'README.md'), 'utf8')).toContain('```sh\nnpx hillock');
	}
});

test('a page moves by CSS alone, opened from the disk', async ({ page }) => {
	await build('page-css');
	await page.goto(pathToFileURL(at('page-css', 'index.html')).href);
	const notice = page.locator('#notice');
	await expect.poll(() => notice.evaluate((own) => getComputedStyle(own).opacity)).toBe('1');
	const [moved] = await notice.evaluate((own) =>
		own.getAnimations().map((animation) => {
			animation.pause();
			animation.currentTime = 0;
			return getComputedStyle(own).translate;
		}),
	);
	expect(moved).toBe('0px 106px');
});

test('a page with the player: a tap plays what was bound, its cue calls code', async ({ page }) => {
	await build('page-player');
	await page.goto(`${address}/page-player/index.html`);
	const button = page.getByRole('button', { name: 'Stamp' });
	const seen = new Set<string>();
	await button.click();
	await expect
		.poll(async () => seen.add(await button.evaluate((own) => own.style.scale)).size, { intervals: [40] })
		.toBeGreaterThan(2);
	await expect(page.getByRole('listitem').first()).toBeVisible();
});

test('a component plays a clip, and another one when it is told to', async ({ page }) => {
	await build('svelte');
	await page.goto(`${address}/svelte/dist/index.html`);
	const scaleOf = (part: string) =>
		page.locator(`[data-part="${part}"]`).evaluate((own) => (own as HTMLElement).style.scale);
	const seen = new Set<string>();
	await expect
		.poll(async () => seen.add(await scaleOf('badge')).size, { intervals: [40] })
		.toBeGreaterThan(3);
	const before = await scaleOf('stamp button');
	await page.getByRole('button', { name: 'Press' }).click();
	await expect.poll(() => scaleOf('stamp button'), { intervals: [40] }).not.toBe(before);
});

test('in a scene the player shows what three.js reads of the glTF file', async ({ page }) => {
	await build('three');
	await page.goto(`${address}/three/dist/index.html`);
	type Window = { pelicans?: () => number[][] };
	await page.waitForFunction(() => (globalThis as Window).pelicans !== undefined);
	const heights = new Set<number>();
	await expect
		.poll(async () => {
			const [byThree, byPlayer] = await page.evaluate(() => (globalThis as Window).pelicans!());
			// Along x the player travels on from round to round.
			for (const axis of [1, 2]) expect(Math.abs(byThree[axis] - byPlayer[axis])).toBeLessThan(0.01);
			return heights.add(byThree[1]).size;
		})
		.toBeGreaterThan(4);
});

test('cues are checked without a screen', async () => {
	expect(await build('node-cues')).toContain('sack drop');
	const file = at('node-cues', 'quay.clips.json');
	writeFileSync(file, readFileSync(file, 'utf8').replaceAll('"loudness"', '"volume"'));
	const { code, output } = await sh('node-cues', 'node check-cues.mjs quay.clips.json');
	expect([code, output.includes('its payload has no loudness')]).toEqual([1, true]);
});

test('a build in two shares writes what one writes', async () => {
	await build('build-many');
	const whole = 'npx hillock export ../../demo/*.hillock.json --clip all --to clips --out whole';
	expect((await sh('build-many', whole)).code).toBe(0);
	const filesOf = (name: string) =>
		readdirSync(at('build-many', name), { recursive: true, withFileTypes: true })
			.filter((own) => own.isFile())
			.map((own) => [own.name, readFileSync(join(own.parentPath, own.name), 'utf8')]);
	expect(filesOf('out').sort()).toEqual(filesOf('whole').sort());
	expect(filesOf('whole').length).toBe(2);
});

test('sixty lines read glTF samplers as they are', async () => {
	const output = await build('gltf-reader');
	const [x, y] = output.trim().split('\n').at(-1)!.split(' ').map(Number);
	const sampled = await sh(
		'gltf-reader',
		'npx hillock sample ../../demo/quay.hillock.json --clip "sack drop" --rate 2',
	);
	type Row = { target: string; path: string; t: number; value: number[] };
	const row = (JSON.parse(sampled.output) as Row[]).find(
		(own) => own.target === 'mail sack' && own.path === 'translation' && own.t === 0.5,
	)!;
	expect(Math.abs(x - row.value[0])).toBeLessThan(0.005);
	expect(Math.abs(y - row.value[1])).toBeLessThan(0.005);
});
