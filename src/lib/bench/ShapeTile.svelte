<script lang="ts">
	import { onDestroy } from 'svelte';
	import type { Shape } from '$player/easing/shape';
	import { THUMB, thumbnail } from './shapes';

	interface Props {
		name: string;
		/** Another word for it, under its name. */
		note?: string;
		shape: Shape;
		chosen: boolean;
		shortcut?: string;
		onchoose: () => void;
		/** Only of shapes of one's own. */
		onremove?: () => void;
	}
	/** A shape as a small profile; while the pointer is on it a dot runs along it, at the pace of the shape. */
	let { name, note, shape, chosen, shortcut, onchoose, onremove }: Props = $props();

	const picture = $derived(thumbnail(shape));
	const SECONDS = 1;
	const REST = 0.4;
	let share = $state<number | null>(null);
	let frame = 0;

	function play() {
		if (matchMedia('(prefers-reduced-motion: reduce)').matches) return;
		const start = performance.now();
		const step = (now: number) => {
			share = Math.min(1, (((now - start) / 1000) % (SECONDS + REST)) / SECONDS);
			frame = requestAnimationFrame(step);
		};
		frame = requestAnimationFrame(step);
	}
	function stop() {
		cancelAnimationFrame(frame);
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
		title={shortcut ? `${name} (${shortcut})` : name}
		onclick={onchoose}
		onpointerenter={play}
		onpointerleave={stop}
	>
		<svg viewBox="0 0 {THUMB.width} {THUMB.height}" class="h-[26px] w-full max-w-[52px]" aria-hidden="true">
			<path d={picture.area} fill="var(--moss)" opacity="0.2" />
			<path d={picture.line} fill="none" stroke="var(--moss)" stroke-width="1.6" />
			{#if share !== null}
				<circle
					cx={THUMB.width * share}
					cy={picture.heightAt(Math.min(share, 0.9999))}
					r="3"
					fill="var(--rust)"
				/>
			{/if}
		</svg>
		<span class="w-full truncate text-center text-xs leading-tight">{name}</span>
		{#if note}<span class="w-full truncate text-center text-[10px] leading-tight text-muted">{note}</span
			>{/if}
	</button>
	{#if onremove}
		<button
			type="button"
			class="absolute -right-1 -top-1 hidden size-[24px] rounded-full border border-rule bg-sheet text-xs leading-none group-focus-within:block group-hover:block"
			aria-label="delete saved shape {name}"
			title="Delete saved shape"
			onclick={onremove}>×</button
		>
	{/if}
</span>
