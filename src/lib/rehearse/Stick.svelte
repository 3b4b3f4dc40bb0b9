<script lang="ts">
	/** A stick on the screen: it goes back to its middle when it is let go. Arrow keys move it while it has the focus. */
	let { onmove }: { onmove: (x: number, y: number) => void } = $props();

	const RADIUS = 38;
	const REACH = 28;
	let x = $state(0);
	let y = $state(0);
	let isHeld = false;
	let box: HTMLElement;

	function put(nextX: number, nextY: number) {
		const length = Math.max(1, Math.hypot(nextX, nextY));
		[x, y] = [nextX / length, nextY / length];
		onmove(x, y);
	}
	function move(event: PointerEvent) {
		if (!isHeld) return;
		const { left, top, width, height } = box.getBoundingClientRect();
		put((event.clientX - left - width / 2) / REACH, -(event.clientY - top - height / 2) / REACH);
	}
	function release() {
		isHeld = false;
		put(0, 0);
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
		put(x + step[0], y + step[1]);
	}
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
<div
	bind:this={box}
	class="relative mx-auto touch-none rounded-full border border-edge bg-band"
	style="width: {2 * RADIUS}px; height: {2 * RADIUS}px"
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
	onblur={() => put(0, 0)}
>
	<span
		class="pointer-events-none absolute size-[26px] rounded-full bg-lake"
		style="left: {RADIUS - 14 + x * REACH}px; top: {RADIUS - 14 - y * REACH}px"
	></span>
</div>
