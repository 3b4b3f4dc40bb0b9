<script lang="ts">
	import { onMount } from 'svelte';
	import { goto } from '$app/navigation';
	import { addClip } from '$lib/acts/new-clips';
	import { useSession } from '$lib/session/session.svelte';

	const session = useSession();
	// A project without a clip gets its first one: there is nothing else to do in it.
	onMount(() => {
		const id = session.project.clips[0]?.id ?? addClip(session, 'clip 1');
		void goto(`/p/${session.project.id}/compose/${id}`, { replaceState: true });
	});
</script>

<p class="p-6 text-muted">Opening …</p>
