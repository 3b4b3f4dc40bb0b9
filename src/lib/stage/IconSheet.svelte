<script lang="ts">
	import { placedPath, shapePath } from '$core/drawing/svg-shapes';
	import { addLinePart } from '$lib/acts/new-parts';
	import { useSession } from '$lib/session/session.svelte';
	import { VList } from 'virtua/svelte';
	import Sheet from '$lib/ui/Sheet.svelte';

	/** Icons to make a part of: their lines can be trimmed, coloured and moved as any others. */
	let { open = $bindable() }: { open: boolean } = $props();
	const session = useSession();

	interface Icon {
		name: string;
		/** Tags and attributes of its shapes. */
		nodes: readonly (readonly [string, Record<string, string | number | undefined>])[];
	}
	/** The grid that the icons are drawn on, and the width of their lines there. */
	const GRID = 24;
	const LINE = 2;
	/** Icons a row, and its height. */
	const ACROSS = 8;
	const ROW = 62;

	let icons = $state.raw<Icon[] | null>(null);
	let failed = $state(false);
	let search = $state('');

	const spoken = (name: string) => name.replace(/([a-z])(?=[A-Z0-9])/g, '$1 ').toLowerCase();

	$effect(() => {
		if (!open || icons) return;
		import('lucide')
			.then(({ icons: all }) => {
				const seen = new Set<string>();
				icons = Object.entries(all).flatMap(([name, nodes]) => {
					// Some stand there under several names.
					const text = JSON.stringify(nodes);
					if (seen.has(text)) return [];
					seen.add(text);
					return [{ name: spoken(name), nodes }];
				});
			})
			.catch(() => (failed = true));
	});

	const words = $derived(search.trim().toLowerCase().split(/\s+/));
	const found = $derived((icons ?? []).filter(({ name }) => words.every((word) => name.includes(word))));

	const rows = $derived(
		Array.from({ length: Math.ceil(found.length / ACROSS) }, (_, i) =>
			found.slice(i * ACROSS, (i + 1) * ACROSS),
		),
	);

	/** One path of all shapes: each made absolute by itself, since the next would go on from where it ends. */
	function pathOf({ nodes }: Icon, x = 0, y = 0, scale = 1): string {
		return nodes
			.map(([tag, attributes]) => shapePath(tag, attributes))
			.filter((d) => d !== '')
			.map((d) => placedPath(d, x, y, scale))
			.join(' ');
	}

	function choose(icon: Icon) {
		const size = session.doc.project.space === 'interface' ? 48 : 1;
		const scale = size / GRID;
		addLinePart(session, icon.name, pathOf(icon, -GRID / 2, -GRID / 2, scale), LINE * scale);
		open = false;
	}
</script>

<Sheet
	bind:open
	title="Icon"
	about="Becomes a part of lines, whose width, colour and trim can have keys."
	width="w-[560px]"
	closing="Close"
>
	<input
		type="search"
		class="field mt-3"
		placeholder="anchor, mail, bell …"
		aria-label="find an icon"
		bind:value={search}
		onkeydown={(event) => {
			if (event.key !== 'Enter' || search.trim() === '' || found.length === 0) return;
			// Else it would press the button that has the focus when the sheet is gone.
			event.preventDefault();
			choose(found[0]);
		}}
	/>
	<div class="mt-2 min-h-[200px]">
		{#if failed}
			<p class="p-3 text-rust">
				The icons could not be loaded. Is the server there? Close this and try again.
			</p>
		{:else if icons === null}
			<p class="p-3 text-muted">Loading …</p>
		{:else}
			<VList
				data={rows}
				itemSize={ROW}
				style="height: min({Math.max(1, rows.length) * ROW}px, 56vh)"
				role="group"
				aria-label="icons"
			>
				{#snippet children(row)}
					<div class="grid grid-cols-8 gap-1" style:height="{ROW}px">
						{#each row as icon (icon.name)}
							<button
								type="button"
								class="flex w-full flex-col items-center gap-1 rounded-md border border-transparent p-1.5 hover:border-rule hover:bg-sheet focus-visible:border-moss"
								title={icon.name}
								onclick={() => choose(icon)}
							>
								<svg
									viewBox="0 0 {GRID} {GRID}"
									class="size-[24px]"
									fill="none"
									stroke="currentColor"
									stroke-width={LINE}
									stroke-linecap="round"
									stroke-linejoin="round"
									aria-hidden="true"><path d={pathOf(icon)} /></svg
								>
								<span class="w-full truncate text-center text-[11px] text-muted">{icon.name}</span>
							</button>
						{/each}
					</div>
				{/snippet}
			</VList>
			<p class="p-1 text-xs text-muted" role="status">
				{found.length === 0 ? 'No results.' : `${found.length} found`}
			</p>
		{/if}
	</div>
</Sheet>
