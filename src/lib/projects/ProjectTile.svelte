<script lang="ts">
	import { DropdownMenu } from 'bits-ui';
	import Download from '@lucide/svelte/icons/download';
	import Ellipsis from '@lucide/svelte/icons/ellipsis';
	import Trash from '@lucide/svelte/icons/trash';
	import { addresses, type ProjectCard } from '$lib/api/client';
	import Terrain from './Terrain.svelte';

	interface Props {
		card: ProjectCard;
		/** Whether the page listens yet. */
		isReady: boolean;
		/** When it was changed last, in words. */
		edited: string;
		onremove: () => void;
	}
	let { card, isReady, edited, onremove }: Props = $props();
	const address = $derived(card.firstClip ? `/p/${card.id}/compose/${card.firstClip}` : `/p/${card.id}`);
	const size = (bytes: number) => (bytes < 1000 ? `${bytes} B` : `${Math.round(bytes / 1000)} kB`);
</script>

<div
	role="listitem"
	class="relative overflow-hidden rounded-lg border border-rule bg-sheet focus-within:border-moss hover:border-muted"
>
	<Terrain ridges={card.ridges} />
	<div class="flex items-start gap-2 border-t border-rule px-3 py-2">
		<div class="min-w-0 flex-1">
			<a href={address} class="block truncate text-base font-bold after:absolute after:inset-0">{card.name}</a
			>
			<p class="text-muted">
				{card.space}, {card.frameRate} fps, {card.clips}
				{card.clips === 1 ? 'clip' : 'clips'}, {card.parts}
				{card.parts === 1 ? 'part' : 'parts'}
			</p>
			<p class="font-mono text-xs text-muted">{edited}, {size(card.bytes)}</p>
		</div>
		<DropdownMenu.Root>
			<DropdownMenu.Trigger
				class="btn btn-square btn-plain relative z-10"
				disabled={!isReady}
				aria-label="more for {card.name}"><Ellipsis size={16} /></DropdownMenu.Trigger
			>
			<DropdownMenu.Portal>
				<DropdownMenu.Content class="menu" align="end">
					<DropdownMenu.Item class="menu-item" onSelect={() => (location.href = addresses.file(card.id))}
						>Save as a file <Download size={14} /></DropdownMenu.Item
					>
					<DropdownMenu.Item class="menu-item" onSelect={onremove}
						>Delete <Trash size={14} /></DropdownMenu.Item
					>
				</DropdownMenu.Content>
			</DropdownMenu.Portal>
		</DropdownMenu.Root>
	</div>
</div>
