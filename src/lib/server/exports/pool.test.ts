/** What happens to work in the pool when the server is told to stop. */
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { closePool, runDraft, stopWork } from './pool';
import type { DraftTask } from './worker';

// There is no worker here: what is asked of it never comes to its end by itself.
vi.mock('piscina', () => ({
	Piscina: class {
		run = (_: unknown, { signal }: { signal: AbortSignal }) =>
			new Promise((_resolve, reject) => {
				const end = () => reject(new Error('aborted'));
				if (signal.aborted) end();
				signal.addEventListener('abort', end);
			});
		destroy = () => Promise.resolve();
	},
}));
vi.mock('node:fs', async (original) => ({ ...(await original<object>()), existsSync: () => true }));

beforeEach(() => void vi.useFakeTimers({ toFake: ['setTimeout'] }));
afterEach(() => void vi.useRealTimers());

it('is let go on for a while, then ends with a word, and what is asked later does too', async () => {
	let ended = '';
	const work = () => runDraft({} as DraftTask).catch((error: { type: string }) => (ended = error.type));
	const first = work();
	stopWork();
	await vi.advanceTimersByTimeAsync(7000);
	expect(ended).toBe('');
	await vi.advanceTimersByTimeAsync(1000);
	await first;
	expect(ended).toBe('stopping');
	ended = '';
	await work();
	expect(ended).toBe('stopping');
	await closePool();
});
