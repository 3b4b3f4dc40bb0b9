<script lang="ts">
	import { useSession } from '$lib/session/session.svelte';
	import ShipChoices from '$lib/ship/ShipChoices.svelte';
	import ShipReport from '$lib/ship/ShipReport.svelte';
	import FilmResult from '$lib/ship/film/FilmResult.svelte';
	import { ShipState } from '$lib/ship/ship-state.svelte';
	import type { Place } from '$lib/acts/room-commands';
	import { shipCommands } from '$lib/ship/ship-commands';
	import Finder from '$lib/bar/Finder.svelte';
	import ProjectBar from '$lib/bar/ProjectBar.svelte';
	import { bindKeys } from '$lib/ui/command';
	import { onMount } from 'svelte';
	import { goto } from '$app/navigation';

	const session = useSession();
	const ship = new ShipState(session);
	const base = $derived(`/p/${session.project.id}`);
	const openClip = (id: string) => void goto(`${base}/compose/${id}`);
	const commands = $derived(shipCommands(session, ship, goTo));
	function goTo(place: Place) {
		if (place === 'projects') void goto('/');
		else if (place === 'rehearse') void goto(`${base}/rehearse`);
		else openClip(session.clipId ?? session.project.clips[0]?.id ?? '');
	}
	onMount(() => bindKeys(commands));
	onMount(() => () => ship.close());
	/** Shows a moment of a clip in Compose. */
	function openAt(clip: string, ticks: number) {
		session.openClip(clip);
		session.transport.seek(ticks);
		openClip(clip);
	}
</script>

<svelte:head><title>Ship · {session.doc.project.name} · Hillock</title></svelte:head>

<div class="flex h-dvh flex-col">
	<ProjectBar hasFinder />
	<main class="min-h-0 flex-1 overflow-y-auto md:grid md:grid-cols-[320px_1fr] md:overflow-visible">
		<h1 class="sr-only">Ship {session.doc.project.name}</h1>
		<ShipChoices {ship} />
		<section class="min-h-0 p-4 md:overflow-y-auto" aria-label="what was written">
			{#if ship.isFilm}
				<FilmResult film={ship.film} />
			{:else if ship.result}
				<ShipReport {ship} result={ship.result} onmoment={openAt} />
			{:else}
				<div class="flex h-full flex-col items-center justify-center gap-1 text-center text-muted">
					<p class="text-base font-semibold text-ink">Nothing exported yet</p>
					<p class="max-w-[440px]">
						Choose the clips and how far the curves may be off. The file is read back by a reader of its own
						and measured against what you see in Compose.
					</p>
				</div>
			{/if}
		</section>
	</main>
</div>

<Finder
	bind:open={() => session.asks.sheet === 'finder', (open) => (session.asks.sheet = open ? 'finder' : null)}
	{commands}
	onclip={openClip}
	hasParts={false}
/>
