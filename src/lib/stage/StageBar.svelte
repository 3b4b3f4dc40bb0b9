<script lang="ts">
	import { tick } from 'svelte';
	import Maximize from '@lucide/svelte/icons/maximize';
	import ScanSearch from '@lucide/svelte/icons/scan-search';
	import { useSession } from '$lib/session/session.svelte';
	import FrameField from '$lib/session/FrameField.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import { updateProject } from '$core/edits/clips';
	import { screenName, SCREENS, type Screen } from './screens';
	import { AXES_OF, type ViewName } from '$lib/session/stage-look.svelte';
	import StageToggle from './StageToggle.svelte';

	/** Where the stage is looked at from, and what is shown on it. `camera` is the name of the one to look through. */
	let { camera }: { camera: string | null } = $props();
	const session = useSession();
	const { look } = session.view;
	const isWorld = $derived(session.doc.project.space === 'world');
	const views = $derived<ViewName[]>([
		'perspective',
		'front',
		'side',
		'top',
		...(camera !== null ? (['camera'] as const) : []),
	]);
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
	const parent = $derived(
		session.selection.part?.parent ? session.doc.parts[session.selection.part.parent] : undefined,
	);
</script>

<div
	class="pointer-events-none absolute inset-x-2 top-2 flex flex-wrap items-center justify-between gap-x-3 gap-y-1 *:pointer-events-auto"
>
	<div class="flex gap-1" role="group" aria-label="view">
		{#if isWorld}
			{#each views as name (name)}
				<StageToggle
					label={name}
					title={name === 'camera'
						? `Through ${camera}; select another camera to look through that`
						: `Look from: ${name}`}
					on={look.view === name}
					onclick={() => (look.view = name)}
				/>
			{/each}
		{/if}
		<button
			type="button"
			class="rounded-md border border-rule bg-paper px-1.5 py-0.5 text-muted"
			aria-label="fit all"
			title="Fit all (Z)"
			onclick={() => look.frame(null)}
		>
			<Maximize size={13} />
		</button>
		<button
			type="button"
			class="rounded-md border border-rule bg-paper px-1.5 py-0.5 text-muted disabled:opacity-40"
			aria-label="fit selection"
			title="Fit selection (Shift+Z)"
			disabled={!session.selection.part || look.view === 'camera'}
			onclick={() => look.frame(session.selection.partId)}
		>
			<ScanSearch size={13} />
		</button>
		{#if !isWorld}
			<select
				class="field !min-h-[22px] max-w-[130px] text-xs"
				aria-label="outline of a screen"
				value={sizeOf(screen)}
				onchange={(event) => setScreen(event.currentTarget.value)}
			>
				<option value="">No screen outline</option>
				{#if screen && screenName(screen) === sizeOf(screen)}<option value={sizeOf(screen)}
						>{sizeOf(screen)}</option
					>{/if}
				{#each SCREENS as known (known.name)}<option value={sizeOf(known)}
						>{known.name}, {sizeOf(known)}</option
					>{/each}
			</select>
		{/if}
	</div>
	<div class="ml-auto flex flex-wrap items-center justify-end gap-1" role="group" aria-label="what is shown">
		<StageToggle
			label="path"
			title="Motion path of the selected part, a dot a frame (Y)"
			on={look.path}
			onclick={() => (look.path = !look.path)}
		/>
		{#if look.path && parent}
			<StageToggle
				label="in parent"
				title="Motion path as {parent.name} sees it, which carries it; else as the world does"
				on={look.pathInParent}
				onclick={() => (look.pathInParent = !look.pathInParent)}
			/>
		{/if}
		<StageToggle
			label="ghosts"
			title="The selected part before and after the playhead (U)"
			on={look.ghosts}
			onclick={() => (look.ghosts = !look.ghosts)}
		/>
		{#if look.ghosts}
			<NumberField
				label="ghosts on each side"
				value={look.ghostCount}
				unit=" ×"
				digits={0}
				min={1}
				max={12}
				class="w-[40px] !min-h-[22px] !px-1"
				onpreview={(v) => (look.ghostCount = Math.round(v))}
				oncommit={(v) => (look.ghostCount = Math.round(v))}
			/>
			<FrameField
				label="frames between ghosts"
				value={look.ghostStep}
				digits={0}
				min={1}
				max={120}
				class="w-[44px] !min-h-[22px] !px-1"
				onpreview={(v) => (look.ghostStep = Math.round(v))}
				oncommit={(v) => (look.ghostStep = Math.round(v))}
			/>
		{/if}
		<StageToggle
			label="rest pose"
			title="The rest pose of the selected part, as an outline"
			on={look.rest}
			onclick={() => (look.rest = !look.rest)}
		/>
		<button
			type="button"
			class="rounded-md border border-rule bg-paper px-2 py-0.5 text-xs text-muted"
			aria-label="axes: {look.axes}, which the arms of the handles follow"
			title="Whose axes the arms follow: the parent's (as in the lanes), the part's own, or the world's"
			onclick={() => (look.axes = AXES_OF[(AXES_OF.indexOf(look.axes) + 1) % AXES_OF.length])}
			>Axes: {look.axes}</button
		>
		<span class="rounded-md border border-rule bg-paper px-2 py-0.5 text-xs text-muted"
			>Grid {isWorld ? '1 m' : '100 px'}</span
		>
	</div>
</div>
