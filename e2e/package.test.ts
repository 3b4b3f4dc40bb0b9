/** The package as somebody installs it: packed, put into an empty folder, used with production dependencies alone. */
import { execFile, spawn } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, relative } from 'node:path';
import { promisify } from 'node:util';
import { expect, test } from '@playwright/test';
import { openClip } from './compose';

const run = promisify(execFile);

/**
 * Lays a tarball and the production dependencies that are installed here into a folder, as an installation does, but
 * without a registry, and without compiling the database module again.
 */
async function install(tarball: string, folder: string): Promise<void> {
	const modules = join(folder, 'node_modules');
	const own = join(modules, 'hillock');
	mkdirSync(own, { recursive: true });
	mkdirSync(join(modules, '.bin'));
	await run('tar', ['-xzf', tarball, '-C', own, '--strip-components=1']);
	const { stdout } = await run('npm', ['ls', '--omit=dev', '--all', '--parseable']);
	const [root, ...packages] = stdout.trim().split('\n');
	for (const path of packages)
		cpSync(path, join(folder, relative(root, path)), { recursive: true, dereference: true });
	symlinkSync('../hillock/bin/hillock.js', join(modules, '.bin/hillock'));
}

test('installed from its tarball it starts, exports and checks, and keeps its data where such data belong', async ({
	page,
}) => {
	const folder = mkdtempSync(join(tmpdir(), 'hillock-package-'));
	const home = join(folder, 'home');
	mkdirSync(home);
	// Without the scripts: the build is there already.
	const { stdout } = await run('npm', ['pack', '--ignore-scripts', '--json', '--pack-destination', folder]);
	const [{ filename, files }] = JSON.parse(stdout) as { filename: string; files: { path: string }[] }[];
	const paths = files.map(({ path }) => path);
	expect(paths).toContain('build/handler.js');
	expect(paths).toContain('build-node/hillock.js');
	expect(paths.filter((path) => /\.test\.|^e2e\/|^core\/|^src\/|\.map$|bench\//.test(path))).toEqual([]);

	const env = { ...process.env, HOME: home, XDG_DATA_HOME: join(home, 'data'), HILLOCK_DATA: undefined };
	await install(join(folder, filename), folder);
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
