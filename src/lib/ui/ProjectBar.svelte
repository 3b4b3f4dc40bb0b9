<script lang="ts">
	import { DropdownMenu } from 'bits-ui';
	import ChevronDown from '@lucide/svelte/icons/chevron-down';
	import CircleQuestionMark from '@lucide/svelte/icons/circle-question-mark';
	import Copy from '@lucide/svelte/icons/copy';
	import Download from '@lucide/svelte/icons/download';
	import Moon from '@lucide/svelte/icons/moon';
	import Plus from '@lucide/svelte/icons/plus';
	import Search from '@lucide/svelte/icons/search';
	import Redo2 from '@lucide/svelte/icons/redo-2';
	import Trash from '@lucide/svelte/icons/trash';
	import Undo2 from '@lucide/svelte/icons/undo-2';
	import { toast } from 'svelte-sonner';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { removeClip } from '$core/document/edits/clips';
	import { ticksToFrame, ticksToSeconds } from '$core/time';
	import { addClip, copyClip } from '$lib/session/new-things';
	import { useSession } from '$lib/session/session.svelte';
	import { theme } from '$lib/ui/theme.svelte';
	import { writeNumber } from './number-text';
	import Wordmark from './Wordmark.svelte';

	let {
		onhelp,
		onfind,
		withClip = true,
	}: { onhelp?: () => void; onfind?: () => void; withClip?: boolean } = $props();
	const session = useSession();
	const { saver } = session;
	const base = $derived(`/p/${session.projectId}`);
	const LOOPS = { once: 'once', repeat: 'again and again', alternate: 'there and back' } as const;
	const rooms = $derived([
		{ name: 'Compose', href: `${base}/compose/${session.clipId ?? session.clips[0]?.id ?? ''}` },
		{ name: 'Ship', href: `${base}/ship` },
	]);
	const savedWord = $derived.by(() => {
		switch (saver.state) {
			case 'saving':
				return 'saving …';
			case 'away':
				return 'server away, edits kept here';
			case 'refused':
				return 'not saved';
			default:
				return saver.savedAt ? `saved ${saver.savedAt.toTimeString().slice(0, 5)}` : 'saved';
		}
	});

	function open(id: string) {
		void goto(`${base}/compose/${id}`, { noScroll: true });
	}
	function remove() {
		const { clip } = session;
		if (!clip) return;
		const next = session.clips.find((other) => other.id !== clip.id);
		session.edit(`Delete ${clip.name}`, (doc) => removeClip(doc, clip.id));
		toast(`${clip.name} deleted`, { action: { label: 'Undo', onClick: () => void session.undo() } });
		void goto(next ? `${base}/compose/${next.id}` : base);
	}
</script>

<header class="flex h-11 shrink-0 items-center gap-3 border-b border-rule bg-paper px-3">
	<Wordmark />
	<span class="max-w-[160px] truncate text-muted" title={session.doc.project.name}
		>{session.doc.project.name}</span
	>
	{#if withClip}
		<DropdownMenu.Root>
			<DropdownMenu.Trigger class="btn max-w-[340px]" aria-label="clip">
				<span class="truncate font-semibold">{session.clip?.name ?? 'no clip'}</span>
				{#if session.clip}
					<span class="font-mono text-xs text-muted"
						>{writeNumber(ticksToSeconds(session.clip.length), 2)} s · {writeNumber(
							ticksToFrame(session.clip.length, session.frameRate),
							1,
						)} f · {LOOPS[session.clip.loop.mode]}</span
					>
				{/if}
				<ChevronDown size={14} />
			</DropdownMenu.Trigger>
			<DropdownMenu.Portal>
				<DropdownMenu.Content class="menu min-w-[280px]" align="start">
					{#each session.clips as clip (clip.id)}
						<DropdownMenu.Item
							class="menu-item {clip.id === session.clipId ? 'font-semibold' : ''}"
							onSelect={() => open(clip.id)}
						>
							<span class="truncate">{clip.name}</span>
							<span class="shortcut"
								>{writeNumber(ticksToFrame(clip.length, session.frameRate), 1)} f · {LOOPS[
									clip.loop.mode
								]}</span
							>
						</DropdownMenu.Item>
					{/each}
					<DropdownMenu.Separator class="my-1 border-t border-rule" />
					<DropdownMenu.Item class="menu-item" onSelect={() => open(addClip(session))}
						>New clip <Plus size={14} /></DropdownMenu.Item
					>
					<DropdownMenu.Item
						class="menu-item"
						disabled={!session.clip}
						onSelect={() => session.clip && open(copyClip(session, session.clip))}
						>Duplicate this clip <Copy size={14} /></DropdownMenu.Item
					>
					<DropdownMenu.Item class="menu-item" disabled={!session.clip} onSelect={remove}
						>Delete this clip <Trash size={14} /></DropdownMenu.Item
					>
					<DropdownMenu.Item
						class="menu-item"
						onSelect={() => (location.href = `/api/projects/${session.projectId}/file`)}
						>Save the project as a file <Download size={14} /></DropdownMenu.Item
					>
				</DropdownMenu.Content>
			</DropdownMenu.Portal>
		</DropdownMenu.Root>
	{/if}
	<nav class="mx-auto flex h-full" aria-label="rooms">
		{#each rooms as room (room.name)}
			{@const here = page.url.pathname.startsWith(room.name === 'Ship' ? `${base}/ship` : `${base}/compose`)}
			<a
				href={room.href}
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
		data-save-state={saver.state}>{savedWord}</span
	>
	<span class="flex">
		<button
			type="button"
			class="btn btn-square btn-plain"
			aria-label={saver.undo ? `undo ${saver.undo}` : 'undo'}
			title={saver.undo ? `Undo: ${saver.undo} (Ctrl+Z)` : 'Nothing to undo'}
			disabled={saver.undo === null}
			onclick={() => session.undo()}><Undo2 size={16} /></button
		>
		<button
			type="button"
			class="btn btn-square btn-plain"
			aria-label={saver.redo ? `redo ${saver.redo}` : 'redo'}
			title={saver.redo ? `Redo: ${saver.redo} (Ctrl+Shift+Z)` : 'Nothing to redo'}
			disabled={saver.redo === null}
			onclick={() => session.redo()}><Redo2 size={16} /></button
		>
		<button
			type="button"
			class="btn btn-square btn-plain"
			aria-label="light or night"
			title="Light or night"
			onclick={() => theme.toggle()}><Moon size={16} /></button
		>
		{#if onfind}
			<button
				type="button"
				class="btn btn-square btn-plain"
				aria-label="find anything"
				title="Find anything (Ctrl+K)"
				onclick={onfind}><Search size={16} /></button
			>
		{/if}
		{#if onhelp}
			<button
				type="button"
				class="btn btn-square btn-plain"
				aria-label="shortcuts"
				title="Shortcuts (?)"
				onclick={onhelp}><CircleQuestionMark size={16} /></button
			>
		{/if}
	</span>
</header>
