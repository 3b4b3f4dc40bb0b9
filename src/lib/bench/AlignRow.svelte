<script lang="ts">
	import AlignCenterHorizontal from '@lucide/svelte/icons/align-center-horizontal';
	import AlignCenterVertical from '@lucide/svelte/icons/align-center-vertical';
	import AlignEndHorizontal from '@lucide/svelte/icons/align-end-horizontal';
	import AlignEndVertical from '@lucide/svelte/icons/align-end-vertical';
	import AlignHorizontalSpaceBetween from '@lucide/svelte/icons/align-horizontal-space-between';
	import AlignStartHorizontal from '@lucide/svelte/icons/align-start-horizontal';
	import AlignStartVertical from '@lucide/svelte/icons/align-start-vertical';
	import AlignVerticalSpaceBetween from '@lucide/svelte/icons/align-vertical-space-between';
	import type { Component } from 'svelte';
	import { ALIGNMENTS, type Alignment } from '$core/edits/align';
	import { alignmentName, alignParts, pickedParts } from '$lib/acts/part-acts';
	import { useSession } from '$lib/session/session.svelte';

	/** What is done with several parts at once. */
	const session = useSession();
	const count = $derived(pickedParts(session).length);
	const ICONS: Record<Alignment, Component<{ size?: number }>> = {
		left: AlignStartVertical,
		centre: AlignCenterVertical,
		right: AlignEndVertical,
		top: AlignStartHorizontal,
		middle: AlignCenterHorizontal,
		bottom: AlignEndHorizontal,
		'distribute across': AlignHorizontalSpaceBetween,
		'distribute down': AlignVerticalSpaceBetween,
	};
</script>

<div class="flex flex-wrap items-center gap-1" role="group" aria-label="selected parts">
	<span class="mr-1 font-semibold">{count} parts</span>
	{#each ALIGNMENTS as how (how)}
		{@const Icon = ICONS[how]}
		<button
			type="button"
			class="btn flex size-[26px] items-center justify-center !p-0"
			aria-label={alignmentName(how)}
			title="{alignmentName(how)}: all {count} parts, as they stand at the playhead"
			disabled={how.startsWith('distribute') && count < 3}
			onclick={() => alignParts(session, how)}><Icon size={15} /></button
		>
	{/each}
</div>
