<script lang="ts">
	import {
		columnFilteringFeature,
		createFilteredRowModel,
		createSortedRowModel,
		createTable,
		filterFn_includesString,
		globalFilteringFeature,
		rowSortingFeature,
		sortFn_alphanumeric,
		sortFn_basic,
		tableFeatures,
	} from '@tanstack/svelte-table';
	import ArrowDown from '@lucide/svelte/icons/arrow-down';
	import ArrowUp from '@lucide/svelte/icons/arrow-up';
	import type { ClipReport } from '$core/tracks/report';
	import { FORMULA_LOOKS } from '$core/tracks/track';
	import { TICKS_PER_SECOND } from '$player/time';
	import ChevronRight from '@lucide/svelte/icons/chevron-right';
	import { writeNumber } from '$lib/ui/number-text';
	import PartBoundField from './PartBoundField.svelte';
	import PathChart from './played/PathChart.svelte';
	import { errorText, type ShipState } from './ship-state.svelte';

	/** Every track of a written file. */
	let {
		ship,
		clips,
		onmoment,
	}: {
		ship: ShipState;
		clips: readonly ClipReport[];
		/** Shows a moment of a clip, in ticks. */
		onmoment: (clip: string, ticks: number) => void;
	} = $props();
	const rows = $derived(
		clips.flatMap(({ clip, name, tracks }) => tracks.map((track) => ({ clip, name, ...track }))),
	);
	type Row = (typeof rows)[number];

	/** What each column shows is compared by; its numbers stand at the right. */
	const COLUMNS: readonly { id: string; right?: true; of: (row: Row) => string | number }[] = [
		{ id: 'clip', of: ({ name }) => name },
		{ id: 'part', of: ({ part }) => part },
		{ id: 'path', of: ({ path }) => path },
		{ id: 'encoding', of: ({ encoding, exact }) => `${encoding}${exact ? ', exact' : ''}` },
		{ id: 'keys', right: true, of: ({ keys }) => keys },
		{ id: 'bytes', right: true, of: ({ bytes }) => bytes },
		{ id: 'of 60 Hz', right: true, of: ({ bytes, bakedBytes }) => bytes / bakedBytes },
		{ id: 'largest error', right: true, of: ({ error }) => error },
		{ id: 'worst at', right: true, of: ({ errorAt }) => errorAt },
		{ id: 'error ÷ bound', of: ({ error, bound }) => error / bound },
	];
	const features = tableFeatures({
		rowSortingFeature,
		sortedRowModel: createSortedRowModel(),
		sortFns: { alphanumeric: sortFn_alphanumeric, basic: sortFn_basic },
		columnFilteringFeature,
		globalFilteringFeature,
		filteredRowModel: createFilteredRowModel(),
		filterFns: { includesString: filterFn_includesString },
	});
	const table = createTable<typeof features, Row>({
		features,
		columns: COLUMNS.map(({ id, of }) => ({ id, header: id, accessorFn: of })),
		globalFilterFn: 'includesString',
		getColumnCanGlobalFilter: ({ id }) => ['clip', 'part', 'path', 'encoding'].includes(id),
		get data() {
			return rows;
		},
	});
	const shown = $derived(table.getRowModel().rows.map(({ original }) => original));
	/** The row whose chart is open. */
	let open = $state<string | null>(null);
	const SORTED = { asc: 'ascending', desc: 'descending' } as const;
	/** From so many curves on, they are looked for. */
	const MANY = 8;
	const NUMBER = 'pr-3 text-right font-mono text-xs';
</script>

