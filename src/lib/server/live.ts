/** What happens to a project, told to its windows as it happens: Server-Sent Events, each with its revision as id. */
import type { ProjectStore } from './project-store';

/** Comments that keep a silent line open, and tell a client that is gone. */
const BEAT_MS = 15_000;

const open = new Set<() => void>();

/** Ends all streams, so that the server can stop. */
export function closeLive(): void {
	for (const close of open) close();
}

/** All that was done after a revision, and then what is done. The project must be there. */
export function liveStream(store: ProjectStore, project: string, since: number): Response {
	const text = new TextEncoder();
	let end = () => {};
	const body = new ReadableStream<Uint8Array>({
		start(controller) {
			let known = since;
			const send = (line: string) => {
				try {
					controller.enqueue(text.encode(line));
				} catch {
					// The reader is gone already: an edit that is told must not fail for that.
					end();
				}
			};
			const tell = () => {
				for (const row of store.changes(project, known)) {
					known = row.revision;
					send(`id: ${row.revision}\ndata: ${JSON.stringify(row)}\n\n`);
				}
			};
			const stopWatching = store.watch(project, (isThere) => {
				if (isThere) tell();
				else send('event: gone\ndata: {}\n\n');
			});
			const beat = setInterval(() => send(': here\n\n'), BEAT_MS);
			const close = () => {
				end();
				controller.close();
			};
			end = () => {
				end = () => {};
				clearInterval(beat);
				stopWatching();
				open.delete(close);
			};
			open.add(close);
			send('retry: 1500\n\n');
			tell();
		},
		cancel: () => end(),
	});
	return new Response(body, {
		headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' },
	});
}
