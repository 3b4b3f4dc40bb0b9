<script lang="ts">
	import { toast } from 'svelte-sonner';
	import { page } from '$app/state';
	import { pageOfRoom } from '$lib/ui/guide-pages';
	import type { Command } from '$lib/ui/command';
	import { useSession } from '$lib/session/session.svelte';

	/** The guide beside the work: its links do what they speak of. */
	let { commands }: { commands: readonly Command[] } = $props();
	const session = useSession();
	const { asks } = session;

	/** Where there is room, the work makes place for it. */
	const LEAST_SCREEN = 1100;
	const WIDTH = 400;
	$effect(() => {
		if (asks.guidePage === null || innerWidth < LEAST_SCREEN) return;
		document.body.style.paddingRight = `${WIDTH}px`;
		return () => (document.body.style.paddingRight = '');
	});

	function tellCannot({ label, group }: Command) {
		const needs = group === 'Parts' ? 'Select a part first' : 'Select keys or a lane first';
		toast(`${needs}: “${label}” acts on it`);
	}
</script>

{#if asks.guidePage !== null}
	<aside
		style:width="{WIDTH}px"
		class="fixed bottom-0 right-0 top-0 z-30 flex max-w-full flex-col border-l border-rule bg-sheet shadow-lg"
		aria-label="guide"
	>
		<!-- Fetched when it is read first: its pages are made of their text then. -->
		{#await import('$lib/ui/GuideReader.svelte') then { default: GuideReader }}
			<GuideReader
				page={asks.guidePage || pageOfRoom(page.url.pathname)}
				onpage={(id) => (asks.guidePage = id)}
				{commands}
				oncannot={tellCannot}
				onclose={() => (asks.guidePage = null)}
			/>
		{/await}
	</aside>
{/if}
