<script lang="ts">
	import { onDestroy } from 'svelte';
	import type { Motion } from '$core/document/motions';
	import { ticksToSeconds } from '$player/time';
	import { CARD_PATH, MOTION_PICTURE, motionPicture } from './motion-picture';

	interface Props {
		motion: Motion;
		about?: string;
		disabled: boolean;
		chosen: boolean;
		onchoose: () => void;
		/** Only of motions of one's own. */
		onremove?: () => void;
	}
	/** A motion as a card that stands; while the pointer is on it, or the focus, the card does it. */
	let { motion, about, disabled, chosen, onchoose, onremove }: Props = $props();

	const poseAt = $derived(motionPicture(motion));
	const REST = 0.5;
	const STILLS = [0.12, 0.3, 0.55];
	let share = $state<number | null>(null);
	let frame = 0;

	function play() {
		if (frame || matchMedia('(prefers-reduced-motion: reduce)').matches) return;
		const start = performance.now();
		const seconds = ticksToSeconds(motion.length);
		const step = (now: number) => {
			share = Math.min(1, (((now - start) / 1000) % (seconds + REST)) / seconds);
			frame = requestAnimationFrame(step);
		};
		frame = requestAnimationFrame(step);
	}
	function stop() {
		cancelAnimationFrame(frame);
		frame = 0;
		share = null;
	}
	onDestroy(stop);
</script>

<span class="group relative flex min-w-0">
	<button
		type="button"
		class="flex min-w-0 flex-1 flex-col items-center rounded-md border bg-sheet px-0.5 pb-0.5 pt-1 {chosen
			? 'border-moss ring-1 ring-moss'
			: 'border-rule hover:border-muted'}"
		aria-pressed={chosen}
		data-tile
		{disabled}
		title={about}
		onclick={onchoose}
		onpointerenter={play}
		onpointerleave={stop}
		onfocus={play}
		onblur={stop}
	>
		<svg
			viewBox="0 0 {MOTION_PICTURE.width} {MOTION_PICTURE.height}"
			class="h-[42px] w-full overflow-hidden"
			aria-hidden="true"
		>
			<path d="M 3 31.5 H {MOTION_PICTURE.width - 3}" stroke="var(--rule)" />
			{#if share === null}
				{#each STILLS as still (still)}
					{@const pose = poseAt(still)}
					<path
						d={CARD_PATH}
						transform={pose.transform}
						fill="none"
						stroke="var(--lake)"
						stroke-width="0.8"
						opacity={0.35 + 0.4 * pose.opacity}
					/>
				{/each}
			{/if}
			<path
				d={CARD_PATH}
				fill="var(--lake)"
				opacity={share === null ? 0.35 : poseAt(share).opacity}
				transform={poseAt(share ?? 0.4).transform}
			/>
		</svg>
		<span class="w-full truncate text-center text-xs leading-tight">{motion.name}</span>
	</button>
	{#if onremove}
		<button
			type="button"
			class="absolute -right-1 -top-1 hidden size-[24px] rounded-full border border-rule bg-sheet text-xs leading-none group-focus-within:block group-hover:block"
			aria-label="delete the motion {motion.name}"
			title="Delete motion"
			onclick={onremove}>×</button
		>
	{/if}
</span>
