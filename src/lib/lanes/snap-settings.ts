/** What drags along time snap to, kept in this browser. */
import { keep, readKeptMembers } from '$lib/ui/kept';

export interface SnapSettings {
	/** Frames between the places of the grid; 0 is no grid. */
	step: number;
	keys: boolean;
	cues: boolean;
	playhead: boolean;
}

const STORED = 'snap';
const USUAL: SnapSettings = { step: 1, keys: true, cues: true, playhead: true };

export function readSnap(): SnapSettings {
	const { step, keys, cues, playhead } = readKeptMembers(STORED);
	const choice = (value: unknown, usual: boolean) => (typeof value === 'boolean' ? value : usual);
	return {
		step: typeof step === 'number' && step >= 0 ? step : USUAL.step,
		keys: choice(keys, USUAL.keys),
		cues: choice(cues, USUAL.cues),
		playhead: choice(playhead, USUAL.playhead),
	};
}

export function keepSnap(settings: SnapSettings): void {
	keep(STORED, settings);
}
