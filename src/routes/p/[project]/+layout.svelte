<script lang="ts">
	import { untrack } from 'svelte';
	import { provideSession, Session } from '$lib/session/session.svelte';

	import ConflictDialog from '$lib/ui/ConflictDialog.svelte';

	let { data, children } = $props();
	const session = provideSession(new Session(...untrack(() => [data.loaded, data.conflicts] as const)));
</script>

<svelte:window
	onbeforeunload={(event) => {
		if (session.saver.pending > 0) event.preventDefault();
	}}
/>
{@render children()}
<ConflictDialog />
