<script lang="ts">
	import type { Cleaning } from '$core/document/takes';
	import { kneeOf, LEAST_TOLERANCE, MOST_TOLERANCE, type KeyCount } from '$core/takes/key-counts';
	import type { TakeWork } from '$lib/acts/take-work.svelte';
	import { writeNumber } from '$lib/ui/number-text';

	/** Keys against tolerance, the knee and what is chosen marked; a click chooses. */
	let { work }: { work: TakeWork } = $props();
	const [WIDTH, HEIGHT, PAD] = [300, 54, 4];

	const counts = $derived(work.counts);
	const cleaning = $derived(work.cleaning);
	/** All that counts but the tolerance itself. */
	const told = $derived(cleaning && JSON.stringify({ ...cleaning, tolerance: 0 }));
	/** After a moment without another change: it takes some time. */
	const AFTER_MS = 150;
	$effect(() => {
		if (!work.samples || told === null) return;
		const settings = JSON.parse(told) as Cleaning;
		const timer = setTimeout(() => void work.count(settings), AFTER_MS);
		return () => clearTimeout(timer);
	});
	const knee = $derived(kneeOf(counts));
	const x = (tolerance: number) =>
		PAD +
		((WIDTH - 2 * PAD) * Math.log(tolerance / LEAST_TOLERANCE)) / Math.log(MOST_TOLERANCE / LEAST_TOLERANCE);
	const most = $derived(Math.max(2, ...counts.map(({ keys }) => keys)));
	const y = (keys: number) =>
		HEIGHT - PAD - ((HEIGHT - 2 * PAD) * Math.log(Math.max(1, keys))) / Math.log(most);
	const line = $derived(counts.map(({ tolerance, keys }) => `${x(tolerance)},${y(keys)}`).join(' '));
	const tell = ({ tolerance, keys }: KeyCount) => `${keys} keys at ${writeNumber(100 * tolerance, 2)} %`;
</script>

{#if counts.length > 0 && cleaning}
	<div class="flex items-center gap-3">
		<svg
			viewBox="0 0 {WIDTH} {HEIGHT}"
			class="h-[54px] w-[300px] shrink-0 rounded border border-rule bg-paper"
			role="img"
			aria-label="keys against tolerance: {counts.map(tell).join(', ')}"
		>
			<polyline points={line} fill="none" stroke="var(--lake)" stroke-width="1.5" />
			<line
				x1={x(cleaning.tolerance)}
				x2={x(cleaning.tolerance)}
				y1="0"
				y2={HEIGHT}
				stroke="var(--rust)"
				stroke-width="1"
			/>
			{#if knee}<circle cx={x(knee.tolerance)} cy={y(knee.keys)} r="3.5" fill="var(--moss)" />{/if}
			{#each counts as { tolerance, keys } (tolerance)}
				<!-- Keyboards have the slider. -->
				<!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
				<rect
					x={x(tolerance) - WIDTH / 28}
					width={WIDTH / 14}
					y="0"
					height={HEIGHT}
					fill="transparent"
					onclick={() => void work.commit({ tolerance })}><title>{tell({ tolerance, keys })}</title></rect
				>
			{/each}
		</svg>
		{#if knee}
			<button
				type="button"
				class="btn !min-h-[24px]"
				title="Finer than this costs many keys for little"
				onclick={() => void work.commit({ tolerance: knee.tolerance })}>Knee: {tell(knee)}</button
			>
		{/if}
	</div>
{/if}
