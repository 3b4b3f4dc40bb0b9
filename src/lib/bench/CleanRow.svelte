<script lang="ts">
	import { canClean } from '$core/edits/clean';
	import { smoothSelected, takeOutSpikes } from '$lib/acts/clean';
	import FrameField from '$lib/session/FrameField.svelte';
	import { useSession } from '$lib/session/session.svelte';

	/** Where so many keys are selected that they may be a recording: what is wrong with it is taken out. */
	const session = useSession();
	const isMany = $derived(canClean(session.doc, session.selection.keys));
	let frames = $state(8);
</script>

{#if isMany}
	<span class="flex items-center gap-1.5">
		<button
			type="button"
			class="btn !min-h-[24px]"
			title="single keys that stand out go to where their neighbours are"
			onclick={() => takeOutSpikes(session)}>Remove spikes</button
		>
		<button
			type="button"
			class="btn !min-h-[24px]"
			title="trembling is smoothed away; what moves is neither delayed nor flattened"
			onclick={() => smoothSelected(session, frames)}>Smooth over</button
		>
		<FrameField
			label="frames that keys are smoothed over"
			field="keys-smooth"
			value={frames}
			digits={1}
			min={1}
			max={600}
			class="w-[52px] !min-h-[24px]"
			oncommit={(v) => (frames = v)}
		/>
	</span>
{/if}
