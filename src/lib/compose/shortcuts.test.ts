import { beforeEach, expect, it } from 'vitest';
import { commandsOf } from '$lib/ui/command';
import { pressed, shortcuts } from './shortcuts.svelte';

const command = commandsOf('Keys');
const commands = [
	command('copy', 'Copy', '$mod+c', () => {}),
	command('paste', 'Paste', ['$mod+v', 'Shift+Insert'], () => {}),
	command('quiet', 'Quiet', '', () => {}),
];
const keysOf = (id: string) => shortcuts.apply(commands).find((own) => own.id === id)!;

beforeEach(() => shortcuts.reset());

it('a shortcut that is given to a command is taken from the one that had it', () => {
	shortcuts.set(commands, 'quiet', '$mod+V');
	expect(keysOf('quiet')).toMatchObject({ keys: ['$mod+V'], shown: 'Ctrl+V' });
	expect(keysOf('paste')).toMatchObject({ keys: [], shown: '' });
	expect(keysOf('copy').keys).toEqual(['$mod+c']);
	expect(shortcuts.clashes(commands, 'copy', '$mod+v').map(({ id }) => id)).toEqual(['quiet']);
	shortcuts.reset();
	expect(keysOf('paste').keys).toEqual(['$mod+v', 'Shift+Insert']);
});

it.each([
	[{ key: 'k', code: 'KeyK' }, 'k'],
	[{ key: 'K', code: 'KeyK', shiftKey: true }, 'Shift+K'],
	[{ key: 'z', code: 'KeyZ', ctrlKey: true }, '$mod+z'],
	[{ key: 'z', code: 'KeyZ', metaKey: true, altKey: true }, '$mod+Alt+z'],
	[{ key: ' ', code: 'Space' }, 'Space'],
	[{ key: '+', code: 'NumpadAdd' }, 'NumpadAdd'],
	[{ key: 'Shift', code: 'ShiftLeft', shiftKey: true }, null],
])('a press of %o is %s', (event, keys) => {
	const off = { ctrlKey: false, metaKey: false, altKey: false, shiftKey: false };
	expect(pressed({ ...off, ...event } as KeyboardEvent)).toBe(keys);
});
