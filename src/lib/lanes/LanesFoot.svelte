<script lang="ts">
	import { PROPERTIES, type Property } from '$core/document/types';
	import { propertyLabel } from '$core/document/labels';
	import Funnel from '@lucide/svelte/icons/funnel';
	import Magnet from '@lucide/svelte/icons/magnet';
	import { addCue } from '$lib/acts/new-clips';
	import { useSession } from '$lib/session/session.svelte';
	import { updateProject } from '$core/edits/clips';
	import { writeNumber } from '$lib/ui/number-text';
	import { sentence } from '$lib/ui/sentence';
	import NumberField from '$lib/ui/NumberField.svelte';
	import Popover from '$lib/ui/Popover.svelte';
	import { isFiltering, NO_FILTER } from './row-filter';
	import type { LaneView } from './lane-view.svelte';
	import { HUES } from './units';

	interface Props {
		view: LaneView;
		stillParts: number;
		loops: boolean;
	}
	let { view, stillParts, loops }: Props = $props();
	const session = useSession();

	const SNAPS = [
		{ name: 'keys', label: 'other keys' },
		{ name: 'cues', label: 'cues' },
		{ name: 'playhead', label: 'the playhead' },
	] as const;

	/** Frames between the places of the grid. */
	const step = $derived(session.doc.project.snapStep ?? 1);
	const stepTold = $derived(step === 0 ? 'off' : `${writeNumber(step)} f`);
	function setStep(frames: number) {
		const snapStep = frames === 1 ? undefined : frames;
		session.edit('Change snap step', (doc) => updateProject(doc, { snapStep }));
	}

	function ask(popover: NonNullable<typeof session.asks.popover>, open: boolean) {
		if (open) session.asks.popover = popover;
		else if (session.asks.popover === popover) session.asks.popover = null;
	}

	const filtering = $derived(isFiltering(view.filter));
	/** The part in hand, and those of selected keys. */
	const picked = $derived(
		new Set([
			...(session.selection.partId === null ? [] : [session.selection.partId]),
			...[...session.selection.keys.keys()].flatMap((id) => session.doc.channels[id]?.part ?? []),
		]),
	);
	function toggleFamily(property: Property) {
		const families = new Set(view.filter.families);
		if (!families.delete(property)) families.add(property);
		view.filter = { ...view.filter, families };
	}
</script>

<div
	class="flex min-h-[28px] shrink-0 flex-wrap items-center gap-x-3 border-t border-rule bg-paper px-3 text-muted"
	role="group"
	aria-label="what the lanes show"
	data-lanes-foot
