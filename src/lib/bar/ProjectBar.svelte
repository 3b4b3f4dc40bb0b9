<script lang="ts">
	import BookOpen from '@lucide/svelte/icons/book-open';
	import CircleQuestionMark from '@lucide/svelte/icons/circle-question-mark';
	import History from '@lucide/svelte/icons/history';
	import Moon from '@lucide/svelte/icons/moon';
	import Pin from '@lucide/svelte/icons/pin';
	import Search from '@lucide/svelte/icons/search';
	import Redo2 from '@lucide/svelte/icons/redo-2';
	import Undo2 from '@lucide/svelte/icons/undo-2';
	import { page } from '$app/state';
	import type { Command } from '$lib/ui/command';
	import { useSession } from '$lib/session/session.svelte';
	import { theme } from '$lib/ui/theme.svelte';
	import ClipMenu from './ClipMenu.svelte';
	import GuideBeside from './GuideBeside.svelte';
	import Wordmark from '$lib/ui/Wordmark.svelte';

	/** With the commands of Compose, its clips can be changed and its sheets opened; where there is a finder, it can be. */
	let {
		commands,
		hasFinder = commands !== undefined,
	}: { commands?: readonly Command[]; hasFinder?: boolean } = $props();
	const session = useSession();
	const { saver } = session;
	const base = $derived(`/p/${session.project.id}`);
	const rooms = $derived([
		{ name: 'Compose', href: `${base}/compose/${session.clipId ?? session.project.clips[0]?.id ?? ''}` },
		{ name: 'Rehearse', href: `${base}/rehearse` },
		{ name: 'Ship', href: `${base}/ship` },
	]);
	const savedWord = $derived.by(() => {
		switch (saver.state) {
			case 'saving':
				return 'saving …';
			case 'away':
				return saver.away && saver.away.status > 0
					? `${saver.away.title}: edits kept here`
					: 'server away, edits kept here';
			default:
				return saver.savedAt ? `saved ${saver.savedAt.toTimeString().slice(0, 5)}` : 'saved';
		}
	});
</script>

<header class="flex min-h-11 shrink-0 flex-wrap items-center gap-x-3 border-b border-rule bg-paper px-3">
	<Wordmark />
	<span class="hidden max-w-[160px] truncate text-muted md:inline" title={session.doc.project.name}
		>{session.doc.project.name}</span
	>
	{#if commands}
		<ClipMenu {commands} />
	{/if}
	<nav class="mx-auto flex h-11" aria-label="rooms">
		{#each rooms as room (room.name)}
			{@const here = page.url.pathname.startsWith(`${base}/${room.name.toLowerCase()}`)}
			<a
				href={room.href}
				data-room={room.name}
				class="flex h-full items-center border-b-[3px] px-3 {here
					? 'border-moss font-bold'
					: 'border-transparent text-muted hover:text-ink'}"
				aria-current={here ? 'page' : undefined}>{room.name}</a
			>
		{/each}
	</nav>
	<span
		class={saver.state === 'saved'
			? 'text-moss'
			: saver.state === 'saving'
				? 'text-muted'
				: 'font-semibold text-rust'}
		role="status"
		title={saver.away?.detail}
		data-save-state={saver.state}>{savedWord}</span
	>
	{#if saver.conflicts.length > 0}
		<button type="button" class="btn font-semibold text-rust" onclick={() => (session.asks.conflicts = true)}
			>{saver.conflicts.length} not saved</button
		>
	{/if}
	<span class="flex flex-wrap">
		<button
			type="button"
			class="btn btn-square btn-plain"
			aria-label={saver.undo ? `undo ${saver.undo}` : 'undo'}
			title={saver.undo ? `Undo: ${saver.undo} (Ctrl+Z)` : 'Nothing to undo'}
			disabled={saver.undo === null}
			onclick={() => session.project.undo()}><Undo2 size={16} /></button
		>
		<button
			type="button"
			class="btn btn-square btn-plain"
			aria-label={saver.redo ? `redo ${saver.redo}` : 'redo'}
			title={saver.redo ? `Redo: ${saver.redo} (Ctrl+Shift+Z)` : 'Nothing to redo'}
			disabled={saver.redo === null}
			onclick={() => session.project.redo()}><Redo2 size={16} /></button
		>
		{#if commands}
			<button
				type="button"
				class="btn btn-square btn-plain"
				aria-label="versions"
				title="Versions: what was done, to be pinned, named or restored (V)"
				onclick={() => (session.asks.sheet = 'versions')}><History size={16} /></button
			>
			<button
				type="button"
				class="btn btn-square btn-plain {session.pinnedClip ? '!text-lake' : ''}"
				aria-label="pin the clip"
				aria-pressed={session.pinnedClip !== null}
				title={session.pinnedClip
					? 'Unpin the version that is compared (P)'
					: 'Pin the clip as it is, to compare what comes with it (P)'}
				disabled={!session.clip}
				onclick={() => session.togglePin()}
				><Pin size={16} fill={session.pinnedClip ? 'currentColor' : 'none'} /></button
			>
		{/if}
		<button
			type="button"
			class="btn btn-square btn-plain"
			aria-label="light or night"
			title="Light or night"
			onclick={() => theme.toggle()}><Moon size={16} /></button
		>
		{#if hasFinder}
			<button
				type="button"
				class="btn btn-square btn-plain"
				aria-label="find anything"
				title="Find anything (Ctrl+K)"
				onclick={() => (session.asks.sheet = 'finder')}><Search size={16} /></button
			>
		{/if}
		<button
			type="button"
			class="btn btn-square btn-plain"
			aria-label="guide"
			aria-pressed={session.asks.guidePage !== null}
			title="Guide: how it is done, page by page (F1)"
			onclick={() => session.asks.toggleGuide()}><BookOpen size={16} /></button
		>
		{#if commands}
			<button
				type="button"
				class="btn btn-square btn-plain"
				aria-label="shortcuts"
				title="Shortcuts (?)"
				onclick={() => (session.asks.sheet = 'help')}><CircleQuestionMark size={16} /></button
			>
		{/if}
	</span>
</header>
<GuideBeside commands={commands ?? []} />
