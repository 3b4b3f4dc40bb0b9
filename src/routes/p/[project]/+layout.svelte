<script lang="ts">
	import { onMount, untrack } from 'svelte';
	import { toast } from 'svelte-sonner';
	import { followChanges } from '$lib/session/follow';
	import { provideSession, Session } from '$lib/session/session.svelte';

	import ConflictDialog from '$lib/bar/ConflictDialog.svelte';
	import LiveTold from '$lib/bar/LiveTold.svelte';

	let { data, children } = $props();
	const session = provideSession(new Session(...untrack(() => [data.loaded, data.conflicts] as const)));
	onMount(() =>
		followChanges(session.project.id, session.saver.sync, () =>
			toast.error('This project was deleted in another window', {
				description: 'It can be brought back on the page of all projects.',
				duration: Infinity,
			}),
		),
	);
</script>

<svelte:window
	onbeforeunload={(event) => {
		if (session.saver.pending > 0) event.preventDefault();
	}}
/>
{@render children()}
<ConflictDialog />
<LiveTold />
{#if session.asks.guide}
	<!-- It leads from room to room; fetched when it is wanted. -->
	{#await import('$lib/bar/Guide.svelte') then { default: Guide }}<Guide />{/await}
{/if}
