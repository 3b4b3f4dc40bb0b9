<script lang="ts">
	import type { StageScene } from './scene';
	import { screenName, type Screen } from './screens';

	/** The outline of the project's screen, its upper left corner at the origin. */
	let { scene, picture, screen }: { scene: StageScene; picture: number; screen: Screen } = $props();
	const outline = $derived.by(() => {
		void picture;
		const { x, y } = scene.projectWorld(0, 0, 0);
		const far = scene.projectWorld(screen.width, screen.height, 0);
		return { x, y, width: Math.max(0, far.x - x), height: Math.max(0, far.y - y) };
	});
</script>

<svg class="pointer-events-none absolute inset-0 size-full" aria-hidden="true" data-screen-outline>
	<rect {...outline} rx="6" fill="none" stroke="var(--muted)" stroke-width="1.5" stroke-dasharray="6 4" />
	<text x={outline.x + 6} y={outline.y + outline.height - 6} font-size="11" fill="var(--muted)"
		>{screenName(screen)}</text
	>
</svg>
