<script lang="ts">
	import { useSession } from '$lib/session/session.svelte';
	import ClipCard from './ClipCard.svelte';
	import FormulaCard from './FormulaCard.svelte';
	import PartCard from './PartCard.svelte';
	import RetimeCard from './RetimeCard.svelte';
	import SpanCard from './SpanCard.svelte';

	const session = useSession();
	const several = $derived([...session.keys.values()].reduce((sum, times) => sum + times.size, 0) > 1);
	type Card = 'span' | 'formula' | 'part' | 'clip';
	let wanted = $state<Card | null>(null);
	const natural = $derived<Card>(
		session.keys.size > 0
			? 'span'
			: session.formula
				? 'formula'
				: session.channelId !== null
					? 'clip'
					: session.part
						? 'part'
						: 'clip',
	);
	const can = $derived<Record<Card, boolean>>({
		span: session.keys.size > 0,
		formula: session.formula !== null,
		part: session.part !== null,
		clip: true,
	});
	const card = $derived(wanted && can[wanted] ? wanted : natural);
	const WORDS: Record<Card, string> = { span: 'Span', formula: 'Formula', part: 'Part', clip: 'Clip' };

	// A new pick shows its own card.
	$effect(() => {
		void session.keys;
		void session.partId;
		void session.channelId;
		wanted = null;
	});
</script>

<section class="flex h-full min-h-0 flex-col bg-paper" aria-label="bench" id="bench" tabindex="-1">
	<div
		class="flex shrink-0 items-center gap-1 border-b border-rule px-3 pt-1"
		role="group"
		aria-label="bench cards"
	>
		{#each ['span', 'formula', 'part', 'clip'] as const as name (name)}
			<button
				type="button"
				class="-mb-px border-b-2 px-2 pb-1 disabled:text-muted disabled:opacity-60 {card === name
					? 'border-moss font-semibold'
					: 'border-transparent text-muted'}"
				aria-pressed={card === name}
				disabled={!can[name]}
				onclick={() => (wanted = name)}>{WORDS[name]}</button
			>
		{/each}
	</div>
	<div class="min-h-0 flex-1 overflow-y-auto px-3 py-2">
		{#if !session.clip}
			<p class="text-muted">There is no clip yet. Make one from the clip menu above.</p>
		{:else if card === 'span'}
			<SpanCard />
			{#if several}<RetimeCard />{/if}
		{:else if card === 'formula'}
			<FormulaCard />
		{:else if card === 'part'}
			<PartCard />
		{:else}
			<ClipCard />
		{/if}
	</div>
</section>
