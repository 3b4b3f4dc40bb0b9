/** What drags along time snap to, kept in this browser. */

export interface SnapSettings {
	/** Frames between the places of the grid; 0 is no grid. */
	step: number;
	keys: boolean;
	cues: boolean;
	playhead: boolean;
}

const STORED = 'hillock-snap';
const USUAL: SnapSettings = { step: 1, keys: true, cues: true, playhead: true };

export function readSnap(): SnapSettings {
	try {
		const kept = JSON.parse(localStorage.getItem(STORED) ?? '{}') as Partial<SnapSettings>;
		return { ...USUAL, ...kept };
	} catch {
		return USUAL;
	}
}

export function keepSnap(settings: SnapSettings): void {
	try {
		localStorage.setItem(STORED, JSON.stringify(settings));
	} catch {
		// Without storage it is as usual the next time.
	}
}
