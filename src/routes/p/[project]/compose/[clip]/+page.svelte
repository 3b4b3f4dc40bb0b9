<script lang="ts">
	import { onMount, type Component, type ComponentProps, type Snippet } from 'svelte';
	import PanelLeft from '@lucide/svelte/icons/panel-left';
	import PanelRight from '@lucide/svelte/icons/panel-right';
	import PanelTop from '@lucide/svelte/icons/panel-top';
	import { toast } from 'svelte-sonner';
	import type { ArrangementName } from '$lib/session/arrangement.svelte';
	import { PaneGroup, Pane, PaneResizer } from 'paneforge';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import type BenchComponent from '$lib/bench/Bench.svelte';
	import { LaneView } from '$lib/lanes/lane-view.svelte';
	import Lanes from '$lib/lanes/Lanes.svelte';
	import { bindKeys, isTaken } from '$lib/ui/command';
	import { watchPointed } from '$lib/ui/pointed';
	import { typeAhead } from '$lib/ui/typed-ahead';
	import { type CommandTargets } from '$lib/compose/targets';
	import { makeCommands } from '$lib/compose/commands';
	import { pasteText } from '$lib/acts/key-actions';
	import { useSession } from '$lib/session/session.svelte';
	import { shortcuts } from '$lib/compose/shortcuts.svelte';
	import type StageComponent from '$lib/stage/Stage.svelte';
	import Findings from '$lib/compose/Findings.svelte';
	import { canKeep, readKept } from '$lib/ui/kept';
	import { narrow } from '$lib/ui/narrow';
	import NumberField from '$lib/ui/NumberField.svelte';
	import ProjectBar from '$lib/bar/ProjectBar.svelte';
	import type SheetsComponent from '$lib/compose/Sheets.svelte';
	import { theme } from '$lib/ui/theme.svelte';

	const session = useSession();
	const LAYOUTS = [
		{ name: 'balanced', title: 'Balanced layout (7)', icon: PanelRight },
		{ name: 'stage', title: 'Stage large (8)', icon: PanelTop },
		{ name: 'lanes', title: 'Lanes large (9)', icon: PanelLeft },
	] as const;
	const base = `/p/${session.project.id}`;
	const view = new LaneView();
	const { arrangement } = session.view;
	let hint = $state('');
	$effect.pre(() => {
		session.openClip(page.params.clip!);
	});

	const targets: CommandTargets = {
		session,
		view,
		openClip: (id) => void goto(id === null ? base : `${base}/compose/${id}`, { noScroll: true }),
		goTo: (place) => void goto(place === 'projects' ? '/' : `${base}/${place}`),
	};
	const made = makeCommands(targets);
	const commands = $derived(shortcuts.apply(made));
	onMount(() => {
		// Without storage nobody is guided unasked.
		session.asks.guide ||= canKeep() && readKept('guide') === undefined;
		return () => session.transport.stop();
	});
	$effect(watchPointed);
	/** Escape on the bench leads back to the work: what is selected stays. */
	function leaveBench(target: HTMLElement): boolean {
		if (!target.closest('#bench')) return false;
		target.blur();
		return true;
	}
	// Bound anew when a shortcut is changed.
	$effect(() =>
		bindKeys(commands, (event) => event.key === 'Escape' && leaveBench(event.target as HTMLElement)),
	);

	/** Most of the code draws the stage and the bench: fetched beside the room, so that the lanes are there first. */
	let Stage = $state.raw<typeof StageComponent | null>(null);
	let Bench = $state.raw<typeof BenchComponent | null>(null);
	let hasFailed = $state(false);
	onMount(() => {
		const fail = () => (hasFailed = true);
		const soon = requestAnimationFrame(() => {
			import('$lib/bench/Bench.svelte').then((module) => (Bench = module.default), fail);
			import('$lib/stage/Stage.svelte').then((module) => (Stage = module.default), fail);
		});
		return () => cancelAnimationFrame(soon);
	});

	/** What can lie over the room: fetched when the room is there, or asked for. */
	let Sheets = $state.raw<Component<ComponentProps<typeof SheetsComponent>> | null>(null);
	async function fetchSheets() {
		try {
			Sheets ??= (await import('$lib/compose/Sheets.svelte')).default;
		} catch {
			// The server is away: it is tried again when a sheet is asked for.
			if (session.asks.sheet === null) return;
			session.asks.sheet = null;
			toast.error('This cannot be opened while the server is away');
		}
	}
	onMount(() => {
		const later = setTimeout(fetchSheets, 800);
		return () => clearTimeout(later);
	});
	$effect(() => {
		if (session.asks.sheet !== null || session.asks.guide) void fetchSheets();
	});
	$effect(() => {
		if (session.asks.sheet !== null) return typeAhead(() => (session.asks.sheet = null));
	});

	const counted = (count: number, one: string) => `${count} ${one}${count === 1 ? '' : 's'}`;
	const picked = $derived.by(() => {
		const { count, keys, channels, part } = session.selection;
		if (count > 0) return `${counted(count, 'key')} on ${counted(keys.size, 'lane')}`;
		return channels.length > 1 ? counted(channels.length, 'lane') : (part?.name ?? 'Nothing selected');
	});
</script>

<svelte:window
	onpaste={(event) => {
		if (isTaken(event)) return;
		event.preventDefault();
		void pasteText(session, event.clipboardData?.getData('text/plain') ?? '');
	}}
/>
<svelte:head
	><title>{session.clip?.name ?? 'Compose'} · {session.doc.project.name} · Hillock</title></svelte:head
>

