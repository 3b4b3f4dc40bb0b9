<script lang="ts">
	import type { LaneView } from './lane-view.svelte';

	/** The lower edge of a lane: drag it to any height. */
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

<div
	class="absolute inset-x-0 bottom-0 h-[4px] cursor-row-resize touch-none"
	role="presentation"
	onpointerdown={start}
	onpointermove={move}
	onpointerup={end}
	onpointercancel={end}
></div>
