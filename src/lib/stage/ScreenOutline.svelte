<script lang="ts">
	import type { StageScene } from './scene';
	import { SCREENS } from './screens';

	/** The outline of a common screen, its upper left corner at the origin. */
	let { scene, picture, name }: { scene: StageScene; picture: number; name: string } = $props();
	const outline = $derived.by(() => {
		void picture;
		const screen = SCREENS.find((known) => known.name === name);
		if (!screen) return null;
		const { x, y } = scene.projectWorld(0, 0, 0);
		const far = scene.projectWorld(screen.width, screen.height, 0);
		return { x, y, width: Math.max(0, far.x - x), height: Math.max(0, far.y - y) };
	});
</script>

{#if outline}
	<svg class="pointer-events-none absolute inset-0 size-full" aria-hidden="true" data-screen-outline>
		<rect {...outline} rx="6" fill="none" stroke="var(--muted)" stroke-width="1.5" stroke-dasharray="6 4" />
		<text x={outline.x + 6} y={outline.y + 14} font-size="11" fill="var(--muted)">{name}</text>
	</svg>
{/if}
