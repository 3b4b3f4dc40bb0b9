/** The package as somebody installs it: packed, put into an empty folder, used with production dependencies alone. */
import { execFile, spawn } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { expect, test } from '@playwright/test';
import { openClip } from './compose';

const run = promisify(execFile);

test('installed from its tarball it starts, exports and checks, and keeps its data where such data belong', async ({
	page,
}) => {
	const folder = mkdtempSync(join(tmpdir(), 'hillock-package-'));
	const home = join(folder, 'home');
	mkdirSync(home);
	// Without the scripts: the build is there, and compiling the database module takes minutes. Its build is put in after.
	const { stdout } = await run('npm', ['pack', '--ignore-scripts', '--json', '--pack-destination', folder]);
	const [{ filename, files }] = JSON.parse(stdout) as { filename: string; files: { path: string }[] }[];
	const paths = files.map(({ path }) => path);
	expect(paths).toContain('build/handler.js');
	expect(paths).toContain('build-node/hillock.js');
	expect(paths.filter((path) => /\.test\.|^e2e\/|^core\/|^src\/|\.map$|bench\//.test(path))).toEqual([]);

	const env = { ...process.env, HOME: home, XDG_DATA_HOME: join(home, 'data'), HILLOCK_DATA: undefined };
	const install = [
		'install',
		'--ignore-scripts',
		'--omit=dev',
		'--no-audit',
		'--no-fund',
		'--prefer-offline',
	];
	await run('npm', [...install, join(folder, filename)], { cwd: folder, env: process.env });
	const module = 'node_modules/better-sqlite3/build';
	cpSync(module, join(folder, module), { recursive: true });
	expect(existsSync(join(folder, 'node_modules/vite'))).toBe(false);

	const bin = join(folder, 'node_modules/.bin/hillock');
	const server = spawn(bin, ['demo', '--port', '0'], { cwd: folder, env, stdio: ['ignore', 'pipe', 'pipe'] });
	try {
		const address = await new Promise<string>((resolve, reject) => {
			let said = '';
			const read = (chunk: Buffer) => {
				said += chunk.toString();
				const ready = /http:\/\/\S+/.exec(said);
				if (ready) resolve(ready[0]);
			};
			server.stdout.on('data', read);
			server.stderr.on('data', read);
			server.once('exit', (code) => reject(new Error(`it ended with ${code}: ${said}`)));
		});
		await openClip(page, { address }, 'Quay', 'sack drop');
		expect(existsSync(join(home, 'data', 'hillock', 'hillock.sqlite'))).toBe(true);

		// What Ship shows works where it is pasted.
		await page.getByRole('link', { name: 'Ship' }).click();
		const line = (await page.locator('code', { hasText: 'hillock export' }).textContent())!;
		expect(line).toContain('curl');
		const { stdout: exported } = await run('sh', ['-c', line.trim()], { cwd: folder, env });
		expect(exported).toContain('quay.glb');
		expect(readFileSync(join(folder, 'quay.glb')).subarray(0, 4).toString()).toBe('glTF');
	} finally {
		server.kill();
	}
	const { stdout: checked } = await run(bin, ['check', 'quay.hillock.json', '--json'], { cwd: folder, env });
	expect(Array.isArray(JSON.parse(checked))).toBe(true);
	rmSync(folder, { recursive: true, force: true });
});