{#snippet lanes()}
	<Lanes {view} {commands} theme={theme.value} onhint={(text) => (hint = text)} />
{/snippet}
{#snippet stage()}
	{#if Stage}
		<Stage theme={theme.value} onhint={(text) => (hint = text)} />
	{:else if hasFailed}
		<p class="p-4 text-muted" role="alert">Part of this page could not be loaded: load it again.</p>
	{/if}
{/snippet}
{#snippet bench()}
	{#if Bench}<Bench />{/if}
{/snippet}
{#snippet lanesOverBench()}
	{@render down('balanced', 58, lanes, bench)}
{/snippet}
{#snippet lanesBesideBench()}
	{@render across('stage', 56, lanes, bench)}
{/snippet}
{#snippet stageOverBench()}
	{@render down('lanes', 46, stage, bench)}
{/snippet}
<!-- Large enough for a finger, in the middle of a line that takes no room from the panes. -->
{#snippet grip()}
	<span class="divider-grip"></span>
{/snippet}
{#snippet across(name: ArrangementName, share: number, left: Snippet, right: Snippet)}
	<PaneGroup direction="horizontal" autoSaveId="hillock-{name}-across">
		<Pane defaultSize={share} minSize={24}>{@render left()}</Pane>
		<PaneResizer class="divider divider-across" aria-label="width of the left side">
			{@render grip()}
		</PaneResizer>
		<Pane defaultSize={100 - share} minSize={24}>{@render right()}</Pane>
	</PaneGroup>
{/snippet}
{#snippet down(name: ArrangementName, share: number, upper: Snippet, lower: Snippet)}
	<PaneGroup direction="vertical" autoSaveId="hillock-{name}-down">
		<Pane defaultSize={share} minSize={15}>{@render upper()}</Pane>
		<PaneResizer class="divider divider-down" aria-label="height of the upper side">
			{@render grip()}
		</PaneResizer>
		<Pane defaultSize={100 - share} minSize={15}>{@render lower()}</Pane>
	</PaneGroup>
{/snippet}

<!-- A drag that leaves its place must not mark texts. -->
<div class="flex h-dvh min-h-[480px] select-none flex-col max-md:min-h-[700px]">
	<ProjectBar {commands} />
	{#if session.clip}
		<main class="min-h-0 flex-1">
			<h1 class="sr-only">{session.doc.project.name}: {session.clip?.name ?? 'no clip'}</h1>
			<!-- Each arrangement keeps the sizes that it was given. -->
			{#if narrow.current}
				<PaneGroup direction="vertical" autoSaveId="hillock-narrow">
					<Pane defaultSize={34} minSize={15}>{@render stage()}</Pane>
					<PaneResizer class="divider divider-down" aria-label="height of the stage">
						{@render grip()}
					</PaneResizer>
					<Pane defaultSize={40} minSize={15}>{@render lanes()}</Pane>
					<PaneResizer class="divider divider-down" aria-label="height of the lanes">
						{@render grip()}
					</PaneResizer>
					<Pane defaultSize={26} minSize={10}>{@render bench()}</Pane>
				</PaneGroup>
			{:else if arrangement.name === 'balanced'}
				{@render across('balanced', 56, lanesOverBench, stage)}
			{:else if arrangement.name === 'stage'}
				{@render down('stage', 64, stage, lanesBesideBench)}
			{:else}
				{@render across('lanes', 64, lanes, stageOverBench)}
			{/if}
		</main>
	{:else}
		<main class="flex-1 p-6 text-muted">
			<h1 class="sr-only">{session.doc.project.name}</h1>
			<p>This clip is not here: it may have been deleted. Choose another one above, or undo.</p>
		</main>
	{/if}
	<footer
		class="flex min-h-[28px] shrink-0 flex-wrap items-center gap-x-4 border-t border-rule bg-paper px-3 text-muted"
	>
		<Findings />
		<span class="max-w-[300px] min-w-[100px] truncate text-ink max-md:flex-1 md:min-w-[140px]" data-picked
			>{picked}</span
		>
		{#if session.pinnedClip}
			<span class="flex items-center gap-1 text-ink">
				Pinned
				<button type="button" class="btn !min-h-[24px]" onclick={() => session.swapPinned()}>Swap</button>
				<button type="button" class="btn !min-h-[24px]" onclick={() => session.togglePin()}>Unpin</button>
			</span>
		{/if}
		<span class="hidden min-w-0 flex-1 truncate text-center md:inline">{hint}</span>
		<span class="flex items-center gap-2 font-mono text-xs">
			{#if session.transport.playing}<span title="fps as drawn, measured"
					>{Math.round(session.transport.measuredRate)} shown/s</span
				>{/if}
			<span class="hidden md:flex" role="group" aria-label="layout">
				{#each LAYOUTS as { name, title, icon: Icon } (name)}
					<button
						type="button"
						class="target rounded {arrangement.name === name ? 'text-moss' : 'hover:text-ink'}"
						aria-label={title}
						{title}
						aria-pressed={arrangement.name === name}
						onclick={() => arrangement.choose(name)}><Icon size={15} /></button
					>
				{/each}
			</span>
			<span>{session.frameRate} fps</span>
			<label class="flex items-center gap-1">
				<span>Preview</span>
				<NumberField
					label="preview speed in percent"
					value={session.transport.speed * 100}
					unit=" %"
					digits={0}
					min={10}
					max={400}
					step={5}
					class="w-[58px] !min-h-[24px] !px-1"
					oncommit={(v) => (session.transport.speed = v / 100)}
					onpreview={(v) => (session.transport.speed = v / 100)}
				/>
			</label>
		</span>
	</footer>
</div>

{#if Sheets}
	<Sheets {commands} {made} onclip={targets.openClip} />
{/if}