>
	<button
		type="button"
		class="h-[24px] whitespace-nowrap hover:text-ink"
		data-add-part
		onclick={() => (session.asks.sheet = 'new part')}>Add part</button
	>
	<button
		type="button"
		class="h-[24px] whitespace-nowrap hover:text-ink disabled:opacity-50"
		title="Add a cue at the playhead (Q)"
		disabled={!session.clip}
		onclick={() => addCue(session)}>Add cue</button
	>
	<button
		type="button"
		class="h-[24px] whitespace-nowrap hover:text-ink disabled:opacity-50"
		title="Motions as numbers, or from CSS (T)"
		disabled={!session.clip}
		onclick={() => (session.asks.sheet = 'tween')}>Tween …</button
	>
	{#if filtering}
		<span class="truncate">Some lanes are filtered out</span>
	{:else if stillParts > 0 || view.showStill}
		<button
			type="button"
			class="h-[24px] truncate hover:text-ink"
			onclick={() => ((view.showStill = !view.showStill), view.remember())}
			>{view.showStill
				? 'Moving parts only'
				: `${stillParts} still ${stillParts === 1 ? 'part' : 'parts'} hidden`}</button
		>
	{/if}
	<span class="ml-auto flex flex-wrap items-center gap-2">
		<input
			class="field w-[118px] !min-h-[24px]"
			type="search"
			placeholder="Filter lanes"
			aria-label="filter lanes by name"
			value={view.filter.words}
			oninput={(event) => (view.filter = { ...view.filter, words: event.currentTarget.value })}
		/>
		<Popover
			label="filter lanes by kind"
			bind:open={() => session.asks.popover === 'lane-kinds', (open) => ask('lane-kinds', open)}
			title="Filter lanes by kind"
			class="flex h-[24px] min-w-[24px] items-center justify-center gap-1 rounded px-1 hover:text-ink {view
				.filter.families.size > 0 || view.filter.parts
				? 'font-semibold text-rust'
				: ''}"
			contentClass="!p-2"
		>
			{#snippet trigger()}<Funnel size={13} />{/snippet}
			<fieldset class="flex flex-col gap-1">
				<legend class="sheet-title mb-1">Show only</legend>
				{#each PROPERTIES as property (property)}
					<label class="flex items-center gap-2">
						<input
							type="checkbox"
							checked={view.filter.families.has(property)}
							onchange={() => toggleFamily(property)}
						/>
						<span class="size-2 rounded-[2px]" style:background="var({HUES[property]})" aria-hidden="true"
						></span>
						{sentence(propertyLabel(property))}
					</label>
				{/each}
				<label class="mt-1 flex items-center gap-2 border-t border-rule pt-1">
					<input
						type="checkbox"
						checked={view.filter.parts !== null}
						disabled={view.filter.parts === null && picked.size === 0}
						onchange={(event) =>
							(view.filter = { ...view.filter, parts: event.currentTarget.checked ? picked : null })}
					/>
					Selected parts
				</label>
				<label class="mt-1 flex items-center gap-2 border-t border-rule pt-1">
					<input
						type="checkbox"
						checked={view.tellsRanges}
						onchange={(event) => view.setTellsRanges(event.currentTarget.checked)}
					/>
					Range of values on every lane
				</label>
				<button type="button" class="btn mt-1" disabled={!filtering} onclick={() => (view.filter = NO_FILTER)}
					>Show all</button
				>
			</fieldset>
		</Popover>
		<Popover
			label="snap to"
			bind:open={() => session.asks.popover === 'snap', (open) => ask('snap', open)}
			title="What drags along time snap to (Ctrl while dragging: nothing)"
			class="flex h-[24px] min-w-[24px] items-center justify-center gap-1 rounded px-1 hover:text-ink"
			contentClass="!p-2"
		>
			{#snippet trigger()}<Magnet size={13} />{#if step !== 1}<span class="font-semibold text-rust"
						>{stepTold}</span
					>{/if}{/snippet}
			<fieldset class="flex flex-col gap-1">
				<legend class="sheet-title mb-1">Snap to</legend>
				<label class="flex items-center gap-2">
					Every
					<NumberField
						label="frames of the grid"
						value={step}
						digits={2}
						min={0}
						max={1000}
						class="w-[52px]"
						oncommit={setStep}
					/>
					{step === 0 ? 'frames: no grid' : step === 1 ? 'frame' : 'frames'}
				</label>
				{#each SNAPS as { name, label } (name)}
					<label class="flex items-center gap-2">
						<input
							type="checkbox"
							checked={view.snap[name]}
							onchange={(event) => view.setSnap({ [name]: event.currentTarget.checked })}
						/>
						{sentence(label)}
					</label>
				{/each}
				<label class="mt-1 flex items-center gap-2 border-t border-rule pt-1">
					<input
						type="checkbox"
						checked={session.view.cuesToo}
						onchange={(event) => session.view.setCuesToo(event.currentTarget.checked)}
					/>
					Cues move with the keys of a part
				</label>
			</fieldset>
		</Popover>
		{#if loops}
			<button
				type="button"
				class="h-[24px] rounded px-1 {view.showSeam ? 'font-semibold text-ink' : 'hover:text-ink'}"
				aria-pressed={view.showSeam}
				title="Last and first part of the loop side by side"
				onclick={() => ((view.showSeam = !view.showSeam), view.remember())}>Seam</button
			>
		{/if}
	</span>
</div>
