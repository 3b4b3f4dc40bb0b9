<script lang="ts">
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import GuideReader from '$lib/ui/GuideReader.svelte';
	import Wordmark from '$lib/ui/Wordmark.svelte';
	import { FIRST_PAGE } from '$lib/ui/guide-pages';

	const here = $derived(page.params.page ?? FIRST_PAGE);
</script>

<svelte:head><title>Guide / Hillock</title></svelte:head>
<header class="flex min-h-11 shrink-0 items-center gap-3 border-b border-rule bg-paper px-3">
	<Wordmark />
	<span class="flex-1"></span>
	<a class="btn" href="/">All projects</a>
</header>
<main class="mx-auto flex h-[calc(100vh-44px)] w-full max-w-[820px] flex-col bg-sheet">
	<GuideReader page={here} onpage={(id) => void goto(`/guide/${id}`)} />
</main>
