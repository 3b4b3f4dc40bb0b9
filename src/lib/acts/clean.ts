/** Recordings that are keys, cleaned by hand. */
import { removeSpikes, smoothKeys } from '$core/edits/clean';
import { frameToTicks } from '$core/time';
import type { Session } from '$lib/session/session.svelte';
import { writeNumber } from '$lib/ui/number-text';
import { toast } from 'svelte-sonner';

/** Single values that stand out of the picked keys become what their neighbours say. */
export function takeOutSpikes(session: Session): void {
	const { keys } = session.selection;
	let count = 0;
	session.edit('Remove spikes', (start) => {
		const { doc, removed } = removeSpikes(start, keys);
		count = removed;
		return { doc, keys };
	});
	toast(count === 0 ? 'No key stands out' : count === 1 ? 'One spike removed' : `${count} spikes removed`);
}

/** Trembling of the picked keys is smoothed away over so many frames. */
export function smoothSelected(session: Session, frames: number): void {
	const { keys } = session.selection;
	let change = 0;
	session.edit('Smooth keys', (start) => {
		const { doc, largest } = smoothKeys(start, keys, frameToTicks(frames, session.frameRate));
		change = largest;
		return { doc, keys };
	});
	if (change === 0)
		toast('The keys stand too far apart for that', {
			description: 'Smoothing needs five keys or more within its frames.',
		});
	else toast(`Smoothed: no key moved by more than ${writeNumber(100 * change, 2)} % of its range`);
}
