/** What drags along time snap to beside the grid, kept in this browser; the grid's step is the project's. */
import { keep, readKeptMembers } from '$lib/ui/kept';

export interface SnapSettings {
	keys: boolean;
	cues: boolean;
	playhead: boolean;
}

const STORED = 'snap';
const USUAL: SnapSettings = { keys: true, cues: true, playhead: true };

export function readSnap(): SnapSettings {
	const { keys, cues, playhead } = readKeptMembers(STORED);
	const choice = (value: unknown, usual: boolean) => (typeof value === 'boolean' ? value : usual);
	return {
		keys: choice(keys, USUAL.keys),
		cues: choice(cues, USUAL.cues),
		playhead: choice(playhead, USUAL.playhead),
	};
}

export function keepSnap(settings: SnapSettings): void {
	keep(STORED, settings);
}
