<script lang="ts">
	import { secondsToTicks } from '$player/time';
	import { useSession } from '$lib/session/session.svelte';
	import { BLEND_WORDS } from '$core/document/labels';
	import { writeNumber } from '$lib/ui/number-text';
	import type { LaneView } from './lane-view.svelte';

	/** Where the clip gives way to others, on its ruler: click to play across. */
	let { view }: { view: LaneView } = $props();
	const session = useSession();
	const { across } = session;
	const blends = $derived(Object.values(session.doc.blends).filter(({ from }) => from === session.clipId));
	const end = $derived(view.x(session.clip?.length ?? 0));
	const named = (clip: string) => session.doc.clips[clip]?.name ?? '';
</script>

{#each blends as blend, i (blend.id)}
	{@const isPlayed = across.blend === blend.id}
	<button
		type="button"
		class="group absolute flex h-[24px] max-w-[160px] -translate-x-full items-center"
		style:left="{Math.min(end, view.width)}px"
		style:top="{18 + 17 * (i % 2)}px"
		title="{BLEND_WORDS[blend.kind]} into {named(blend.to)}{blend.kind === 'cut'
			? ''
			: `, ${writeNumber(blend.seconds, 2)} s`}: click to {isPlayed ? 'stop' : 'play across'}"
		aria-label="play across into {named(blend.to)}"
		aria-pressed={isPlayed}
		onclick={() => (isPlayed ? across.stop() : session.playAcross(blend))}
		><span
			class="truncate rounded-l-full border-r-2 border-heather px-1.5 text-xs leading-4 {isPlayed
				? 'bg-heather text-paper'
				: 'bg-sheet text-heather group-hover:bg-band'}">→ {named(blend.to)}</span
		></button
	>
	{#if blend.kind !== 'cut' && end < view.width}
		<span
			class="pointer-events-none absolute bottom-0 h-[4px] bg-heather/60"
			style:left="{end}px"
			style:width="{secondsToTicks(blend.seconds) / view.ticksPerPixel}px"
		></span>
	{/if}
{/each}
{#if across.ticks !== null}
	<span
		class="pointer-events-none absolute bottom-0 top-0 w-0.5 bg-heather"
		style:left="{view.x(across.ticks)}px"
		data-across
	></span>
{/if}
