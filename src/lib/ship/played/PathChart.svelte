<script lang="ts">
	import { onMount } from 'svelte';
	import { theme } from '$lib/ui/theme.svelte';
	import type { Played, PlayedPath } from './played.svelte';

	/** A path as it is meant and as the file has it, and how far it is off over time. */
	let {
		played,
		path,
		bound,
		unit,
		worst,
	}: { played: Played; path: PlayedPath; bound: number; unit: string; worst: number } = $props();

	let box = $state.raw<HTMLElement>()!;
	let problem = $state('');
	const NAMES: Readonly<Record<string, readonly string[]>> = {
		colour: ['r', 'g', 'b', 'alpha'],
		reveal: ['top', 'right', 'bottom', 'left'],
		trim: ['start', 'end'],
		opacity: [''],
		visible: [''],
		radius: [''],
	};
	const XYZW = ['x', 'y', 'z', 'w'];

	onMount(() => {
		let dispose = () => {};
		let isGone = false;
		void import('./draw-path-chart').then(({ drawPathChart }) => {
			if (isGone) return;
			const data = played.chartOf(path);
			if (!data) {
				problem = 'This path is not one that the file is read for.';
				return;
			}
			const names = NAMES[path.path] ?? XYZW;
			const stop = $effect.root(() => {
				let shown: (() => void) | null = null;
				$effect(() => {
					void theme.value;
					shown?.();
					shown = drawPathChart(box, { ...data, names, bound, unit, worst });
				});
				return () => shown?.();
			});
			dispose = stop;
		});
		return () => {
			isGone = true;
			dispose();
		};
	});
</script>

{#if problem}
	<p class="py-2 text-muted">{problem}</p>
{:else}
	<div bind:this={box} class="h-[280px] w-full" role="img" aria-label="values and error over time"></div>
{/if}
