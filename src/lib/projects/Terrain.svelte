<script lang="ts">
	let { ridges }: { ridges: readonly number[][] } = $props();
	const HUES = ['--lake', '--heather', '--ochre'];
	const WIDTH = 320;
	const HEIGHT = 112;

	/** Ridges stand behind each other, the first in front. */
	const paths = $derived(
		ridges.map((values, i) => {
			const base = HEIGHT - i * 16;
			const rise = 62 - i * 6;
			const points = values.map(
				(v, k) => `${((WIDTH * k) / (values.length - 1)).toFixed(1)} ${(base - 8 - v * rise).toFixed(1)}`,
			);
			const line = `M ${points.join(' L ')}`;
			return { line, area: `${line} L ${WIDTH} ${HEIGHT} L 0 ${HEIGHT} Z`, hue: HUES[i % HUES.length] };
		}),
	);
</script>

<svg
	viewBox="0 0 {WIDTH} {HEIGHT}"
	preserveAspectRatio="none"
	class="block h-[112px] w-full bg-sky"
	aria-hidden="true"
>
	{#each [...paths].reverse() as path (path.hue)}
		<path d={path.area} fill="var(--sheet)" />
		<path d={path.area} fill="var({path.hue})" opacity="0.3" />
		<path
			d={path.line}
			fill="none"
			stroke="var({path.hue})"
			stroke-width="1.6"
			vector-effect="non-scaling-stroke"
		/>
	{:else}
		<path d="M0 96 H320" stroke="var(--contour)" stroke-dasharray="3 5" />
	{/each}
</svg>
