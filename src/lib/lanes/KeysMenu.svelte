<script lang="ts">
	import type { Snippet } from 'svelte';
	import { ContextMenu } from 'bits-ui';
	import { chosen, type Command } from '$lib/ui/command';
	import CommandMenu from '$lib/ui/CommandMenu.svelte';

	interface Props {
		commands: readonly Command[];
		oncontextmenu: (event: MouseEvent) => void;
		children: Snippet;
	}
	/** The menu of what is picked in the lanes, about the sheet that they are drawn on. */
	let { commands, oncontextmenu, children }: Props = $props();

	const MENU = [
		'copy',
		'cut',
		'paste',
		'duplicate',
		'delete',
		'reverse',
		'mirror',
		'to-frames',
		'handles-smooth',
		'handles-flat',
		'handles-joined',
		'handles-split',
		'all',
		'property-pick',
		'after',
		'speed',
		'fastest',
		'hold-pose',
		'gap',
		'close-gap',
		'fit',
		'fit-clip',
	];
	const menuCommands = $derived(chosen(commands, MENU));
</script>

<ContextMenu.Root>
	<ContextMenu.Trigger class="sticky top-0 block h-0" {oncontextmenu}>
		{@render children()}
	</ContextMenu.Trigger>
	<CommandMenu label="keys" commands={menuCommands} />
</ContextMenu.Root>
