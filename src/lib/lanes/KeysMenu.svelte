<script lang="ts">
	import type { Snippet } from 'svelte';
	import { ContextMenu } from 'bits-ui';
	import { chosen, type Command } from '$lib/ui/command';

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
		'handles-smooth',
		'handles-flat',
		'handles-joined',
		'handles-split',
		'all',
		'property-pick',
		'after',
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
	<ContextMenu.Portal>
		<ContextMenu.Content class="menu" aria-label="keys">
			{#each menuCommands as command (command.id)}
				<ContextMenu.Item class="menu-item" disabled={!command.can()} onSelect={command.run}>
					{command.label}<span class="shortcut">{command.shown}</span>
				</ContextMenu.Item>
			{/each}
		</ContextMenu.Content>
	</ContextMenu.Portal>
</ContextMenu.Root>
