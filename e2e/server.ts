/** Starts the built application on a free port and a data folder of its own; a test may stop and start it. */
import { test as base, expect, type Page } from '@playwright/test';
import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

export class TestServer {
	private process: ChildProcess | null = null;
	address = '';

	constructor(
		readonly data: string,
		private readonly command: 'demo' | 'serve' = 'demo',
		private readonly more: readonly string[] = [],
	) {}

	/** Starts it, on the same port as before where there was one. */
	async start(): Promise<void> {
		const port = this.address ? new URL(this.address).port : '0';
		const child = spawn(
			process.execPath,
			['bin/hillock.js', this.command, '--port', port, '--data', this.data, ...this.more],
			{
				stdio: ['ignore', 'pipe', 'pipe'],
			},
		);
		this.process = child;
		this.address = await new Promise((resolve, reject) => {
			let output = '';
			const read = (chunk: Buffer) => {
				output += chunk.toString();
				const ready = /http:\/\/\S+/.exec(output);
				if (ready) resolve(ready[0]);
			};
			child.stdout.on('data', read);
			child.stderr.on('data', read);
			child.once('exit', (code) => reject(new Error(`the server ended with ${code}: ${output}`)));
		});
	}

	/** Ends it with a signal; gives its exit code. */
	async stop(signal: NodeJS.Signals = 'SIGTERM'): Promise<number | null> {
		const child = this.process;
		this.process = null;
		if (!child || child.exitCode !== null) return child?.exitCode ?? null;
		const ended = new Promise<number | null>((resolve) => child.once('exit', (code) => resolve(code)));
		child.kill(signal);
		return ended;
	}
}

export const test = base.extend<{ server: TestServer; app: Page }>({
	// eslint-disable-next-line no-empty-pattern
	server: async ({}, use) => {
		const data = mkdtempSync(join(tmpdir(), 'hillock-'));
		const server = new TestServer(data);
		await server.start();
		await use(server);
		await server.stop();
		rmSync(data, { recursive: true, force: true });
	},
	/** A page on which an error of the script fails the test. */
	app: async ({ page, context }, use) => {
		// Nobody is here for the first time, but for the test that is about that.
		await context.addInitScript(() => {
			if (location.protocol !== 'http:') return;
			localStorage.setItem('hillock-guide', 'done');
			// Without a graphics processor they take longer than all else; the picture is the same.
			localStorage.setItem('hillock-stage-edges', 'rough');
		});
		const errors: string[] = [];
		page.on('pageerror', (error) => errors.push(error.message));
		await use(page);
		expect(errors).toEqual([]);
	},
});

export { expect };
