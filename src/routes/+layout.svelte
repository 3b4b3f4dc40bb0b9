<script lang="ts">
	import '../app.css';
	import { onMount } from 'svelte';
	import { Toaster } from 'svelte-sonner';
	import { theme } from '$lib/ui/theme.svelte';

	let { children } = $props();
	onMount(() => theme.start());
</script>

{@render children()}
<Toaster
	position="bottom-left"
	offset={{ left: 252, bottom: 40 }}
	closeButton
	theme={theme.value === 'night' ? 'dark' : theme.value === 'light' ? 'light' : 'system'}
/>
