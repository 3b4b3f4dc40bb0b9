<script lang="ts">
	import { tick } from 'svelte';
	import SlidersHorizontal from '@lucide/svelte/icons/sliders-horizontal';
	import { updateProject } from '$core/edits/clips';
	import FrameField from '$lib/session/FrameField.svelte';
	import { AXES_OF, type AxesOf } from '$lib/session/stage-look.svelte';
	import { useSession } from '$lib/session/session.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import Popover from '$lib/ui/Popover.svelte';
	import { sentence } from '$lib/ui/sentence';
	import { screenName, SCREENS, type Screen } from './screens';
	import { smoothEdges } from './stage-picture';

	/** What of the stage is rarely changed. */
	const session = useSession();
	const { look } = session.view;
	const isWorld = $derived(session.doc.project.space === 'world');
	const parent = $derived(
		session.selection.part?.parent ? session.doc.parts[session.selection.part.parent] : undefined,
	);
	const screen = $derived(session.doc.project.screen);
	const sizeOf = (own?: Screen) => (own ? `${own.width} × ${own.height}` : '');

	/** It is seen as a whole at once. */
	function setScreen(size: string) {
		const chosen = SCREENS.find((known) => sizeOf(known) === size);
		const next = chosen && { width: chosen.width, height: chosen.height };
		session.edit(next ? 'Screen outline' : 'No screen outline', (doc) =>
			updateProject(doc, { screen: next }),
		);
		// The stage has it by then.
		void tick().then(() => look.frame(null));
	}
</script>

<Popover
	label="stage options"
	title="What the stage shows, and whose axes its handles follow"
	class="min-h-[24px] rounded-md border border-rule bg-paper px-1.5 text-muted hover:text-ink"
	contentClass="!p-2.5"
>
	{#snippet trigger()}<SlidersHorizontal size={13} />{/snippet}
	<fieldset class="flex w-[256px] flex-col gap-1.5">
		<legend class="sheet-title mb-1">Stage</legend>
		<label class="flex items-center gap-2">
			<input type="checkbox" bind:checked={look.rest} /> Rest pose of the selected part
		</label>
		<label class="flex items-center gap-2">
			<input type="checkbox" bind:checked={look.numbers} /> Own numbers that move
		</label>
		{#if look.isSoftware}
			<label
				class="flex items-center gap-2"
				title="This browser draws without a graphics processor: smooth edges take it a moment after each change. Counts from the next picture on"
			>
				<input
					type="checkbox"
					checked={smoothEdges.get()}
					onchange={(event) => smoothEdges.set(event.currentTarget.checked)}
				/> Smooth edges once it stands still
			</label>
		{/if}
		<label class="flex items-center gap-2" class:opacity-50={!parent}>
			<input type="checkbox" bind:checked={look.pathInParent} disabled={!parent} />
			<span class="min-w-0 truncate">Path as {parent?.name ?? 'the parent'} sees it</span>
		</label>
		<div class="flex items-center gap-1.5">
			<span class="flex-1">Ghosts</span>
			<NumberField
				label="ghosts on each side"
				value={look.ghostCount}
				unit=" ×"
				digits={0}
				min={1}
				max={12}
				class="w-[48px]"
				onpreview={(v) => (look.ghostCount = Math.round(v))}
				oncommit={(v) => (look.ghostCount = Math.round(v))}
			/>
			<span class="text-muted">every</span>
			<FrameField
				label="frames between ghosts"
				value={look.ghostStep}
				digits={0}
				min={1}
				max={120}
				class="w-[56px]"
				onpreview={(v) => (look.ghostStep = Math.round(v))}
				oncommit={(v) => (look.ghostStep = Math.round(v))}
			/>
		</div>
		<label class="flex items-center gap-2">
			<span class="flex-1" title="Whose axes the arms of the handles follow: the lanes are in the parent's"
				>Axes</span
			>
			<select
				class="field"
				aria-label="axes of the handles"
				value={look.axes}
				onchange={(event) => (look.axes = event.currentTarget.value as AxesOf)}
			>
				{#each AXES_OF as axes (axes)}<option value={axes}>{sentence(axes)}</option>{/each}
			</select>
		</label>
		{#if !isWorld}
			<label class="flex items-center gap-2">
				<span class="flex-1">Screen</span>
				<select
					class="field max-w-[190px]"
					aria-label="outline of a screen"
					value={sizeOf(screen)}
					onchange={(event) => setScreen(event.currentTarget.value)}
				>
					<option value="">No outline</option>
					{#if screen && screenName(screen) === sizeOf(screen)}<option value={sizeOf(screen)}
							>{sizeOf(screen)}</option
						>{/if}
					{#each SCREENS as known (known.name)}<option value={sizeOf(known)}
							>{sentence(known.name)}, {sizeOf(known)}</option
						>{/each}
				</select>
			</label>
		{/if}
		<p class="text-xs text-muted">A square of the grid is {isWorld ? '1 m' : '100 px'} wide.</p>
	</fieldset>
</Popover>
