<script lang="ts">
	import Maximize from '@lucide/svelte/icons/maximize';
	import ScanSearch from '@lucide/svelte/icons/scan-search';
	import { useSession } from '$lib/session/session.svelte';
	import type { ViewName } from '$lib/session/stage-look.svelte';
	import StageOptions from './StageOptions.svelte';
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
			class="min-h-[24px] rounded-md border border-rule bg-paper px-1.5 text-muted"
			aria-label="fit all"
			title="Fit all (Z)"
			onclick={() => look.frame(null)}
		>
			<Maximize size={13} />
		</button>
		<button
			type="button"
			class="min-h-[24px] rounded-md border border-rule bg-paper px-1.5 text-muted disabled:opacity-40"
			aria-label="fit selection"
			title="Fit selection (Shift+Z)"
			disabled={!session.selection.part || look.view === 'camera'}
			onclick={() => look.frame(session.selection.partId)}
		>
			<ScanSearch size={13} />
		</button>
	</div>
	<div class="ml-auto flex items-center justify-end gap-1" role="group" aria-label="what is shown">
		<StageToggle
			label="path"
			title="Motion path of the selected part, a dot a frame (Y)"
			on={look.path}
			onclick={() => (look.path = !look.path)}
		/>
		<StageToggle
			label="ghosts"
			title="The selected part before and after the playhead (U)"
			on={look.ghosts}
			onclick={() => (look.ghosts = !look.ghosts)}
		/>
		<StageOptions />
	</div>
</div>
