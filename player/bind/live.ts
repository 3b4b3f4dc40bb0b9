/** Follows a project while it is worked on: for development, beside a running game. */
import { readClips, type Names, type Player, type ReadClips } from '../index';

export interface FollowOptions<N extends Names = Names> {
	/** The player has other clips now: what shows its poses is to be bound to them. */
	onset?: (set: ReadClips<N>) => void;
	/** What went wrong, in words; it is tried again at the next change. */
	onproblem?: (problem: string) => void;
}

/**
 * Keeps a player at what a project has become: fetches its clip file from `…/clips.json` of a Hillock server, now and after each
 * edit, and exchanges the clips without losing the time that runs. Gives what ends it. The server must be told the page's
 * origin: `hillock serve --allow-origin http://localhost:5173`.
 */
export function follow<N extends Names = Names>(
	url: string,
	player: Player<N>,
	{ onset, onproblem }: FollowOptions<N> = {},
): () => void {
	let line: EventSource | null = null;
	let isEnded = false;
	let isFetching = false;
	/** Whether more has happened since the fetch began. */
	let isOld = false;

	async function fetchClips(): Promise<void> {
		isOld = isFetching;
		if (isFetching) return;
		isFetching = true;
		try {
			const answer = await fetch(url, { cache: 'no-cache' });
			const json = (await answer.json()) as { detail?: string };
			if (!answer.ok) throw new Error(json.detail ?? answer.statusText);
			const set = readClips<N>(json);
			if (isEnded) return;
			player.exchange(set);
			onset?.(set);
			if (!line) listen(/\d+/.exec(answer.headers.get('etag') ?? '')?.[0] ?? '0');
		} catch (error) {
			onproblem?.(error instanceof Error ? error.message : String(error));
			// Without a line nothing would tell when to try again.
			if (!line && !isEnded) setTimeout(() => void fetchClips(), 2000);
		} finally {
			isFetching = false;
			if (isOld && !isEnded) void fetchClips();
		}
	}

	function listen(revision: string): void {
		const live = new URL(url, location.href);
		live.pathname = live.pathname.replace(/clips\.json$/, 'live');
		live.searchParams.set('since', revision);
		line = new EventSource(live);
		line.onmessage = () => void fetchClips();
		line.addEventListener('gone', () => {
			onproblem?.('the project was deleted');
			end();
		});
	}

	function end(): void {
		isEnded = true;
		line?.close();
	}

	void fetchClips();
	return end;
}
