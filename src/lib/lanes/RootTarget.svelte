<script lang="ts">
	import { onMount } from 'svelte';
	import { hangPart } from '$lib/acts/hang-part';
	import { useSession } from '$lib/session/session.svelte';
	import type { LaneView } from './lane-view.svelte';
	import { takesPart, watchPartDrags, type PartTaker } from './tree-drag';

	/** While a part row is dragged: the place for parts that hang on nothing. */
	let { view }: { view: LaneView } = $props();
	const session = useSession();
	let isDragging = $state(false);
	let isOver = $state(false);
	const taker: PartTaker = {
		accepts: (id) => session.doc.parts[id]?.parent !== null,
		edges: () => [],
		over: (place) => (isOver = place !== null),
		drop: (id) => hangPart(session, id, null, 'now'),
	};
	onMount(() => watchPartDrags((going) => (isDragging = going)));
</script>

{#if isDragging}
	<div
		class="absolute left-0 top-[58px] z-10 flex h-7 items-center border-b border-rule pl-3 text-xs {isOver
			? 'bg-moss text-moss-ink'
			: 'bg-sheet text-muted'}"
		style:width="{view.headerWidth}px"
		data-drop-root
		{@attach takesPart(taker)}
	>
		Drop here to unparent
	</div>
{/if}
