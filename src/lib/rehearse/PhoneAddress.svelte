<script lang="ts">
	import ClipboardCopy from '@lucide/svelte/icons/clipboard-copy';
	import Smartphone from '@lucide/svelte/icons/smartphone';
	import { toast } from 'svelte-sonner';
	import { api } from '$lib/api/client';
	import Popover from '$lib/ui/Popover.svelte';

	/** This room on a phone: its address there, as a code to point a camera at. */
	let { open = $bindable(false) }: { open?: boolean } = $props();
	const COMMAND = 'npm start -- --host 0.0.0.0 --token SECRET';
	/** The code is drawn by what is fetched with it. */
	async function findCodes() {
		const [answer, { qrPath }] = await Promise.all([api.outside(), import('./qr-path')]);
		if (!answer.ok) throw new Error(answer.problem.title);
		return answer.value.addresses.map((address) => {
			const { origin, search } = new URL(address);
			const own = origin + location.pathname + search;
			return { own, shown: origin, ...qrPath(own) };
		});
	}
	let chosen = $state(0);
	async function copy(text: string) {
		try {
			await navigator.clipboard.writeText(text);
			toast.success('Copied');
		} catch {
			toast.error('The browser does not let it be copied: mark it and press Ctrl+C');
		}
	}
</script>

<Popover
	bind:open
	label="on a phone"
	title="Try it on a phone"
	class="btn btn-square"
	contentClass="w-[268px] p-3"
	align="start"
>
	{#snippet trigger()}<Smartphone size={14} />{/snippet}
	{#if open}
		{#await findCodes()}
			<p class="text-muted" role="status">Looking for the address …</p>
		{:then codes}
			{#if codes.length === 0}
				<p>
					Only this machine can open Hillock now. Start it for your network, with a token of your own, to try
					clips on a phone:
				</p>
				<p class="mt-2 flex items-start gap-1 rounded-md border border-rule bg-sheet p-2">
					<code class="min-w-0 flex-1 break-words font-mono text-xs select-text">{COMMAND}</code>
					<button
						type="button"
						class="btn btn-square btn-plain !min-h-[24px] !w-[24px]"
						aria-label="copy the command"
						onclick={() => copy(COMMAND)}><ClipboardCopy size={13} /></button
					>
				</p>
			{:else}
				{@const { own, size, d } = codes[Math.min(chosen, codes.length - 1)]}
				<svg
					viewBox="0 0 {size} {size}"
					class="w-full rounded-md bg-white"
					role="img"
					aria-label="code of {own}"
					shape-rendering="crispEdges"><path {d} fill="#000" /></svg
				>
				{#if codes.length > 1}
					<select class="field mt-2 w-full" aria-label="network" bind:value={chosen}>
						{#each codes as { shown }, i (shown)}<option value={i}>{shown}</option>{/each}
					</select>
				{/if}
				<p class="mt-2 flex items-start gap-1">
					<span class="min-w-0 flex-1 break-all font-mono text-xs select-text" data-phone-address>{own}</span>
					<button
						type="button"
						class="btn btn-square btn-plain !min-h-[24px] !w-[24px]"
						aria-label="copy the address"
						onclick={() => copy(own)}><ClipboardCopy size={13} /></button
					>
				</p>
				<p class="mt-1 text-xs text-muted">Whoever has it can change this project.</p>
			{/if}
		{:catch error}
			<p class="text-rust" role="alert">{error instanceof Error ? error.message : String(error)}</p>
		{/await}
	{/if}
</Popover>
