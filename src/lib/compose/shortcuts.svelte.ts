/** Shortcuts that were changed, kept in this browser. */
import { shownKeys, type Command } from '$lib/ui/command';
import { keep, readKeptMembers } from '$lib/ui/kept';

const STORE = 'shortcuts';

function read(): Record<string, string> {
	const kept = Object.entries(readKeptMembers(STORE));
	return Object.fromEntries(kept.filter((own): own is [string, string] => typeof own[1] === 'string'));
}

/** A press as tinykeys writes it; null for a modifier alone. */
export function pressed(event: KeyboardEvent): string | null {
	if (['Shift', 'Control', 'Alt', 'Meta'].includes(event.key)) return null;
	const parts: string[] = [];
	if (event.ctrlKey || event.metaKey) parts.push('$mod');
	if (event.altKey) parts.push('Alt');
	if (event.shiftKey) parts.push('Shift');
	if (event.key === ' ') parts.push('Space');
	else if (event.key === '+') parts.push(event.code);
	else parts.push(event.key.length === 1 && event.shiftKey ? event.key.toUpperCase() : event.key);
	return parts.join('+');
}

class Shortcuts {
	/** By command id; an empty text is no shortcut at all. */
	changed = $state.raw<Readonly<Record<string, string>>>({});

	constructor() {
		this.changed = read();
	}

	apply(commands: readonly Command[]): Command[] {
		return commands.map((command) => {
			if (!Object.hasOwn(this.changed, command.id)) return command;
			const keys = this.changed[command.id];
			return { ...command, keys: keys === '' ? [] : [keys], shown: keys === '' ? '' : shownKeys(keys) };
		});
	}

	/** Gives a command other keys; those that had them are left without. */
	set(commands: readonly Command[], id: string, keys: string): void {
		const next: Record<string, string> = { ...this.changed, [id]: keys };
		for (const other of this.clashes(commands, id, keys)) next[other.id] = '';
		this.keep(next);
	}

	/** Other commands that have the same keys. */
	clashes(commands: readonly Command[], id: string, keys: string): Command[] {
		const wanted = keys.toLowerCase();
		return this.apply(commands).filter(
			(command) => command.id !== id && command.keys.some((own) => own.toLowerCase() === wanted),
		);
	}

	reset(): void {
		this.keep({});
	}

	private keep(next: Readonly<Record<string, string>>): void {
		this.changed = next;
		keep(STORE, next);
	}
}

export const shortcuts = new Shortcuts();
