<script lang="ts">
	import { numberIn } from '$core/clip/layout';
	import { channelLabel } from '$core/document/labels';
	import { useSession } from '$lib/session/session.svelte';
	import { writeNumber } from '$lib/ui/number-text';
	import HeightGrip from './HeightGrip.svelte';
	import type { LaneView } from './lane-view.svelte';
	import type { FormulaRow } from './rows';
	import { unitAt } from '$core/document/units';
	import { HUES } from './units';

	let { row, view }: { row: FormulaRow; view: LaneView } = $props();
	const session = useSession();
	const picked = $derived(session.selection.channelId === row.id);
	const { property, component } = $derived(row.formula);
	const label = $derived(channelLabel(property, component, row.part));
	const value = $derived(numberIn(session.posed, row.part, property, component));
</script>

<div
	class="absolute left-0 flex items-start gap-1 border-b border-rule pl-3 pr-2 {picked
		? 'bg-band'
		: 'bg-paper'}"
	style:top="{row.top}px"
	style:height="{row.height}px"
	style:width="{view.headerWidth}px"
	data-lane="{row.part.name} {label}"
>
	<div class="flex min-w-0 flex-1 items-center gap-1" style:height="{Math.min(row.height, 40)}px">
		<span
			class="size-2 shrink-0 rounded-[2px] border"
			style:border-color="var({HUES[property]})"
			aria-hidden="true"
		></span>
		<button
			type="button"
			class="min-w-0 flex-1 truncate text-left {picked ? 'font-semibold' : ''}"
			aria-pressed={picked}
			title="{row.part.name} {label} = {row.formula.text}"
			onclick={() => session.selection.pickChannel(row.id)}
			ondblclick={() => view.cycleHeight(row.id)}
		>
			{label} <span class="font-mono text-xs text-muted">= {row.formula.text}</span>
		</button>
		<span class="hidden shrink-0 font-mono text-xs md:inline" data-formula-value
			>{writeNumber(value, Math.abs(value) >= 100 ? 1 : 2)}{unitAt(session.doc, row.formula)}</span
		>
	</div>
	<HeightGrip id={row.id} height={row.height} {view} />
</div>
