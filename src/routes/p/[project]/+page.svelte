<script lang="ts">
	import { onMount } from 'svelte';
	import { goto } from '$app/navigation';
	import { addClip } from '$lib/session/new-things';
	import { useSession } from '$lib/session/session.svelte';

	const session = useSession();
	// A project without a clip gets its first one: there is nothing else to do in it.
	onMount(() => {
		const id = session.clips[0]?.id ?? addClip(session, 'clip 1');
		void goto(`/p/${session.projectId}/compose/${id}`, { replaceState: true });
	});
</script>

<p class="p-6 text-muted">Opening …</p>
