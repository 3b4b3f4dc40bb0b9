<script lang="ts">
	interface Props {
		/** Where it is, −1 to 1, up positive, at a time of the event that moved it. */
		onmove: (x: number, y: number, time: number) => void;
		/** It was let go of, and goes back to its middle. */
		onrelease?: (time: number) => void;
		/** Pixels across. */
		size?: number;
	}
	/** A stick on the screen: it goes back to its middle when it is let go. Arrow keys move it while it has the focus. */
	let { onmove, onrelease, size = 76 }: Props = $props();

	const radius = $derived(size / 2);
	const reach = $derived(radius - 10);
	let x = $state(0);
	let y = $state(0);
	let isHeld = false;
	let box: HTMLElement;

	function put(nextX: number, nextY: number, time: number) {
		const length = Math.max(1, Math.hypot(nextX, nextY));
		[x, y] = [nextX / length, nextY / length];
		onmove(x, y, time);
	}
	function move(event: PointerEvent) {
		if (!isHeld) return;
		const { left, top, width, height } = box.getBoundingClientRect();
		const coalesced = event.getCoalescedEvents?.() ?? [];
		for (const own of coalesced.length > 0 ? coalesced : [event])
			put((own.clientX - left - width / 2) / reach, -(own.clientY - top - height / 2) / reach, own.timeStamp);
	}
	function release({ timeStamp }: Event) {
		if (!isHeld && x === 0 && y === 0) return;
		isHeld = false;
		put(0, 0, timeStamp);
		onrelease?.(timeStamp);
	}
	const STEPS: Readonly<Record<string, readonly [number, number]>> = {
		ArrowLeft: [-0.25, 0],
		ArrowRight: [0.25, 0],
		ArrowUp: [0, 0.25],
		ArrowDown: [0, -0.25],
	};
	function onkeydown(event: KeyboardEvent) {
		const step = STEPS[event.key];
		if (!step) return;
		event.preventDefault();
		event.stopPropagation();
		put(x + step[0], y + step[1], event.timeStamp);
	}
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
<div
	bind:this={box}
	class="relative shrink-0 touch-none rounded-full border border-edge bg-band"
	style="width: {size}px; height: {size}px"
	role="group"
	aria-label="stick: x {x.toFixed(2)}, y {y.toFixed(2)}"
	tabindex="0"
	data-stick
	onpointerdown={(event) => {
		isHeld = true;
		event.currentTarget.setPointerCapture(event.pointerId);
		move(event);
	}}
	onpointermove={move}
	onpointerup={release}
	onpointercancel={release}
	{onkeydown}
	onblur={release}
>
	<span
		class="pointer-events-none absolute size-[26px] rounded-full bg-lake"
		style="left: {radius - 14 + x * reach}px; top: {radius - 14 - y * reach}px"
	></span>
</div>
