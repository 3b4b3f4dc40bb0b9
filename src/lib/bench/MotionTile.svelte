<script lang="ts">
	import type { Motion } from '$core/document/motions';
	import { ticksToSeconds } from '$player/time';
	import { CARD_PATH, MOTION_PICTURE, motionPicture } from './motion-picture';
	import Tile from './Tile.svelte';

	interface Props {
		motion: Motion;
		about?: string;
		disabled: boolean;
		chosen: boolean;
		onchoose: () => void;
		/** Only of motions of one's own. */
		onremove?: () => void;
	}
	/** A motion as a card that does it. */
	let { motion, about, disabled, chosen, onchoose, onremove }: Props = $props();

	const poseAt = $derived(motionPicture(motion));
	/** Shares of its time at which the card is drawn at rest, and the one that is filled. */
	const STILLS = [0.12, 0.3, 0.55];
	const STILL = 0.4;
</script>

{#snippet picture(share: number | null)}
	<svg
		viewBox="0 0 {MOTION_PICTURE.width} {MOTION_PICTURE.height}"
		class="h-[42px] w-full overflow-hidden"
		aria-hidden="true"
	>
		<path d="M 3 31.5 H {MOTION_PICTURE.width - 3}" stroke="var(--rule)" />
		{#if share === null}
			{#each STILLS as still (still)}
				{@const pose = poseAt(still)}
				<path
					d={CARD_PATH}
					transform={pose.transform}
					fill="none"
					stroke="var(--lake)"
					stroke-width="0.8"
					opacity={0.35 + 0.4 * pose.opacity}
				/>
			{/each}
		{/if}
		<path
			d={CARD_PATH}
			fill="var(--lake)"
			opacity={share === null ? 0.35 : poseAt(share).opacity}
			transform={poseAt(share ?? STILL).transform}
		/>
	</svg>
{/snippet}

<Tile
	name={motion.name}
	title={about}
	{chosen}
	{disabled}
	seconds={ticksToSeconds(motion.length)}
	rest={0.5}
	{picture}
	{onchoose}
	removes="delete the motion"
	{onremove}
/>
