<script lang="ts">
	import type { Shape } from '$player/easing/shape';
	import { THUMB, thumbnail } from './shapes';
	import Tile from './Tile.svelte';

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
	/** A shape as a small profile, along which a dot runs at the pace of the shape. */
	let { name, note, shape, chosen, shortcut, onchoose, onremove }: Props = $props();

	const shown = $derived(thumbnail(shape));
</script>

{#snippet picture(share: number | null)}
	<svg viewBox="0 0 {THUMB.width} {THUMB.height}" class="h-[26px] w-full max-w-[52px]" aria-hidden="true">
		<path d={shown.area} fill="var(--moss)" opacity="0.2" />
		<path d={shown.line} fill="none" stroke="var(--moss)" stroke-width="1.6" />
		{#if share !== null}
			<circle
				cx={THUMB.width * share}
				cy={shown.heightAt(Math.min(share, 0.9999))}
				r="3"
				fill="var(--rust)"
			/>
		{/if}
	</svg>
{/snippet}

<Tile
	{name}
	{note}
	title={shortcut ? `${name} (${shortcut})` : name}
	{chosen}
	seconds={1}
	rest={0.4}
	{picture}
	{onchoose}
	removes="delete saved shape"
	{onremove}
/>
