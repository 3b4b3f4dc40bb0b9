<!-- Contour lines behind a stage. -->
<svg
	class="pointer-events-none absolute inset-0 size-full"
	preserveAspectRatio="none"
	viewBox="0 0 480 320"
	aria-hidden="true"
>
	{#each [0, 1, 2, 3, 4, 5] as i (i)}
		<path
			d="M0 {70 + i * 34} C 90 {34 + i * 36}, 150 {112 + i * 27}, 250 {76 + i * 34} S 400 {44 +
				i * 38}, 480 {86 + i * 31}"
			fill="none"
			stroke="var(--contour)"
			stroke-width="1"
		/>
	{/each}
</svg>
