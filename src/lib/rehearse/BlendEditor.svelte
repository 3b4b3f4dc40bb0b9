<script lang="ts">
	import type { Blend } from '$core/document/types';
	import { putBlend, removeBlend } from '$core/edits/clips';
	import BlendFields from '$lib/bench/BlendFields.svelte';
	import { useSession } from '$lib/session/session.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import { writeNumber } from '$lib/ui/number-text';

	/** One blend, which plays over and over on the stage meanwhile. */
	interface Props {
		blend: Blend;
		shares: { value: number; rate: number };
		/** The shortest duration without a pop in speed; null where there is none. */
		best: number | null;
		limit: number;
		/** Where the clip that goes is left, as a share of it. */
		phase: number;
		onclose: () => void;
	}
	let { blend, shares, best, limit = $bindable(), phase = $bindable(), onclose }: Props = $props();
	const session = useSession();
	const isSet = $derived(session.doc.blends[blend.id] !== undefined);
	const names = $derived([blend.from, blend.to].map((id) => session.doc.clips[id]?.name));

	function change(changed: Partial<Blend>) {
		const next = { ...blend, ...changed };
		if (next.kind !== 'cut' && next.seconds === 0) next.seconds = 0.25;
		session.edit('Change blend', (doc) => putBlend(doc, next));
	}
</script>

<section class="flex flex-col gap-1.5 rounded-md border border-moss bg-sheet p-2" aria-label="blend">
	<h3 class="font-semibold">{names[0]} → {names[1]}</h3>
	<div class="flex flex-wrap items-center gap-1">
		<BlendFields {blend} onchange={change} />
	</div>
	<label class="flex items-center gap-2"
		><span class="text-muted">left at</span>
		<input
			type="range"
			min="0"
			max="1"
			step="0.01"
			class="h-[24px] min-w-0 flex-1 accent-lake"
			bind:value={phase}
		/>
		<span class="w-[40px] text-right font-mono text-xs">{Math.round(100 * phase)} %</span></label
	>
	<p class="font-mono text-xs text-muted" data-pops>
		pop in value {writeNumber(100 * shares.value, 1)} % · pop in speed {writeNumber(shares.rate, 2)}/s of the
		range
	</p>
	<div class="flex flex-wrap items-center gap-1">
		<span class="text-muted">No pop in speed over</span>
		<NumberField
			label="largest pop in speed, ranges a second"
			value={limit}
			unit="/s"
			step={0.1}
			min={0.05}
			max={100}
			class="w-[60px] !min-h-[24px]"
			oncommit={(next) => (limit = next)}
		/>
		{#if blend.kind !== 'cut'}
			<button
				type="button"
				class="btn !min-h-[24px]"
				disabled={best === null || best === blend.seconds}
				title="The shortest duration that keeps below it"
				onclick={() => change({ seconds: best! })}
				>{best === null ? 'none below 2 s' : `Use ${best} s`}</button
			>
		{/if}
		<span class="ml-auto flex gap-1">
			{#if isSet}
				<button
					type="button"
					class="btn !min-h-[24px]"
					onclick={() => session.edit('Delete blend', (doc) => removeBlend(doc, blend.id))}>Delete</button
				>
			{/if}
			<button type="button" class="btn !min-h-[24px]" onclick={onclose}>Done</button>
		</span>
	</div>
</section>
