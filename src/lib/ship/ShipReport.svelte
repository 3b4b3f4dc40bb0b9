<script lang="ts">
	import { addresses, type Exported } from '$lib/api/client';
	import Download from '@lucide/svelte/icons/download';
	import { measuredOnly, tellLeftOut, worstShare } from '$core/tracks/report';
	import { writeNumber } from '$lib/ui/number-text';
	import { errorText, type ShipState } from './ship-state.svelte';
	import WeightChart from './WeightChart.svelte';
	import HowToPlay from './HowToPlay.svelte';
	import PlayedFile from './played/PlayedFile.svelte';
	import TrackTable from './TrackTable.svelte';

	/** What was written, as it was read back. */
	let {
		ship,
		result,
		onmoment,
	}: { ship: ShipState; result: Exported; onmoment: (clip: string, ticks: number) => void } = $props();

	const hasMotion = $derived(ship.writtenAs.ships.hasMotion);
	/** Of what is all text: the file itself. */
	const written = $derived(hasMotion ? null : textOf(addresses.exported(result.id)));
	async function textOf(address: string): Promise<string> {
		const answer = await fetch(address);
		if (!answer.ok) throw new Error(answer.statusText);
		return answer.text();
	}
	const tracks = $derived(result.clips.flatMap((clip) => clip.tracks));
	const bytes = $derived(tracks.reduce((sum, track) => sum + track.bytes, 0));
	const isBaked = $derived(tracks.some((track) => track.baked));
	const baked = $derived(tracks.reduce((sum, track) => sum + track.bakedBytes, 0));
	const leftOut = $derived(
		result.clips.flatMap(({ name, leftOut }) => leftOut.map((own) => `${name}: ${tellLeftOut(own)}`)),
	);
	const counted = (count: number, one: string, many: string) => `${count} ${count === 1 ? one : many}`;
	const notices = $derived(
		[
			{
				title: `Left out: ${counted(leftOut.length, 'channel', 'channels')} that the format cannot carry`,
				notes: leftOut,
			},
			{
				title: `Drawn plainer: ${counted(result.plainer.length, 'part', 'parts')}`,
				notes: result.plainer,
			},
		].filter(({ notes }) => notes.length > 0),
	);
	const kilo = (count: number) => (count < 1000 ? `${count} B` : `${writeNumber(count / 1000, 1)} kB`);
</script>

<div class="mb-3 flex items-start gap-x-5 gap-y-2 max-md:flex-wrap">
	<div class="max-w-[230px]">
		<h2 class="text-lg font-bold">{result.fileName}</h2>
		<p class="text-muted">
			{kilo(result.bytes)} in all, {kilo(result.gzip)} with gzip{ship.writtenAs.ships.hasDrawings
				? ', drawings included'
				: ''}
		</p>
	</div>
	{#if hasMotion}
		<div class="flex min-w-0 flex-1 flex-wrap gap-x-5 gap-y-1">
			<p>
				<span class="block font-mono text-base font-semibold">{kilo(bytes)}</span><span class="text-muted"
					>curves</span
				>
			</p>
			<p>
				<span class="block font-mono text-base font-semibold"
					>{writeNumber((100 * bytes) / Math.max(1, baked), 1)} %</span
				><span class="text-muted">of keys at 60 Hz ({kilo(baked)})</span>
			</p>
			<p class="max-w-[180px]">
				<span class="block font-mono text-base font-semibold"
					>{isBaked
						? `${writeNumber(worstShare(result), 1)} ×`
						: `${writeNumber(100 * worstShare(result), 1)} %`}</span
				><span class="text-muted"
					>{isBaked
						? 'the bound at most: keys at a fixed rate'
						: `of the bound, read back${measuredOnly(result) > 0 ? '; formulas (≈) closely measured' : ''}`}</span
				>
			</p>
			{#if result.origin}
				<p class="max-w-[130px]">
					<span class="block font-mono text-base font-semibold"
						>{errorText(result.origin.error)}{ship.unitOf('translation')}</span
					><span class="text-muted">{result.origin.part}: farthest off, with its parents</span>
				</p>
			{/if}
			{#if result.contact}
				{@const { part, clip, seconds, error } = result.contact}
				<p
					class="max-w-[130px]"
					title="at {writeNumber(
						seconds,
						2,
					)} s of {clip}: it stands still in the project, and so do its parents"
				>
					<span class="block font-mono text-base font-semibold"
						>{errorText(error)}{ship.unitOf('translation')}</span
					><span class="text-muted">{part}: slides where it stands</span>
				</p>
			{/if}
		</div>
	{/if}
	<a
		class="btn btn-main ml-auto min-h-[34px] shrink-0"
		href={addresses.exported(result.id)}
		download={result.fileName}
		aria-label="Download {result.fileName}"><Download size={15} />Download</a
	>
</div>
{#if ship.isStale}<p class="mb-3 rounded-md border border-rust px-3 py-1.5 text-rust" role="status">
		The project has changed since: export again.
	</p>{/if}
{#if ship.weights?.isBounded}
	{#key ship.weights}
		<WeightChart weights={ship.weights} onbound={(percent) => (ship.percent = percent)} />
	{/key}
{/if}
<HowToPlay format={ship.writtenAs} fileName={result.fileName} clip={result.clips[0]?.name ?? ''} />
{#each notices as { title, notes } (title)}
	<details class="mb-3 rounded-md border border-rule px-3 py-1.5">
		<summary class="cursor-pointer font-semibold">{title}</summary>
		<ul class="mt-1 list-disc pl-5">
			{#each notes as note (note)}<li>{note}</li>{/each}
		</ul>
	</details>
{/each}
{#if ship.writtenAs.mediaTypes[0].startsWith('image/') && !result.fileName.endsWith('.zip')}
	<figure class="mb-4 overflow-hidden rounded-md border border-rule bg-sky" aria-label="the file as it plays">
		<img
			class="mx-auto max-h-[420px] max-w-full p-3"
			src={addresses.exported(result.id)}
			alt="{result.fileName}, as this browser plays it"
		/>
	</figure>
{:else if ship.played && ship.played.clips.length > 0}
	<PlayedFile played={ship.played} />
{/if}
{#if hasMotion}
	<TrackTable {ship} clips={result.clips} {onmoment} />
{:else}
	{#await written then text}
		<!-- Long names scroll, the page does not. -->
		<pre
			class="overflow-x-auto rounded-md border border-rule bg-sheet p-3 font-mono text-xs select-text"
			aria-label="what was written, as text">{text}</pre>
	{:catch}
		<p class="text-rust" role="alert">
			It could not be fetched to be shown here. Downloading it may still work.
		</p>
	{/await}
{/if}
