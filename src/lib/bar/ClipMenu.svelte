<script lang="ts">
	import { DropdownMenu } from 'bits-ui';
	import ChevronDown from '@lucide/svelte/icons/chevron-down';
	import ChevronRight from '@lucide/svelte/icons/chevron-right';
	import { goto } from '$app/navigation';
	import { clipRidges } from '$core/clip/profile';
	import type { Clip } from '$core/document/types';
	import { ticksToFrame } from '$core/time';
	import { ticksToSeconds } from '$player/time';
	import { CLIP_CHANGES, CLIP_ORDER } from './clip-menu';
	import { joinAfter } from '$lib/acts/new-clips';
	import { chosen, type Command } from '$lib/ui/command';
	import { useSession } from '$lib/session/session.svelte';
	import { writeNumber } from '$lib/ui/number-text';

	let { commands }: { commands: readonly Command[] } = $props();
	const session = useSession();
	const THUMB = { width: 46, height: 16 };

	/** Clips by folder: what stands before the last `/` of their names. */
	const folders = $derived.by(() => {
		const found = new Map<string, { clip: Clip; name: string }[]>();
		for (const clip of session.project.clips) {
			const at = clip.name.lastIndexOf('/');
			const folder = clip.name.slice(0, Math.max(0, at)).trim();
			const list = found.get(folder) ?? [];
			list.push({ clip, name: clip.name.slice(at + 1).trim() || clip.name });
			found.set(folder, list);
		}
		return [...found];
	});
	function ridge(clip: Clip): string {
		const [values] = clipRidges(session.doc, clip, 1, 24);
		if (!values) return '';
		const points = values.map((v, i) => {
			const x = (THUMB.width * i) / (values.length - 1);
			return `${x.toFixed(1)} ${(THUMB.height - 2 - v * (THUMB.height - 4)).toFixed(1)}`;
		});
		return `M0 ${THUMB.height}L${points.join('L')}L${THUMB.width} ${THUMB.height}Z`;
	}
</script>

{#snippet items(ids: readonly string[])}
	{#each chosen(commands, ids) as command (command.id)}
		<DropdownMenu.Item class="menu-item" disabled={!command.can()} onSelect={command.run}
			>{command.label}<span class="shortcut">{command.shown}</span></DropdownMenu.Item
		>
	{/each}
{/snippet}

<DropdownMenu.Root>
	<DropdownMenu.Trigger class="btn max-w-[340px]" aria-label="clip: {session.clip?.name ?? 'none'}">
		<span class="truncate font-semibold">{session.clip?.name ?? 'no clip'}</span>
		{#if session.clip}
			<span class="font-mono text-xs text-muted"
				>{writeNumber(ticksToSeconds(session.clip.length), 2)} s · {writeNumber(
					ticksToFrame(session.clip.length, session.frameRate),
					1,
				)} f · {session.clip.loop.mode}</span
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
						onSelect={() => void goto(`/p/${session.project.id}/compose/${clip.id}`, { noScroll: true })}
					>
						<span class="flex min-w-0 items-center gap-2">
							<svg width={THUMB.width} height={THUMB.height} class="shrink-0" aria-hidden="true">
								<path d={ridge(clip)} fill="var(--lake)" opacity="0.35" />
							</svg>
							<span class="truncate">{name}</span>
						</span>
						<span class="shortcut"
							>{writeNumber(ticksToFrame(clip.length, session.frameRate), 1)} f · {clip.loop.mode}</span
						>
					</DropdownMenu.Item>
				{/each}
			{/each}
			<DropdownMenu.Separator class="my-1 border-t border-rule" />
			{@render items(['clip-new', 'clip-copy'])}
			<DropdownMenu.Sub>
				<DropdownMenu.SubTrigger class="menu-item" disabled={!session.clip}
					>Change the whole clip <ChevronRight size={14} /></DropdownMenu.SubTrigger
				>
				<DropdownMenu.SubContent class="menu">
					{@render items(CLIP_CHANGES)}
					<DropdownMenu.Separator class="my-1 border-t border-rule" />
					{@render items(CLIP_ORDER)}
				</DropdownMenu.SubContent>
			</DropdownMenu.Sub>
			<DropdownMenu.Sub>
				<DropdownMenu.SubTrigger class="menu-item" disabled={session.project.clips.length < 2}
					>Append clip <ChevronRight size={14} /></DropdownMenu.SubTrigger
				>
				<DropdownMenu.SubContent class="menu">
					{#each session.project.clips.filter((clip) => clip.id !== session.clipId) as other (other.id)}
						<DropdownMenu.Item class="menu-item" onSelect={() => joinAfter(session, other)}
							>{other.name}</DropdownMenu.Item
						>
					{/each}
				</DropdownMenu.SubContent>
			</DropdownMenu.Sub>
			{@render items(['clip-delete'])}
			<DropdownMenu.Separator class="my-1 border-t border-rule" />
			{@render items(['project-file'])}
		</DropdownMenu.Content>
	</DropdownMenu.Portal>
</DropdownMenu.Root>
