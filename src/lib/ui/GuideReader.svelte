<script lang="ts">
	import ArrowLeft from '@lucide/svelte/icons/arrow-left';
	import ArrowRight from '@lucide/svelte/icons/arrow-right';
	import X from '@lucide/svelte/icons/x';
	import type { Command } from './command';
	import { GUIDE_PAGES } from './guide-pages';
	import { findPages, GUIDE } from './guide-text';

	interface Props {
		page: string;
		onpage: (id: string) => void;
		/** What links do; without any, they are words. */
		commands?: readonly Command[];
		/** Told of a command that has nothing to act on now. */
		oncannot?: (command: Command) => void;
		onclose?: () => void;
	}
	/** A page of the guide, with the ways to the others. */
	let { page, onpage, commands = [], oncannot, onclose }: Props = $props();

	let search = $state('');
	let content = $state<HTMLElement>();
	const at = $derived(Math.max(0, (GUIDE_PAGES as readonly string[]).indexOf(page)));
	const shown = $derived(GUIDE[at]);
	const found = $derived(search.trim() === '' ? null : findPages(search));

	function go(id: string) {
		search = '';
		onpage(id);
		content?.scrollTo(0, 0);
	}
	function follow(event: MouseEvent) {
		const { dataset } = (event.target as Element).closest<HTMLElement>('[data-command], [data-page]') ?? {};
		if (dataset?.page) go(dataset.page);
		const command = commands.find(({ id }) => id === dataset?.command);
		if (!command) return;
		if (command.can()) command.run();
		else oncannot?.(command);
	}
</script>

<div class="flex shrink-0 items-center gap-1 border-b border-rule px-3 py-1.5">
	<strong>Guide</strong>
	<input
		type="search"
		class="field ml-2 min-w-0 flex-1"
		placeholder="Find in the guide"
		aria-label="find in the guide"
		bind:value={search}
	/>
	<button
		type="button"
		class="btn btn-square btn-plain"
		aria-label="page before"
		title={at > 0 ? GUIDE[at - 1].title : undefined}
		disabled={at === 0}
		onclick={() => go(GUIDE[at - 1].id)}><ArrowLeft size={16} /></button
	>
	<button
		type="button"
		class="btn btn-square btn-plain"
		aria-label="page after"
		title={at < GUIDE.length - 1 ? GUIDE[at + 1].title : undefined}
		disabled={at === GUIDE.length - 1}
		onclick={() => go(GUIDE[at + 1].id)}><ArrowRight size={16} /></button
	>
	{#if onclose}
		<button
			type="button"
			class="btn btn-square btn-plain"
			aria-label="close the guide"
			title="Close (F1)"
			onclick={onclose}><X size={16} /></button
		>
	{/if}
</div>
<nav class="flex shrink-0 flex-wrap gap-x-2 border-b border-rule px-3 py-1" aria-label="pages of the guide">
	{#each GUIDE as { id, title } (id)}
		<button
			type="button"
			class="min-h-[24px] {id === shown.id
				? 'font-bold underline decoration-moss decoration-2 underline-offset-4'
				: 'text-muted hover:text-ink'}"
			aria-current={id === shown.id ? 'page' : undefined}
			onclick={() => go(id)}>{title}</button
		>
	{/each}
</nav>
{#if found}
	<div class="min-h-0 flex-1 overflow-y-auto px-4 py-2">
		{#each found as { id, title, text } (id)}
			{@const line = text.split('\n').find((own) => own.toLowerCase().includes(search.trim().toLowerCase()))}
			<button
				type="button"
				class="block w-full border-b border-rule py-2 text-left hover:text-moss"
				onclick={() => go(id)}
				><strong>{title}</strong>
				{#if line && !line.startsWith('#')}<span class="block text-muted"
						>{line.replace(/^(-|\d\.) |[*[\]`]|\(command:[^)]*\)/g, '')}</span
					>{/if}</button
			>
		{:else}
			<p class="text-muted">No results for “{search}”.</p>
		{/each}
	</div>
{:else}
	<!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_noninteractive_element_interactions -->
	<article
		class="guide-page {commands.length > 0 ? 'guide-live' : ''} min-h-0 flex-1 overflow-y-auto px-4 py-3"
		bind:this={content}
		onclick={follow}
	>
		<h1>{shown.title}</h1>
		<!-- eslint-disable-next-line svelte/no-at-html-tags -- of this repository's own docs/guide -->
		{@html shown.html}
	</article>
{/if}
