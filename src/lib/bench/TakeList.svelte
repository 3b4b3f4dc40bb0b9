<script lang="ts">
	import { tick } from 'svelte';
	import Trash from '@lucide/svelte/icons/trash-2';
	import { deleteTake, renameTake, takesOf, tellSpan } from '$lib/acts/takes';
	import { layWorkOf } from '$lib/acts/lay-work.svelte';
	import { takeWorkOf } from '$lib/acts/take-work.svelte';
	import { useSession } from '$lib/session/session.svelte';
	import TakeCleaning from './TakeCleaning.svelte';

	/** The takes of the open clip; one of them open, to be cleaned again. */
	const session = useSession();
	const work = takeWorkOf(session);
	const laying = layWorkOf(session);
	let list: HTMLElement;
	const takes = $derived(session.clipId === null ? [] : takesOf(session.doc, session.clipId));
	// What has just been recorded is looked at next.
	let shown: string | null = null;
	$effect(() => {
		const id = work.samples ? (work.take?.id ?? null) : null;
		if (id !== null && id !== shown)
			void tick().then(() => list.querySelector('[data-open]')?.scrollIntoView({ block: 'start' }));
		shown = id;
	});
	// Undo and other windows change what is open here too.
	$effect(() => {
		void work.take?.cleaning;
		work.follow();
	});
	async function lay(id: string) {
		await work.open(id);
		if (work.take?.id === id && work.samples) laying.open(work.take, work.samples.samples);
	}
</script>

<section class="flex flex-col gap-1.5 border-t border-rule pt-2" aria-label="takes">
	<h2 class="sheet-title">Takes</h2>
	<ul class="flex flex-col gap-1" bind:this={list}>
		{#each takes as take (take.id)}
			{@const isOpen = work.take?.id === take.id}
			<li
				data-open={isOpen ? '' : undefined}
				class="rounded-md border {isOpen
					? 'border-moss bg-sheet'
					: 'border-rule'} flex flex-col gap-1.5 px-2 py-1"
			>
				<div class="flex items-center gap-2">
					<input
						class="field w-[130px] !min-h-[24px]"
						aria-label="name of {take.name}"
						value={take.name}
						maxlength="120"
						onchange={(event) => {
							renameTake(session, take, event.currentTarget.value);
							event.currentTarget.value = session.doc.takes[take.id]?.name ?? '';
						}}
					/>
					<span class="min-w-0 flex-1 truncate text-muted">
						{tellSpan(take, session.frameRate)} · {take.samples} samples · {take.columns.length}
						{take.columns.length === 1 ? 'channel' : 'channels'}
					</span>
					<button
						type="button"
						class="btn !min-h-[24px]"
						aria-pressed={isOpen}
						title={isOpen ? 'Close it' : 'Show what was recorded, and clean it again'}
						onclick={() => (isOpen ? work.close() : void work.open(take.id))}
						>{isOpen ? 'Close' : 'Clean'}</button
					>
					<button
						type="button"
						class="btn !min-h-[24px]"
						title="Lay it on other parts: names matched, scaled, mirrored, or one round of it as a clip"
						onclick={() => void lay(take.id)}>Lay …</button
					>
					<button
						type="button"
						class="btn btn-square !min-h-[24px]"
						aria-label="delete {take.name}"
						title="Delete the take; its keys stay"
						onclick={() => deleteTake(session, take)}><Trash size={13} /></button
					>
				</div>
				{#if isOpen}<TakeCleaning {work} />{/if}
			</li>
		{/each}
	</ul>
</section>
