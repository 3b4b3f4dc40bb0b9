/** Everything that can be done from the keyboard, in one list: the keys, the menus, the finder and the help read it. */
import { clipCommands } from './clip-commands';
import type { Command } from '$lib/ui/command';
import type { CommandTargets } from './targets';
import { keyCommands, shapeCommands } from './key-commands';
import { partCommands } from './part-commands';
import { playCommands } from './play-commands';
import { editCommands, viewCommands } from './view-commands';

export function makeCommands(targets: CommandTargets): Command[] {
	return [
		...playCommands(targets),
		...keyCommands(targets),
		...shapeCommands(targets),
		...partCommands(targets),
		...clipCommands(targets),
		...viewCommands(targets),
		...editCommands(targets),
	];
}
