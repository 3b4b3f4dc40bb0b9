<script lang="ts">
	import { shownKeys, type Command } from '$lib/ui/command';
	import { pressed, shortcuts } from './shortcuts.svelte';
	import Sheet from '$lib/ui/Sheet.svelte';

	/** All shortcuts; a click on one waits for the keys that it is to have. */
	let { open = $bindable(false), commands }: { open: boolean; commands: readonly Command[] } = $props();
	let words = $state('');
	const shown = $derived(
		shortcuts
			.apply(commands)
			.filter(({ label, shown: keys }) =>
				`${label} ${keys}`.toLowerCase().includes(words.trim().toLowerCase()),
			),
	);
	const groups = $derived([...new Set(shown.map((command) => command.group))]);
	let waiting = $state<string | null>(null);
	/** Keys that another command has: asked before they are taken from it. */
	let clash = $state<{ id: string; keys: string; others: string } | null>(null);
	const isChanged = $derived(Object.keys(shortcuts.changed).length > 0);

	$effect(() => {
		if (open) return;
		waiting = clash = null;
		words = '';
	});

	function onkeydown(event: KeyboardEvent) {
		if (waiting === null) return;
		event.preventDefault();
		event.stopPropagation();
		if (event.key === 'Escape') {
			waiting = null;
			return;
		}
		const keys = event.key === 'Backspace' ? '' : pressed(event);
		if (keys === null) return;
		const id = waiting;
		waiting = null;
		const others = keys === '' ? [] : shortcuts.clashes(commands, id, keys);
		if (others.length > 0) clash = { id, keys, others: others.map((other) => other.label).join(', ') };
		else shortcuts.set(commands, id, keys);
	}
	const POINTER = [
		['drag a key', 'move it'],
		['Shift while dragging', 'hold one axis'],
		['Ctrl while dragging', 'no snapping'],
		['drag a span up or down', 'bend it'],
		['double-click a lane', 'new key'],
		['double-click a part', 'rename it'],
		['Shift on a part', 'its keys too'],
		['Shift on a lane', 'all lanes between, too'],
		['Ctrl on a lane', 'that lane more or less'],
		['drag on the ground', 'select keys'],
		['Ctrl+wheel', 'zoom time'],
		['Shift+wheel', 'move in time'],
		['Alt+wheel', 'zoom values'],
		['Shift on the ruler', 'a range to play'],
		['Alt on the ruler', 'put time in, or take it out'],
	] as const;
</script>

<svelte:window onkeydowncapture={onkeydown} />

<Sheet
	bind:open
	title="Shortcuts"
	about="Click one to change it, then press the new keys; Backspace removes them."
	width="w-[820px]"
	closing="Close"
	staysOnEscape={waiting !== null}
>
	<input
		class="field mt-2 w-full"
		type="search"
		placeholder="find a command or its keys"
		aria-label="find a shortcut"
		bind:value={words}
	/>
	{#if clash}
		<p class="mt-2 flex items-center gap-2 rounded-md border border-rust px-3 py-2" role="alert">
			<span class="min-w-0 flex-1"
				><kbd class="shortcut">{shownKeys(clash.keys)}</kbd> belongs to: {clash.others}.</span
			>
			<button
				type="button"
				class="btn"
				onclick={() => {
					if (clash) shortcuts.set(commands, clash.id, clash.keys);
					clash = null;
				}}>Use it here</button
			>
			<button type="button" class="btn" onclick={() => (clash = null)}>Cancel</button>
		</p>
	{/if}
	<div class="mt-3 min-h-[300px] columns-2 gap-8">
		{#each groups as group (group)}
			<section class="mb-4">
				<h3 class="sheet-title mb-1">{group}</h3>
				<ul>
					{#each shown.filter((command) => command.group === group) as command (command.id)}
						<li class="flex justify-between gap-4 border-b border-rule py-0.5">
							<span>{command.label}</span>
							<button
								type="button"
								class="shortcut min-h-[24px] min-w-[24px] rounded px-1 hover:bg-band {waiting === command.id
									? 'bg-band text-rust'
									: ''}"
								aria-label="{command.shown || 'none'}: change the shortcut of {command.label}"
								onclick={() => (waiting = command.id)}
								>{waiting === command.id ? 'press keys …' : command.shown || 'none'}</button
							>
						</li>
					{/each}
				</ul>
			</section>
		{/each}
		<section class="mb-4 break-inside-avoid" hidden={words.trim() !== ''}>
			<h3 class="sheet-title mb-1">Pointer</h3>
			<ul>
				{#each POINTER as [what, does] (what)}
					<li class="flex justify-between gap-4 border-b border-rule py-0.5">
						<span>{what}</span><span class="text-muted">{does}</span>
					</li>
				{/each}
			</ul>
		</section>
	</div>
	{#snippet aside()}
		{#if isChanged}<button type="button" class="btn" onclick={() => shortcuts.reset()}>Reset all</button>{/if}
	{/snippet}
</Sheet>
