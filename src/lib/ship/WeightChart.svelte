<script lang="ts">
	import { theme } from '$lib/ui/theme.svelte';
	import { writeNumber } from '$lib/ui/number-text';
	import type { Weight, Weights } from './weights.svelte';

	/** Bytes over bounds; a click takes a bound. */
	let { weights, onbound }: { weights: Weights; onbound: (percent: number) => void } = $props();
	let isOpen = $state(false);
	let box = $state.raw<HTMLElement>();
	$effect(() => {
		if (isOpen) void weights.weigh();
	});
	$effect(() => {
		const { known, present } = weights;
		void theme.value;
		if (!isOpen || !box) return;
		const place = box;
		let stop = () => {};
		let isGone = false;
		void import('./draw-weights').then(({ drawWeights }) => {
			if (!isGone) stop = drawWeights(place, known, present, onbound);
		});
		return () => {
			isGone = true;
			stop();
		};
	});
	const kilo = (bytes: number) => `${writeNumber(bytes / 1000, 1)} kB`;
	const told = ({ percent, bytes, gzip }: Weight) =>
		`${writeNumber(percent, 3)} %: ${kilo(bytes)}, ${kilo(gzip)} with gzip`;
</script>

<details class="mb-3 rounded-md border border-rule px-3 py-1.5" bind:open={isOpen}>
	<summary class="cursor-pointer font-semibold">Size by error bound</summary>
	<div
		bind:this={box}
		class="h-[180px] w-full"
		role="img"
		aria-label={weights.known.map(told).join('; ')}
	></div>
	<div class="flex flex-wrap items-center gap-1.5">
		{#each weights.known as weight (weight.percent)}
			<button
				type="button"
				class="btn !min-h-[24px] font-mono text-xs"
				aria-pressed={weight.percent === weights.present}
				title="Take this bound: {told(weight)}"
				onclick={() => onbound(weight.percent)}
				>{writeNumber(weight.percent, 3)} % · {kilo(weight.gzip)}</button
			>
		{/each}
		<span class="text-muted" role="status"
			>{weights.isWeighing ? 'weighing …' : 'with gzip; a click takes a bound'}</span
		>
	</div>
</details>
