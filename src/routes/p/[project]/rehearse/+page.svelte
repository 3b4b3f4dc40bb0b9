<script lang="ts">
	import Expand from '@lucide/svelte/icons/expand';
	import Pause from '@lucide/svelte/icons/pause';
	import Play from '@lucide/svelte/icons/play';
	import RotateCcw from '@lucide/svelte/icons/rotate-ccw';
	import Shrink from '@lucide/svelte/icons/shrink';
	import StepForward from '@lucide/svelte/icons/step-forward';
	import { onMount } from 'svelte';
	import { goto } from '$app/navigation';
	import Finder from '$lib/bar/Finder.svelte';
	import ProjectBar from '$lib/bar/ProjectBar.svelte';
	import type { Place } from '$lib/acts/room-commands';
	import BlendGrid from '$lib/rehearse/BlendGrid.svelte';
	import Charts from '$lib/rehearse/Charts.svelte';
	import Devices from '$lib/rehearse/Devices.svelte';
	import { keyOf } from '$lib/rehearse/inputs';
	import LogCard from '$lib/rehearse/LogCard.svelte';
	import PhoneAddress from '$lib/rehearse/PhoneAddress.svelte';
	import RehearsalCard from '$lib/rehearse/RehearsalCard.svelte';
	import { rehearseCommands, type Card } from '$lib/rehearse/rehearse-commands';
	import { Trial } from '$lib/rehearse/trial.svelte';
	import RehearseStage from '$lib/rehearse/RehearseStage.svelte';
	import TriggerCard from '$lib/rehearse/TriggerCard.svelte';
	import { useSession } from '$lib/session/session.svelte';
	import { bindKeys, isTaken } from '$lib/ui/command';
	import { watchPointed } from '$lib/ui/pointed';
	import { keep, readKept } from '$lib/ui/kept';
	import { theme } from '$lib/ui/theme.svelte';
	import { writeNumber } from '$lib/ui/number-text';

	const session = useSession();
	const trial = new Trial();
	const base = $derived(`/p/${session.project.id}`);
	const CARDS: readonly { card: Card; word: string }[] = [
		{ card: 'triggers', word: 'Triggers' },
		{ card: 'blends', word: 'Blends' },
		{ card: 'log', word: 'Log' },
		{ card: 'kept', word: 'Rehearsals' },
	];
	let card = $state<Card>('triggers');
	/** Without devices and charts, for the stage to be large. */
	let isLarge = $state(readKept('rehearse-large') === 'yes');
	let isOnPhone = $state(false);
	function toggleLarge() {
		isLarge = !isLarge;
		keep('rehearse-large', isLarge ? 'yes' : 'no');
	}

	const openClip = (id: string) => void goto(`${base}/compose/${id}`);
	function goTo(place: Place) {
		if (place === 'projects') void goto('/');
		else if (place === 'ship') void goto(`${base}/ship`);
		else openClip(session.clipId ?? session.project.clips[0]?.id ?? '');
	}
	const commands = $derived(
		rehearseCommands(session, trial, {
			show: (next) => (card = next),
			toggleLarge,
			openPhone: () => (isOnPhone = true),
			goTo,
		}),
	);

	// A drag is many documents; the one that it ends with counts.
	$effect(() => {
		const { doc } = session;
		if (!session.project.isDragging) trial.makeSoon(doc);
	});
	$effect(() => {
		const stop = bindKeys(commands);
		// After the commands, so that what they have taken is known.
		window.addEventListener('keydown', sendKey);
		return () => {
			stop();
			window.removeEventListener('keydown', sendKey);
		};
	});
	$effect(watchPointed);
	onMount(() => () => trial.destroy());
	/** Every other key goes to the game, unless something on the page wants it. */
	function sendKey(event: KeyboardEvent) {
		if (event.defaultPrevented || event.repeat || event.ctrlKey || event.metaKey || event.altKey) return;
		if (isTaken(event)) return;
		if (event.key === 'Tab' || event.key === 'Escape') return;
		if (trial.send({ kind: 'key', key: keyOf(event) })) event.preventDefault();
	}
	const kib = (bytes: number) => `${writeNumber(bytes / 1024, 1)} KiB`;
</script>

<svelte:head><title>Rehearse · {session.doc.project.name} · Hillock</title></svelte:head>

