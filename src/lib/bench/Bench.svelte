<script lang="ts">
	import { tick } from 'svelte';
	import { BENCH_FIELDS, focusField, type BenchCard } from '$lib/session/fields';
	import { useSession } from '$lib/session/session.svelte';
	import ChannelCard from './ChannelCard.svelte';
	import ClipCard from './ClipCard.svelte';
	import FormulaCard from './FormulaCard.svelte';
	import MotionCard from './MotionCard.svelte';
	import PartCard from './PartCard.svelte';
	import RecordCard from './RecordCard.svelte';
	import RetimeCard from './RetimeCard.svelte';
	import SpanCard from './SpanCard.svelte';

	const session = useSession();
	const CARDS = ['span', 'channel', 'part', 'motions', 'record', 'clip'] as const;
	const WORDS: Record<BenchCard, string> = {
		span: 'Easing',
		channel: 'Channel',
		part: 'Part',
		motions: 'Motions',
		record: 'Record',
		clip: 'Clip',
	};
	let wanted = $state<BenchCard | null>(null);
	const can = $derived<Record<BenchCard, boolean>>({
		span: session.selection.keys.size > 0,
		channel: session.selection.channels.length > 0 || session.selection.formula !== null,
		part: session.selection.part !== null,
		motions: true,
		record: true,
		clip: true,
	});
	/** The nearest to what was picked. */
	const natural = $derived(CARDS.find((name) => can[name] && name !== 'motions' && name !== 'record')!);
	const card = $derived(wanted && can[wanted] ? wanted : natural);

	const laneCount = $derived(session.selection.channels.length);
	// A new pick shows its own card.
	$effect(() => {
		void session.selection.keys;
		void session.selection.partId;
		void session.selection.channelId;
		void laneCount;
		wanted = null;
	});
	// A command asks for a field: its card is shown, and the field is in hand.
	$effect(() => {
		const asked = session.asks.field;
		if (!asked) return;
		session.asks.field = null;
		wanted = BENCH_FIELDS[asked];
		void tick().then(() => focusField(asked));
	});
</script>

<section class="flex h-full min-h-0 flex-col bg-paper" aria-label="bench" id="bench" tabindex="-1">
	<div
		class="flex shrink-0 items-center gap-1 border-b border-rule px-3 pt-1"
		role="group"
		aria-label="bench cards"
	>
		{#each CARDS as name (name)}
			<button
				type="button"
				class="-mb-px min-h-[26px] border-b-2 px-2 pb-1 disabled:text-muted disabled:opacity-60 {card === name
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
			{#if session.selection.count > 1}<RetimeCard />{/if}
		{:else if card === 'channel' && session.selection.formula}
			<FormulaCard />
		{:else if card === 'channel'}
			<ChannelCard channels={session.selection.channels} />
		{:else if card === 'motions'}
			<MotionCard />
		{:else if card === 'record'}
			<RecordCard />
		{:else if card === 'part'}
			<PartCard />
		{:else}
			<ClipCard />
		{/if}
	</div>
</section>
