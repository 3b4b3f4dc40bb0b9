/** The player as it is taken along: on a page of its own, with a clip file, as its documentation tells. */
import type { Page } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { goToFrame, laneValue, openClip, projectId, saved } from './compose';
import { expect, test, TestServer } from './server';

/** Opens the example of the documentation, with elements that have a place. */
async function openExample(page: Page, address: string): Promise<void> {
	const file = join(mkdtempSync(join(tmpdir(), 'clips-')), 'slip.clips.json');
	const project = 'demo/parcel-slip.hillock.json';
	execFileSync('node', [
		'bin/hillock.js',
		'export',
		project,
		'--to',
		'clips',
		'--clip',
		'all',
		'--out',
		file,
	]);
	const [, example] = /```html\n([\s\S]*?)```/.exec(readFileSync('player/README.md', 'utf8'))!;
	const style =
		'<style>[data-part] { position: absolute; left: 20px; top: 300px; width: 90px; height: 40px }</style>';
	const files: Record<string, { contentType: string; body: string }> = {
		'/app/': { contentType: 'text/html', body: `<!doctype html>${style}${example}` },
		'/app/parcel-slip.clips.json': { contentType: 'application/json', body: readFileSync(file, 'utf8') },
	};
	await page.route('**/app/**', async (route) => {
		const { pathname } = new URL(route.request().url());
		const own = files[pathname];
		if (own) await route.fulfill(own);
		else {
			const response = await route.fetch({ url: `${address}${pathname.replace('/app/', '/player/')}` });
			await route.fulfill({ response });
		}
	});
	await page.goto(`${address}/app/`);
}

/** What the page shows of the slip now. */
function shown(page: Page): Promise<{ y: number; opacity: number; top: number }> {
	return page.locator('[data-part="slip"]').evaluate((slip) => {
		const { translate, opacity } = getComputedStyle(slip);
		const y = Number.parseFloat(translate.split(' ')[1] ?? '0');
		return { y, opacity: Number(opacity), top: slip.getBoundingClientRect().top };
	});
}

test('a clip plays on the elements of a page, comes to its end, and tells its cue once', async ({
	app,
	server,
}) => {
	const said: string[] = [];
	app.on('console', (message) => said.push(message.text()));
	await openExample(app, server.address);
	const tops = new Set<number>();
	for (let i = 0; i < 8; i++) {
		tops.add(Math.round((await shown(app)).top));
		await app.waitForTimeout(60);
	}
	expect(tops.size).toBeGreaterThan(2);
	await expect.poll(async () => (await shown(app)).y).toBeCloseTo(0, 3);
	expect(await shown(app)).toMatchObject({ opacity: 1, top: 300 });
	await expect.poll(() => said).toEqual(['slip in place {parcel: 4071}']);
});

test('whoever has asked for less motion sees the end at once', async ({ app, server }) => {
	await app.emulateMedia({ reducedMotion: 'reduce' });
	await openExample(app, server.address);
	await app.waitForTimeout(100);
	const first = await shown(app);
	await app.waitForTimeout(300);
	expect(await shown(app)).toEqual(first);
	expect(first).toMatchObject({ opacity: 1, top: 300 });
});

/** A game that holds its clip still at a moment, and tells what it shows and what it is told. */
const GAME = `<!doctype html><title>game</title><script type="module">
	import { placeOf, Player, readClips } from './hillock-player.js';
	import { follow } from './hillock-player-live.js';
	const url = new URLSearchParams(location.search).get('clips');
	window.problems = [];
	const onproblem = (problem) => window.problems.push(problem);
	const answer = await fetch(url).catch((error) => onproblem(error.message));
	const set = readClips(await answer.json());
	const player = new Player(set);
	player.play({ clip: 'sack drop' });
	player.seek(35 / 30);
	window.exchanged = 0;
	follow(url, player, { onproblem, onset: () => window.exchanged++ });
	window.shown = () => [player.pose[placeOf(player.layout, 'mail sack', 'translation')], player.playing[0].ticks];
</script>`;

