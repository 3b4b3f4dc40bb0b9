/** Hears of what other windows do, as long as this one is seen: browsers keep few lines open to one server. */
import { addresses, type Foreign } from '$lib/api/client';
import type { Sync } from './sync';

/** Gives what ends it. `onGone` is called when the project was deleted elsewhere. */
export function followChanges(project: string, sync: Sync, onGone: () => void): () => void {
	let source: EventSource | null = null;
	const follow = () => {
		source?.close();
		source = null;
		if (document.visibilityState === 'hidden') return;
		source = new EventSource(addresses.live(project, sync.revision));
		source.onmessage = ({ data }: MessageEvent<string>) => sync.receive([JSON.parse(data) as Foreign]);
		source.addEventListener('gone', onGone);
	};
	follow();
	document.addEventListener('visibilitychange', follow);
	return () => {
		document.removeEventListener('visibilitychange', follow);
		source?.close();
	};
}
