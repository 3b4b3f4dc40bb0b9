<script lang="ts">
	import { onDestroy, type Snippet } from 'svelte';

	interface Props {
		name: string;
		/** Another word for it, under its name. */
		note?: string;
		title?: string;
		chosen: boolean;
		disabled?: boolean;
		/** Of what the picture shows while it plays, and of the wait before it begins again. */
		seconds: number;
		rest: number;
		/** At a share of its time while it plays; null at rest. */
		picture: Snippet<[share: number | null]>;
		onchoose: () => void;
		/** Only of what is one's own: what the button that deletes it says. */
		removes?: string;
		onremove?: () => void;
	}
	/** Something to choose by its picture, which plays while the pointer or the focus is on it. */
	let {
		name,
		note,
		title,
		chosen,
		disabled = false,
		seconds,
		rest,
		picture,
		onchoose,
		removes,
		onremove,
	}: Props = $props();

	let share = $state<number | null>(null);
	let frame = 0;

	function play() {
		if (frame || matchMedia('(prefers-reduced-motion: reduce)').matches) return;
		const start = performance.now();
		const step = (now: number) => {
			share = Math.min(1, Math.max(0, ((now - start) / 1000) % (seconds + rest)) / seconds);
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
		{title}
		onclick={onchoose}
		onpointerenter={play}
		onpointerleave={stop}
		onfocus={play}
		onblur={stop}
	>
		{@render picture(share)}
		<span class="w-full truncate text-center text-xs leading-tight">{name}</span>
		{#if note}<span class="w-full truncate text-center text-[10px] leading-tight text-muted">{note}</span
			>{/if}
	</button>
	{#if onremove}
		<button
			type="button"
			class="absolute -right-1 -top-1 hidden size-[24px] rounded-full border border-rule bg-sheet text-xs leading-none group-focus-within:block group-hover:block"
			aria-label="{removes} {name}"
			title={removes}
			onclick={onremove}>×</button
		>
	{/if}
</span>
