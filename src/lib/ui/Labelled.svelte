<script lang="ts">
	import type { Snippet } from 'svelte';
	import { sentence } from './sentence';

	/** A field with a word before it. */
	let { text, children }: { text: string; children: Snippet } = $props();
</script>

<label class="flex items-center gap-1.5">
	<span class="text-muted">{sentence(text)}</span>
	{@render children()}
</label>
