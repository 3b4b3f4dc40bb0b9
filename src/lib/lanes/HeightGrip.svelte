<script lang="ts">
	import type { LaneView } from './lane-view.svelte';

	/** The lower edge of a lane: drag it to any height. Commands and a double click on the name do it, too. */
	let { id, height, view }: { id: string; height: number; view: LaneView } = $props();
	let held: { y: number; height: number } | null = null;

	function start(event: PointerEvent) {
		held = { y: event.clientY, height };
		(event.currentTarget as Element).setPointerCapture(event.pointerId);
		event.preventDefault();
	}
	function move(event: PointerEvent) {
		if (held) view.setHeight(id, held.height + event.clientY - held.y);
	}
	function end() {
		if (held) view.remember();
		held = null;
	}
</script>

<!-- The whole edge for a pointer, its left corner for a finger. -->
{#each ['inset-x-0 bottom-0 h-[4px]', 'bottom-0 left-0 size-[24px] after:absolute after:bottom-[2px] after:left-[5px] after:h-[2px] after:w-[10px] after:rounded-[1px] after:bg-edge'] as place (place)}
	<div
		class="absolute cursor-row-resize touch-none {place}"
		role="presentation"
		onpointerdown={start}
		onpointermove={move}
		onpointerup={end}
		onpointercancel={end}
	></div>
{/each}