{#if rows.length > MANY}
	<div class="mb-1 flex items-center gap-3">
		<input
			type="search"
			class="field w-[220px]"
			aria-label="filter the curves"
			data-field="ship-filter"
			placeholder="filter by clip, part or path"
			oninput={(event) => table.setGlobalFilter(event.currentTarget.value)}
		/>
		<span class="text-muted" role="status">{shown.length} of {rows.length} curves</span>
	</div>
{/if}
<table class="w-full border-collapse" aria-label="curves of the file">
	<thead class="text-left text-muted">
		{#each table.getHeaderGroups() as group (group.id)}
			<tr class="border-b border-rule">
				{#each group.headers as { column }, i (column.id)}
					{@const sorted = column.getIsSorted()}
					<th
						class="py-1 pr-3 font-normal {COLUMNS[i].right ? 'text-right' : ''} last:w-[90px] last:pr-0"
						aria-sort={sorted ? SORTED[sorted] : undefined}
						><button
							type="button"
							class="inline-flex items-center gap-0.5 hover:text-ink"
							onclick={column.getToggleSortingHandler()}
							>{column.id}{#if sorted === 'asc'}<ArrowUp size={12} />{:else if sorted}<ArrowDown
									size={12}
								/>{/if}</button
						></th
					>
				{/each}
			</tr>
		{/each}
	</thead>
	<tbody>
		{#each shown as track (track.id)}
			<tr class="border-b border-rule">
				<td class="py-0.5 pr-3">
					<button
						type="button"
						class="inline-flex min-h-[24px] items-center gap-1 text-left hover:text-moss"
						aria-expanded={open === track.id}
						aria-label="{ship.played
							? 'chart and bound'
							: 'bound'} of {track.name}, {track.part}, {track.path}"
						onclick={() => (open = open === track.id ? null : track.id)}
						><ChevronRight size={13} class={open === track.id ? 'rotate-90' : ''} />{track.name}</button
					>
				</td>
				<td class="pr-3 font-semibold">{track.part}</td>
				<td class="pr-3">{track.path}</td>
				<td class="pr-3">{track.encoding}{track.exact ? ', exact' : ''}</td>
				<td class={NUMBER}>{track.keys}</td>
				<td class={NUMBER}>{track.bytes}</td>
				<td class={NUMBER}>{writeNumber((100 * track.bytes) / track.bakedBytes, 1)} %</td>
				<td
					class={NUMBER}
					title={track.guaranteed
						? undefined
						: `Computed by a formula: the largest of ${FORMULA_LOOKS} places a second, not guaranteed between them`}
					>{track.guaranteed ? '' : '≈ '}{errorText(track.error)}{ship.unitOf(track.path)}</td
				>
				<td class={NUMBER}
					><button
						type="button"
						class="min-h-[24px] underline decoration-rule underline-offset-2 hover:text-moss"
						title="Show this moment in Compose"
						onclick={() => onmoment(track.clip, track.errorAt * TICKS_PER_SECOND)}
						>{writeNumber(track.errorAt, 2)} s</button
					></td
				>
				<td
					title={track.error > track.bound
						? `${writeNumber(track.error / track.bound, 1)} times the bound: keys at a fixed rate are what they are`
						: 'within the bound'}
					><span class="block h-[7px] overflow-hidden rounded-full bg-rule"
						><span
							class="block h-full {track.error > track.bound ? 'bg-rust' : 'bg-moss'}"
							style:width="{Math.min(100, (100 * track.error) / track.bound)}%"
						></span></span
					></td
				>
			</tr>
			{#if open === track.id}
				{@const part = track.id.split('/')[1]}
				<tr class="border-b border-rule">
					<td colspan={COLUMNS.length}>
						<div class="flex flex-wrap items-center gap-x-3 gap-y-1 py-1">
							<span>Bound here: {errorText(track.bound)}{ship.unitOf(track.path)}. At the next export</span>
							<label class="inline-flex items-center gap-1.5"
								>{track.path}
								<PartBoundField
									{ship}
									{part}
									path={track.path}
									label="bound of {track.part} / {track.path}"
								/></label
							>
							<label class="inline-flex items-center gap-1.5"
								>all of {track.part}
								<PartBoundField {ship} {part} path={null} label="bound of all of {track.part}" /></label
							>
							<span class="text-muted">0: as for all</span>
						</div>
						{#if ship.played}
							{#key ship.played}
								<PathChart
									played={ship.played}
									path={{ clip: track.clip, part, path: track.path }}
									bound={track.bound}
									unit={ship.unitOf(track.path)}
									worst={track.errorAt}
								/>
							{/key}
						{/if}
					</td>
				</tr>
			{/if}
		{/each}
		{#if shown.length === 0}
			<tr><td class="py-2 text-muted" colspan={COLUMNS.length}>No results.</td></tr>
		{/if}
	</tbody>
</table>
