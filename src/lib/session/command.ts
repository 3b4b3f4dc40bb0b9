/** What a command is, and which key presses are commands at all. */
import type { LaneView } from '$lib/lanes/lane-view.svelte';
import type { Session } from './session.svelte';

export interface Command {
	id: string;
	group: 'Play' | 'Keys' | 'Shape' | 'Parts' | 'View' | 'Edit';
	label: string;
	/** In the form of tinykeys; several with spaces between. */
	keys: readonly string[];
	/** As people read it. */
	shown: string;
	run: () => void;
}

export interface CommandTargets {
	session: Session;
	view: LaneView;
	openHelp: () => void;
	openFinder: () => void;
	openTween: () => void;
	openNudge: () => void;
	openVersions: () => void;
	openGuide: () => void;
	openNewPart: () => void;
}

const FIELDS = 'input:not([type="checkbox"]):not([type="radio"]), textarea, select, [contenteditable]';

/** The key whose press makes the browser paste: what it pastes comes with an event of its own. */
export const PASTES = '$mod+v';

/** Whether a key press belongs to the element in focus: text fields, buttons on Space and Enter, menus. */
export function isTaken(event: KeyboardEvent | ClipboardEvent): boolean {
	const target = event.target as HTMLElement | null;
	if (!target) return false;
	if (target.closest('[role="dialog"], [role="menu"]')) return true;
	if (!(event instanceof KeyboardEvent)) return target.matches(FIELDS);
	// In a number field where nothing is being typed, undo means the edit that the number has just made.
	const undoes = (event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z';
	if (undoes && target.matches('input[data-settled]')) return false;
	if (target.matches(FIELDS)) return true;
	const presses = event.code === 'Space' || event.key === 'Enter';
	if (presses && target.closest('button, a, [role="button"], summary, input')) return true;
	return (
		event.key.startsWith('Arrow') &&
		target.closest('[role="slider"]') !== null &&
		!target.matches('[aria-label="playhead"]')
	);
}
