/** What a command is, and which key presses are commands at all. */
import { tinykeys } from 'tinykeys';
import { isPointed } from './pointed';

export type CommandGroup = 'Play' | 'Keys' | 'Shape' | 'Parts' | 'Clips' | 'View' | 'Edit' | 'Ship';

export interface Command {
	id: string;
	group: CommandGroup;
	label: string;
	/** In the form of tinykeys; several with spaces between. */
	keys: readonly string[];
	/** The first of them as people read it; empty without one. */
	shown: string;
	/** Whether there is something for it to act on now. */
	can: () => boolean;
	run: () => void;
}

type Keys = string | readonly string[];

/** Makes commands of one group. */
export function commandsOf(group: CommandGroup) {
	return (id: string, label: string, keys: Keys, run: () => void, can: () => boolean = always): Command => {
		const all = typeof keys === 'string' ? (keys === '' ? [] : [keys]) : keys;
		return { id, group, label, keys: all, shown: all.length > 0 ? shownKeys(all[0]) : '', can, run };
	};
}
const always = () => true;

/** Those of a list with some ids, in the order of the ids. */
export function chosen(commands: readonly Command[], ids: readonly string[]): Command[] {
	return ids.flatMap((id) => commands.find((command) => command.id === id) ?? []);
}

const KEY_WORDS: Readonly<Record<string, string>> = {
	$mod: 'Ctrl',
	Escape: 'Esc',
	ArrowLeft: '←',
	ArrowRight: '→',
	ArrowUp: '↑',
	ArrowDown: '↓',
	Comma: ',',
	Period: '.',
};

/** What people read for keys as tinykeys writes them. */
export function shownKeys(keys: string): string {
	if (keys === 'Shift+?') return '?';
	return keys
		.split('+')
		.map((word) => KEY_WORDS[word] ?? word.replace(/^(Digit|Key)/, ''))
		.map((word) => (word.length === 1 ? word.toUpperCase() : word))
		.join('+');
}

const WRITTEN = 'input:not([type="checkbox"]):not([type="radio"]), textarea, [contenteditable]';

/** The key whose press makes the browser paste: what it pastes comes with an event of its own. */
export const PASTES = '$mod+v';

/** Whether something lies over the work, and has its keys. */
export function isOver({ target }: Event): boolean {
	return target instanceof Element && target.closest('[role="dialog"], [role="menu"]') !== null;
}

/** Whether a key press belongs to the element in focus: text fields, buttons on Space and Enter, menus. */
export function isTaken(event: KeyboardEvent | ClipboardEvent): boolean {
	const target = event.target as HTMLElement | null;
	if (!target) return false;
	if (isOver(event)) return true;
	if (!(event instanceof KeyboardEvent)) return target.matches(WRITTEN);
	// In a number field where nothing is being typed, undo means the edit that the number has just made.
	const undoes = (event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z';
	if (undoes && target.matches('input[data-settled], select')) return false;
	// What a pointer has clicked keeps no keys: only what was gone to by keyboard, or is written in, does.
	if (target.matches(`${WRITTEN}, select`)) return true;
	const presses = event.code === 'Space' || event.key === 'Enter';
	if (presses && !isPointed(target) && target.closest('button, a, [role="button"], summary, input'))
		return true;
	return (
		event.key.startsWith('Arrow') &&
		target.closest('[role="slider"]') !== null &&
		!target.matches('[aria-label="playhead"]')
	);
}

/**
 * Has keys do what their commands do, unless something on the page wants them, or `keeps` has taken them; gives what ends
 * that. Whatever is being written, another thing can be looked for.
 */
export function bindKeys(
	commands: readonly Command[],
	keeps: (event: KeyboardEvent) => boolean = () => false,
): () => void {
	const bindings = commands.flatMap((command) =>
		command.keys
			.filter((keys) => keys !== PASTES)
			.map((keys): [string, (event: KeyboardEvent) => void] => [
				keys,
				(event) => {
					if (command.id === 'find' ? isOver(event) : isTaken(event)) return;
					event.preventDefault();
					if (!keeps(event) && command.can()) command.run();
				},
			]),
	);
	return tinykeys(window, Object.fromEntries(bindings));
}
