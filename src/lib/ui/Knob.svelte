<script lang="ts">
	interface Props {
		/** How far it is turned, −1 to 1. */
		value: number;
		label: string;
		onturn: (value: number, time: number) => void;
		onrelease?: (time: number) => void;
		/** Pixels across. */
		size?: number;
	}
	/** A knob: it is turned about its middle, and stays where it is let go. Arrow keys turn it while it has the focus. */
	let { value = $bindable(), label, onturn, onrelease, size = 76 }: Props = $props();

	/** Degrees from the top to either end. */
	const REACH = 140;
	const STEP = 0.05;
	let box: HTMLElement;
	/** The angle at which the pointer was last, while it holds the knob. */
	let at: number | null = null;

	function put(next: number, time: number) {
		value = Math.min(1, Math.max(-1, next));
		onturn(value, time);
	}
	/** From the top, clockwise, in degrees. */
	function angleOf({ clientX, clientY }: PointerEvent): number {
		const { left, top, width, height } = box.getBoundingClientRect();
		return (Math.atan2(clientX - left - width / 2, top + height / 2 - clientY) * 180) / Math.PI;
	}
	function move(event: PointerEvent) {
		if (at === null) return;
		const coalesced = event.getCoalescedEvents?.() ?? [];
		for (const own of coalesced.length > 0 ? coalesced : [event]) {
			const angle = angleOf(own);
			// The short way: past the bottom it goes on.
			const by = ((angle - at + 540) % 360) - 180;
			at = angle;
			put(value + by / REACH, own.timeStamp);
		}
	}
	function release({ timeStamp }: Event) {
		if (at === null) return;
		at = null;
		onrelease?.(timeStamp);
	}
	const STEPS: Readonly<Record<string, number>> = {
		ArrowLeft: -STEP,
		ArrowDown: -STEP,
		ArrowRight: STEP,
		ArrowUp: STEP,
		Home: -2,
		End: 2,
	};
	function onkeydown(event: KeyboardEvent) {
		const step = STEPS[event.key];
		if (step === undefined) return;
		event.preventDefault();
		event.stopPropagation();
		put(value + step, event.timeStamp);
	}
</script>

<div
	bind:this={box}
	class="relative shrink-0 cursor-grab touch-none rounded-full border border-edge bg-band"
	style="width: {size}px; height: {size}px"
	role="slider"
	aria-label={label}
	aria-valuemin={-100}
	aria-valuemax={100}
	aria-valuenow={Math.round(100 * value)}
	tabindex="0"
	data-knob
	onpointerdown={(event) => {
		at = angleOf(event);
		event.currentTarget.setPointerCapture(event.pointerId);
	}}
	onpointermove={move}
	onpointerup={release}
	onpointercancel={release}
	{onkeydown}
>
	<span class="pointer-events-none absolute inset-0" style:transform="rotate({value * REACH}deg)">
		<span class="absolute left-1/2 top-[6px] h-[26%] w-[5px] -translate-x-1/2 rounded-full bg-lake"></span>
	</span>
</div>
