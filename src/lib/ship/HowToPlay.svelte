<script lang="ts">
	import ClipboardCopy from '@lucide/svelte/icons/clipboard-copy';
	import type { ShippingFormat } from '$core/formats/registry';
	import { copyText } from './ship-commands';

	/** What a file is played by, and the lines that set a clip of it going. */
	let { format, fileName, clip }: { format: ShippingFormat; fileName: string; clip: string } = $props();
	const { usage = [], playedBy = [] } = $derived(format.ships);
</script>

{#if usage.length + playedBy.length > 0}
	<details class="mb-3 rounded-md border border-rule px-3 py-1.5">
		<summary class="cursor-pointer font-semibold">How to play it</summary>
		{#if playedBy.length > 0}
			<p class="mt-1 flex flex-wrap items-baseline gap-x-4 gap-y-1">
				{#each playedBy as { path, says } (path)}
					<span
						><a class="text-moss underline" href={path} download>{path.split('/').at(-1)}</a>
						<span class="text-muted">{says}</span></span
					>
				{/each}
			</p>
		{/if}
		{#each usage as { who, lines } (who)}
			{@const text = lines(fileName, clip)}
			<div class="mt-2 flex items-start gap-1 rounded-md border border-rule bg-sheet p-2">
				<div class="min-w-0 flex-1">
					<p class="text-muted">in {who}</p>
					<pre class="overflow-x-auto font-mono text-xs select-text" aria-label="lines for {who}">{text}</pre>
				</div>
				<button
					type="button"
					class="btn btn-square btn-plain !min-h-[24px] !w-[24px]"
					aria-label="copy the lines for {who}"
					onclick={() => copyText(text)}><ClipboardCopy size={13} /></button
				>
			</div>
		{/each}
	</details>
{/if}
