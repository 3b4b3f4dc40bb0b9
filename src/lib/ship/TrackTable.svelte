<script lang="ts">
	import type { ClipReport } from '$core/tracks/report';
	import { FORMULA_LOOKS } from '$core/tracks/track';
	import { writeNumber } from '$lib/ui/number-text';
	import { errorText, type ShipState } from './ship-state.svelte';

	/** Every track of a written file. */
	let { ship, clips }: { ship: ShipState; clips: readonly ClipReport[] } = $props();
	const rows = $derived(clips.flatMap(({ name, tracks }) => tracks.map((track) => ({ name, ...track }))));
	const COLUMNS: readonly { title: string; right?: true }[] = [
		{ title: 'clip' },
		{ title: 'part' },
		{ title: 'path' },
		{ title: 'written as' },
		{ title: 'keys', right: true },
		{ title: 'bytes', right: true },
		{ title: 'of 60 Hz', right: true },
		{ title: 'largest error', right: true },
		{ title: 'at', right: true },
	];
	const NUMBER = 'pr-3 text-right font-mono text-xs';
</script>

<table class="w-full border-collapse">
	<thead class="text-left text-muted">
		<tr class="border-b border-rule">
			{#each COLUMNS as { title, right } (title)}
				<th class="py-1 pr-3 font-normal {right ? 'text-right' : ''}">{title}</th>
			{/each}
			<th class="w-[90px] font-normal">of its bound</th>
		</tr>
	</thead>
	<tbody>
		{#each rows as track (track.id)}
			<tr class="border-b border-rule">
				<td class="py-0.5 pr-3">{track.name}</td>
				<td class="pr-3 font-semibold">{track.part}</td>
				<td class="pr-3">{track.path}</td>
				<td class="pr-3">{track.encoding}{track.exact ? ', as it is' : ''}</td>
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
				<td class={NUMBER}>{writeNumber(track.errorAt, 2)} s</td>
				<td
					><span class="block h-[7px] overflow-hidden rounded-full bg-rule"
						><span
							class="block h-full bg-moss"
							style:width="{Math.min(100, (100 * track.error) / track.bound)}%"
						></span></span
					></td
				>
			</tr>
		{/each}
	</tbody>
</table>