test('a running game follows the project: an edit in Compose is seen in it, at the time that runs', async ({
	app,
	context,
}) => {
	const pages = createServer((request, response) => {
		const { pathname } = new URL(request.url!, 'http://game');
		const script = pathname.endsWith('.js');
		response.setHeader('content-type', script ? 'text/javascript' : 'text/html');
		response.end(script ? readFileSync(join('player/dist', pathname)) : GAME);
	});
	await new Promise<void>((resolve) => pages.listen(0, '127.0.0.1', resolve));
	const { port } = pages.address() as AddressInfo;
	const data = mkdtempSync(join(tmpdir(), 'hillock-'));
	const server = new TestServer(data, 'demo', ['--allow-origin', `http://127.0.0.1:${port}`]);
	await server.start();
	try {
		const clips = `${server.address}/api/projects/${await projectId(server, 'Quay')}/clips.json?clip=sack%20drop`;
		const open = async (host: string) => {
			const page = await context.newPage();
			await page.goto(`http://${host}:${port}/?clips=${encodeURIComponent(clips)}`);
			return page;
		};
		const game = await open('127.0.0.1');
		await expect.poll(() => game.evaluate('window.exchanged')).toBe(1);
		const [before, ticks] = await game.evaluate<[number, number]>('window.shown()');
		expect(before).toBeCloseTo(0.05, 3);

		await openClip(app, server, 'Quay', 'sack drop');
		await goToFrame(app, 35);
		const value = laneValue(app, 'mail sack translation x');
		await value.fill('0.2');
		await value.press('Enter');
		await saved(app);
		await expect
			.poll(async () => (await game.evaluate<[number, number]>('window.shown()'))[0])
			.toBeCloseTo(0.2, 3);
		expect((await game.evaluate<[number, number]>('window.shown()'))[1]).toBe(ticks);
		expect(await game.evaluate('window.problems')).toEqual([]);

		// Another site is not let in, and what it is told is a word, not a clip.
		const stranger = await open('localhost');
		await expect.poll(() => stranger.evaluate('window.problems.length')).toBeGreaterThan(0);
		expect(await stranger.evaluate('window.shown')).toBeUndefined();

		await fetch(clips.replace(/\/clips\.json.*/, ''), { method: 'DELETE' });
		await expect.poll(() => game.evaluate('window.problems')).toEqual(['the project was deleted']);
	} finally {
		await server.stop();
		pages.close();
		rmSync(data, { recursive: true, force: true });
	}
});

test('the game of the demo plays by tap and key, and changes while it runs', async ({
	app,
	server,
	context,
}) => {
	const game = await context.newPage();
	const problems: string[] = [];
	game.on('pageerror', (error) => problems.push(error.message));
	await game.goto(`${server.address}/game/`);
	const told = game.locator('#told');
	await expect(told).toContainText('Ready.');
	await game.locator('[data-part="crane arm"] > rect').first().click();
	await expect(told).toContainText('thud');
	await game.getByText('Stamp', { exact: true }).click();
	await expect(told).toContainText('sound');
	const xOf = (part: string) =>
		game
			.locator(`[data-part="${part}"]`)
			.evaluate((own) => Number(/translate\((\S+)/.exec(own.getAttribute('transform')!)![1]));
	// The sack rolls to where its clip leaves it; moved in Compose, it lies elsewhere at once.
	await expect.poll(() => xOf('mail sack')).toBeCloseTo(0.5, 2);
	await openClip(app, server, 'Quay', 'sack drop');
	await goToFrame(app, 60);
	const value = laneValue(app, 'mail sack translation x');
	await value.fill('+=1.5');
	await value.press('Enter');
	await expect.poll(() => xOf('mail sack')).toBeCloseTo(2, 2);
	await game.keyboard.press('ArrowRight');
	await expect.poll(() => xOf('ferry')).toBeGreaterThan(3.6);
	expect(problems).toEqual([]);
});