<div class="flex h-dvh flex-col">
	<ProjectBar hasFinder />
	<main
		class="grid min-h-0 flex-1 grid-cols-1 grid-rows-[minmax(0,1fr)_auto] md:grid-rows-[minmax(0,1fr)] {isLarge
			? 'md:grid-cols-[minmax(0,1fr)_304px]'
			: 'md:grid-cols-[148px_minmax(0,1fr)_304px]'}"
	>
		<h1 class="sr-only">Rehearse {session.doc.project.name}</h1>
		{#if !isLarge}<div class="min-h-0 max-md:order-last max-md:max-h-[38dvh] max-md:overflow-y-auto md:grid">
				<Devices {trial} />
			</div>{/if}
		<div class="flex min-h-0 flex-col">
			<div class="relative min-h-0 flex-1">
				<RehearseStage {trial} theme={theme.value} />
				<div class="absolute left-2 top-2 flex items-center gap-1">
					<button
						type="button"
						class="btn btn-square"
						aria-label={trial.isRunning ? 'pause' : 'run'}
						title={trial.isRunning ? 'Pause' : 'Run'}
						onclick={() => trial.toggle()}
						>{#if trial.isRunning}<Pause size={14} />{:else}<Play size={14} />{/if}</button
					>
					<button
						type="button"
						class="btn btn-square"
						aria-label="one frame on"
						title="One frame on (.)"
						onclick={() => trial.step(session.frameRate)}><StepForward size={14} /></button
					>
					<button
						type="button"
						class="btn btn-square"
						aria-label="start again"
						title="Start again (Shift+Enter)"
						onclick={() => trial.restart()}><RotateCcw size={14} /></button
					>
					<button
						type="button"
						class="btn btn-square"
						aria-label="large stage"
						aria-pressed={isLarge}
						title="Large stage, without devices and charts (8)"
						onclick={toggleLarge}
						>{#if isLarge}<Shrink size={14} />{:else}<Expand size={14} />{/if}</button
					>
					<span class="max-md:hidden"><PhoneAddress bind:open={isOnPhone} /></span>
					<span class="rounded bg-paper/85 px-1.5 font-mono text-xs" data-time>{trial.time.toFixed(2)} s</span
					>
					{#if trial.recorded}
						<span class="rounded bg-rust px-1.5 text-xs font-semibold text-paper" role="status"
							>recording</span
						>
					{:else if trial.replayed}
						<span class="rounded bg-paper/85 px-1.5 text-xs" role="status">replay</span>
					{/if}
					{#if trial.loop}
						<span class="rounded bg-paper/85 px-1.5 text-xs"
							>{trial.loop.pair.from} → {trial.loop.pair.to}, over and over</span
						>
					{/if}
				</div>
				{#if trial.problem}
					<p
						class="absolute inset-x-0 top-12 mx-auto w-fit max-w-[420px] rounded-md border border-rust bg-paper p-3"
						role="alert"
					>
						The clip file could not be made: {trial.problem}
					</p>
				{:else if session.project.clips.length === 0}
					<p
						class="absolute inset-0 m-auto h-fit w-fit rounded-md border border-rule bg-sheet p-4 text-center"
					>
						Nothing to rehearse yet: make a clip in Compose first.
					</p>
				{/if}
				<p
					class="absolute bottom-2 right-2 rounded bg-paper/85 px-1.5 font-mono text-xs text-muted"
					data-file
				>
					{trial.made
						? `clip file ${kib(trial.made.bytes)} · within 0.1 % of each range`
						: session.project.clips.length > 0
							? 'making the clip file …'
							: 'no clip file'}
				</p>
			</div>
			{#if !isLarge}<div class="h-[200px] shrink-0 max-md:hidden">
					<Charts {trial} theme={theme.value} />
				</div>{/if}
		</div>
		<section class="hidden min-h-0 flex-col gap-2 border-l border-rule p-2 md:flex" aria-label="cards">
			<div class="flex gap-1" role="tablist" aria-label="cards">
				{#each CARDS as { card: own, word } (own)}
					<button
						type="button"
						role="tab"
						aria-selected={card === own}
						class="btn flex-1 {card === own ? 'border-moss font-semibold' : ''}"
						onclick={() => (card = own)}>{word}</button
					>
				{/each}
			</div>
			{#if card === 'triggers'}<TriggerCard {trial} />
			{:else if card === 'blends'}<BlendGrid {trial} />
			{:else if card === 'log'}<LogCard {trial} />
			{:else}<RehearsalCard {trial} />{/if}
		</section>
	</main>
</div>

<Finder
	bind:open={() => session.asks.sheet === 'finder', (open) => (session.asks.sheet = open ? 'finder' : null)}
	{commands}
	onclip={openClip}
	hasParts={false}
/>
