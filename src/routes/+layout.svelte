<script lang="ts">
	import '../app.css';
	import { BitsConfig } from 'bits-ui';
	import { onMount } from 'svelte';
	import { Toaster } from 'svelte-sonner';
	import { theme } from '$lib/ui/theme.svelte';

	let { children } = $props();
	onMount(() => theme.start());
</script>

<BitsConfig defaultPortalTo="#over">
	{@render children()}
	<!-- What opens over the page is still somewhere on it. -->
	<aside id="over" aria-label="opened"></aside>
</BitsConfig>
<Toaster
	position="bottom-left"
	offset={{ left: 278, bottom: 40 }}
	closeButton
	theme={theme.value === 'night' ? 'dark' : theme.value === 'light' ? 'light' : 'system'}
/>
