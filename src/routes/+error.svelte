<script lang="ts">
	import { page } from '$app/state';
	import Wordmark from '$lib/ui/Wordmark.svelte';
</script>

<svelte:head><title>Hillock</title></svelte:head>
<main class="mx-auto flex max-w-[480px] flex-col gap-3 px-6 pt-24">
	<Wordmark />
	<h1 class="text-lg font-bold">
		{page.status === 404
			? 'Not here'
			: page.status === 503
				? 'The server does not answer'
				: 'That went wrong'}
	</h1>
	<p>{page.error?.message}</p>
	<p class="flex gap-2">
		<a class="btn" href="/">All projects</a>
		<button type="button" class="btn" onclick={() => location.reload()}>Try again</button>
	</p>
</main>
