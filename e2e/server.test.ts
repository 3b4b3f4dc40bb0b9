/** The server as a process: what it acknowledged survives, and strangers are refused. */
import { mkdtempSync, rmSync } from 'node:fs';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { diffDocuments } from '../core/document/changeset';
import { setValue } from '../core/edits/keys';
import type { Doc } from '../core/document/types';
import { projectId } from './compose';
import { MAX_FILE_LENGTH } from '../core/formats/project/limits';
import { expect, test, TestServer } from './server';

interface Loaded {
	doc: Doc;
	revision: number;
}

for (const signal of ['SIGKILL', 'SIGTERM'] as const)
	test(`ended by ${signal} in the middle of saves, nothing acknowledged is lost`, async ({ server }) => {
		const id = await projectId(server, 'Quay');
		const url = () => `${server.address}/api/projects/${id}`;
		const address = {
			clip: 'sack-drop',
			part: 'mail-sack',
			property: 'translation',
			component: 'z',
		} as const;
		let { doc, revision } = (await (await fetch(url())).json()) as Loaded;
		for (let round = 0; round < 3; round++) {
			const acknowledged = new Map<number, number>();
			let running = true;
			const saving = (async () => {
				for (let i = 0; running; i++) {
					const [t, v] = [100 * (i % 700), round * 1000 + i];
					const next = setValue(doc, address, t, v);
					const changeset = diffDocuments(doc, next);
					const response = await fetch(url(), {
						method: 'PATCH',
						headers: { 'content-type': 'application/json', 'if-match': `"${revision}"` },
						body: JSON.stringify({ editId: `k${round}-${i}`, label: 'Set value', changeset }),
					}).catch(() => null);
					if (!response?.ok) return;
					revision = ((await response.json()) as Loaded).revision;
					doc = next;
					acknowledged.set(t, v);
				}
			})();
			// Under way: some are acknowledged, one is on its way when the process dies.
			await expect.poll(() => acknowledged.size, { intervals: [5] }).toBeGreaterThan(8 + 5 * round);
			const code = await server.stop(signal);
			if (signal === 'SIGTERM') expect(code).toBe(0);
			running = false;
			await saving;
			await server.start();
			const kept = (await (await fetch(url())).json()) as Loaded;
			const keys = new Map(
				kept.doc.channels['sack-drop/mail-sack/translation/z'].keys.map((key) => [key.t, key.v]),
			);
			for (const [t, v] of acknowledged) expect(keys.get(t)).toBe(v);
			// One edit may have been stored without its answer having arrived.
			expect(kept.revision - revision).toBeGreaterThanOrEqual(0);
			expect(kept.revision - revision).toBeLessThanOrEqual(1);
			({ doc, revision } = kept);
		}
	});

function ask(
	address: string,
	headers: Record<string, string>,
	method = 'GET',
	path = '/api/projects',
): Promise<number> {
	const { hostname, port } = new URL(address);
	return new Promise((resolve, reject) => {
		const sent = request(
			{ hostname, port, path, method, headers: { 'content-type': 'application/json', ...headers } },
			(response) => {
				response.resume();
				resolve(response.statusCode ?? 0);
			},
		);
		sent.on('error', reject);
		sent.end(method === 'POST' ? JSON.stringify({ name: 'Raft', space: 'world' }) : undefined);
	});
}

test('a foreign Host or Origin gets nothing, and pages carry a strict policy', async ({ server }) => {
	expect(await ask(server.address, {})).toBe(200);
	expect(await ask(server.address, { host: 'harbour.example' })).toBe(403);
	expect(await ask(server.address, { origin: 'https://harbour.example' }, 'POST')).toBe(403);
	expect(await ask(server.address, { origin: server.address }, 'POST')).toBe(201);
	const page = await fetch(server.address);
	const policy = page.headers.get('content-security-policy') ?? '';
	expect(policy).toContain("default-src 'self'");
	expect(policy).toContain("frame-ancestors 'none'");
	expect(policy).not.toContain('unsafe-eval');
	expect(policy.match(/script-src[^;]*/)?.[0]).not.toContain('unsafe-inline');
});

test('a huge import is cut off by its size, and the server goes on', async ({ server }) => {
	const response = await fetch(`${server.address}/api/projects/import`, {
		method: 'POST',
		headers: { 'content-type': 'application/json' },
		body: '['.repeat(MAX_FILE_LENGTH + 1),
	});
	expect(response.status).toBe(413);
	expect(response.headers.get('content-type')).toContain('application/problem+json');
	expect((await fetch(`${server.address}/api/health`)).status).toBe(200);
});

test('a second server on the same folder says so and ends; after the first is killed the folder is free', async ({
	server,
}) => {
	const second = new TestServer(server.data, 'serve');
	await expect(second.start()).rejects.toThrow(/ended with 2: .*another Hillock serves this folder/s);
	await server.stop('SIGKILL');
	await second.start();
	expect((await fetch(`${second.address}/api/health`)).ok).toBe(true);
	await second.stop();
});

test('a server that others can reach asks for its token once, and shows its address as a code', async ({
	page,
}) => {
	const data = mkdtempSync(join(tmpdir(), 'hillock-'));
	// Another address of this machine alone: to the server it is one that others can reach.
	const open = new TestServer(data, 'demo', ['--host', '127.0.0.2', '--token', 'tide']);
	await open.start();
	const address = new URL(open.address).origin;
	try {
		expect((await fetch(`${address}/api/projects`)).status).toBe(401);
		expect(
			(await fetch(`${address}/api/projects`, { headers: { authorization: 'Bearer tide' } })).status,
		).toBe(200);
		await page.goto(`${address}/`);
		const field = page.getByLabel('The access token');
		await field.fill('ebb');
		await page.getByRole('button', { name: 'Open' }).click();
		await expect(page.getByRole('alert')).toHaveText('That was not it.');
		await field.fill('tide');
		await page.getByRole('button', { name: 'Open' }).click();
		await page.getByRole('link', { name: /Quay/ }).first().click();
		expect(page.url()).not.toContain('tide');
		await page.getByRole('link', { name: 'Rehearse' }).click();
		await page.getByRole('button', { name: 'on a phone' }).click();
		const shown = page.locator('[data-phone-address]');
		await expect(shown).toHaveText(`${address}${new URL(page.url()).pathname}?token=tide`);
		await expect(page.getByRole('img', { name: /^code of/ })).toBeVisible();
		// The phone has no cookie yet: the address alone lets it in, and then does not show its token.
		const phone = await page
			.context()
			.browser()!
			.newPage({ viewport: { width: 390, height: 844 }, hasTouch: true });
		await phone.goto((await shown.textContent())!);
		await expect(phone.locator('[data-file]')).toContainText('clip file');
		expect(phone.url()).not.toContain('tide');
		await expect(phone.locator('[data-stick]')).toBeVisible();
		await phone.getByRole('button', { name: 'all still' }).tap();
		await phone.close();
	} finally {
		await open.stop();
		rmSync(data, { recursive: true, force: true });
	}
});
