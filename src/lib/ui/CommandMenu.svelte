<script lang="ts">
	import { ContextMenu } from 'bits-ui';
	import type { Command } from './command';

	/** What a context menu opens: commands, grey where there is nothing for them to act on. */
	let { label, commands }: { label: string; commands: readonly Command[] } = $props();
</script>

<ContextMenu.Portal>
	<ContextMenu.Content class="menu" aria-label={label}>
		{#each commands as command (command.id)}
			<ContextMenu.Item class="menu-item" disabled={!command.can()} onSelect={command.run}>
				{command.label}<span class="shortcut">{command.shown}</span>
			</ContextMenu.Item>
		{/each}
	</ContextMenu.Content>
</ContextMenu.Portal>
