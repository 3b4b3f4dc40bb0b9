<script lang="ts">
	import { DropdownMenu } from 'bits-ui';
	import ChevronDown from '@lucide/svelte/icons/chevron-down';
	import ChevronRight from '@lucide/svelte/icons/chevron-right';
	import Copy from '@lucide/svelte/icons/copy';
	import Download from '@lucide/svelte/icons/download';
	import Plus from '@lucide/svelte/icons/plus';
	import Trash from '@lucide/svelte/icons/trash';
	import { toast } from 'svelte-sonner';
	import { goto } from '$app/navigation';
	import { clipRidges } from '$core/clip/profile';
	import { removeClip } from '$core/document/edits/clips';
	import { extentOf } from '$core/document/edits/retime';
	import { joinClips, mirrorClip, reverseClip, trimClip } from '$core/document/edits/whole-clips';
	import type { Clip, Doc } from '$core/document/types';
	import { ticksToFrame, ticksToSeconds } from '$core/time';
	import { newId } from '$lib/session/ids';
	import { addClip, copyClip, moveClip, splitAt } from '$lib/session/new-things';
	import { useSession } from '$lib/session/session.svelte';
	import { writeNumber } from './number-text';

	const session = useSession();
	const base = $derived(`/p/${session.projectId}`);
	const LOOPS = { once: 'once', repeat: 'again and again', alternate: 'there and back' } as const;
	const THUMB = { width: 46, height: 16 };

	/** Clips by folder: what stands before the last `/` of their names. */
	const folders = $derived.by(() => {
		const found = new Map<string, { clip: Clip; name: string }[]>();
		for (const clip of session.clips) {
			const at = clip.name.lastIndexOf('/');
			const folder = clip.name.slice(0, Math.max(0, at)).trim();
			const list = found.get(folder) ?? [];
			list.push({ clip, name: clip.name.slice(at + 1).trim() || clip.name });
			found.set(folder, list);
		}
		return [...found];
	});
	const playhead = $derived(Math.round(session.transport.local));
	const inside = $derived(session.clip !== null && playhead > 0 && playhead < session.clip.length);
	const picked = $derived(extentOf(session.keys));

	function ridge(clip: Clip): string {
		const [values] = clipRidges(session.doc, clip, 1, 24);
		if (!values) return '';
		const points = values.map((v, i) => {
			const x = (THUMB.width * i) / (values.length - 1);
			return `${x.toFixed(1)} ${(THUMB.height - 2 - v * (THUMB.height - 4)).toFixed(1)}`;
		});
		return `M0 ${THUMB.height}L${points.join('L')}L${THUMB.width} ${THUMB.height}Z`;
	}
	function open(id: string) {
		void goto(`${base}/compose/${id}`, { noScroll: true });
	}
	function edit(label: string, change: (doc: Doc, clip: Clip) => Doc) {
		const { clip } = session;
		if (!clip) return;
		session.keys = new Map();
		session.edit(`${label} ${clip.name}`, (doc) => change(doc, doc.clips[clip.id]));
	}
	function trim(from: number, to: number) {
		edit('Trim', (doc, clip) => trimClip(doc, clip, from, to));
		session.transport.seek(0);
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
		<DropdownMenu.Content class="menu min-w-[300px]" align="start">
			{#each folders as [folder, clips] (folder)}
				{#if folder !== ''}
					<DropdownMenu.Group>
						<DropdownMenu.GroupHeading class="px-2 pt-1.5 text-xs text-muted"
							>{folder}</DropdownMenu.GroupHeading
						>
					</DropdownMenu.Group>
				{/if}
				{#each clips as { clip, name } (clip.id)}
					<DropdownMenu.Item
						class="menu-item {clip.id === session.clipId ? 'font-semibold' : ''} {folder === ''
							? ''
							: 'pl-4'}"
						onSelect={() => open(clip.id)}
					>
						<span class="flex min-w-0 items-center gap-2">
							<svg width={THUMB.width} height={THUMB.height} class="shrink-0" aria-hidden="true">
								<path d={ridge(clip)} fill="var(--lake)" opacity="0.35" />
							</svg>
							<span class="truncate">{name}</span>
						</span>
						<span class="shortcut"
							>{writeNumber(ticksToFrame(clip.length, session.frameRate), 1)} f · {LOOPS[
								clip.loop.mode
							]}</span
						>
					</DropdownMenu.Item>
				{/each}
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
			<DropdownMenu.Sub>
				<DropdownMenu.SubTrigger class="menu-item" disabled={!session.clip}
					>Change the whole clip <ChevronRight size={14} /></DropdownMenu.SubTrigger
				>
				<DropdownMenu.SubContent class="menu">
					<DropdownMenu.Item class="menu-item" onSelect={() => edit('Reverse', reverseClip)}
						>Play it backwards</DropdownMenu.Item
					>
					<DropdownMenu.Item class="menu-item" onSelect={() => edit('Mirror', mirrorClip)}
						>Mirror left and right</DropdownMenu.Item
					>
					<DropdownMenu.Item
						class="menu-item"
						disabled={!inside}
						onSelect={() => session.clip && splitAt(session, session.clip, playhead)}
						>Take apart at the playhead</DropdownMenu.Item
					>
					<DropdownMenu.Item class="menu-item" disabled={!inside} onSelect={() => trim(0, playhead)}
						>End it at the playhead</DropdownMenu.Item
					>
					<DropdownMenu.Item
						class="menu-item"
						disabled={!inside}
						onSelect={() => session.clip && trim(playhead, session.clip.length)}
						>Begin it at the playhead</DropdownMenu.Item
					>
					<DropdownMenu.Item
						class="menu-item"
						disabled={!picked || picked.first === picked.last}
						onSelect={() => picked && trim(picked.first, picked.last)}
						>Cut to the picked keys</DropdownMenu.Item
					>
					<DropdownMenu.Separator class="my-1 border-t border-rule" />
					<DropdownMenu.Item
						class="menu-item"
						onSelect={() => session.clip && moveClip(session, session.clip, -1)}
						>Earlier in the list</DropdownMenu.Item
					>
					<DropdownMenu.Item
						class="menu-item"
						onSelect={() => session.clip && moveClip(session, session.clip, 1)}
						>Later in the list</DropdownMenu.Item
					>
				</DropdownMenu.SubContent>
			</DropdownMenu.Sub>
			<DropdownMenu.Sub>
				<DropdownMenu.SubTrigger class="menu-item" disabled={session.clips.length < 2}
					>Put another clip after it <ChevronRight size={14} /></DropdownMenu.SubTrigger
				>
				<DropdownMenu.SubContent class="menu">
					{#each session.clips.filter((clip) => clip.id !== session.clipId) as other (other.id)}
						<DropdownMenu.Item
							class="menu-item"
							onSelect={() => edit('Append to', (doc, clip) => joinClips(doc, clip, other, newId))}
							>{other.name}</DropdownMenu.Item
						>
					{/each}
				</DropdownMenu.SubContent>
			</DropdownMenu.Sub>
			<DropdownMenu.Item class="menu-item" disabled={!session.clip} onSelect={remove}
				>Delete this clip <Trash size={14} /></DropdownMenu.Item
			>
			<DropdownMenu.Separator class="my-1 border-t border-rule" />
			<DropdownMenu.Item
				class="menu-item"
				onSelect={() => (location.href = `/api/projects/${session.projectId}/file`)}
				>Save the project as a file <Download size={14} /></DropdownMenu.Item
			>
		</DropdownMenu.Content>
	</DropdownMenu.Portal>
</DropdownMenu.Root>
