/** What is stored is kept: through a torn database, by copies, and as one zip of everything. */
import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { request } from 'node:http';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import { expect, test } from './server';

test('a torn database is told, its projects come from the copy; all are saved as one zip and come back from it', async ({
	server,
	page,
}) => {
	execFileSync(process.execPath, ['bin/hillock.js', 'backup', '--data', server.data]);
	await server.stop();
	const file = join(server.data, 'hillock.sqlite');
	const bytes = readFileSync(file);
	writeFileSync(file, bytes.fill(0x41, 4096 * 20, 4096 * 26));
	await server.start();
	await page.goto(server.address);
	const notice = page.getByRole('region', { name: 'the database was damaged' });
	await expect(notice).toContainText('From a backup');
	await expect(notice.getByRole('listitem')).toHaveText([/^(Quay|Parcel slip), /, /^(Quay|Parcel slip), /]);
	await expect(page.getByRole('list', { name: 'projects' }).getByRole('listitem')).toHaveCount(2);
	await notice.getByRole('button', { name: 'I have read this' }).click();
	await expect(notice).toHaveCount(0);
	await page.reload();
	await expect(notice).toHaveCount(0);

	const saved = page.waitForEvent('download');
	await page.getByRole('link', { name: 'Save all projects as one zip' }).click();
	const download = await saved;
	expect(download.suggestedFilename()).toMatch(/^hillock-projects-\d{4}-\d\d-\d\d\.zip$/);
	const zip = readFileSync(await download.path());
	expect(Object.keys(unzipSync(zip)).sort()).toEqual(['Parcel slip.hillock.json', 'Quay.hillock.json']);
	await page.getByLabel('project file').setInputFiles({
		name: download.suggestedFilename(),
		mimeType: 'application/zip',
		buffer: zip,
	});
	await expect(page.getByRole('list', { name: 'projects' }).getByRole('listitem')).toHaveCount(4);
});

test('a body that is too large is answered while it is still being sent', async ({ server }) => {
	const path = '/api/projects';
	const { hostname, port } = new URL(server.address);
	const status = await new Promise((resolve, reject) => {
		const headers = { 'content-type': 'application/json' };
		const call = request({ hostname, port, path, method: 'POST', headers }, (response) => {
			response.resume();
			response.on('end', () => resolve(response.statusCode));
		});
		call.on('error', reject);
		const piece = Buffer.alloc(1024 * 1024, 'x');
		for (let megabyte = 0; megabyte < 12; megabyte++) call.write(piece);
		call.end();
	});
	expect(status).toBe(413);
});
