<script lang="ts">
	import { DropdownMenu } from 'bits-ui';
	import ChevronDown from '@lucide/svelte/icons/chevron-down';
	import Tag from '@lucide/svelte/icons/tag';
	import type { JournalEntry } from '$lib/api/client';
	import { useSession } from '$lib/session/session.svelte';
	import { dateAndTime } from '$lib/ui/dates';
	import { tellTouched } from './told-change';

	interface Props {
		row: JournalEntry;
		/** It is how the project is now. */
		isNow: boolean;
		busy: boolean;
		onpin: () => void;
		onrestore: (what: 'clip' | 'project') => void;
		onname: (name: string | null) => void;
		/** Whether its name is being written. */
		isNaming: boolean;
	}
	let { row, isNow, busy, onpin, onrestore, onname, isNaming = $bindable() }: Props = $props();
	const session = useSession();
	const WIDTH = 72;
	const HEIGHT = 32;
	const KINDS: Record<JournalEntry['kind'], string> = { edit: '', undo: 'Undone: ', redo: 'Redone: ' };

	const label = $derived(KINDS[row.kind] + row.label);
	const what = $derived(`${row.label}, edit ${row.revision}`);
	const clip = $derived(row.touched.clip === null ? undefined : session.doc.clips[row.touched.clip]);
	const told = $derived(
		[clip && clip.id !== session.clipId ? clip.name : '', tellTouched(row.touched, session.frameRate)]
			.filter((text) => text !== '')
			.join(' · '),
	);
	const when = $derived(dateAndTime().format(new Date(row.made_at)));
	function line(values: readonly number[]): string {
		if (values.length === 0) return '';
		const points = values.map(
			(v, i) =>
				`${((WIDTH * i) / (values.length - 1)).toFixed(1)} ${(2 + (1 - v) * (HEIGHT - 4)).toFixed(1)}`,
		);
		return `M${points.join('L')}`;
	}

	/** Leaving the field keeps what was written; Escape has closed it by then. */
	function keep(text: string) {
		if (!isNaming) return;
		isNaming = false;
		const name = text.trim();
		if (name !== (row.name ?? '')) onname(name === '' ? null : name);
	}
	function onkeydown(event: KeyboardEvent & { currentTarget: HTMLInputElement }) {
		if (event.key !== 'Enter' && event.key !== 'Escape') return;
		event.preventDefault();
		event.stopPropagation();
		if (event.key === 'Enter') keep(event.currentTarget.value);
		else isNaming = false;
	}
	const takeFocus = (field: HTMLInputElement) => {
		field.focus();
		field.select();
	};
</script>

<div class="flex items-center gap-3 border-b border-rule px-3 py-1.5" role="listitem">
	<svg width={WIDTH} height={HEIGHT} class="shrink-0 rounded-sm bg-sky" aria-hidden="true">
		{#if row.touched.is.length > 0}
			<path d="{line(row.touched.is)}L{WIDTH} {HEIGHT}L0 {HEIGHT}Z" fill="var(--lake)" opacity="0.3" />
			<path d={line(row.touched.is)} fill="none" stroke="var(--lake)" stroke-width="1.4" />
		{/if}
		<path d={line(row.touched.was)} fill="none" stroke="var(--ink)" stroke-dasharray="2 3" opacity="0.55" />
	</svg>
	<div class="min-w-0 flex-1">
		{#if isNaming}
			<input
				class="field w-full"
				aria-label="name of the version after {what}"
				placeholder="Name of this version"
				maxlength="80"
				value={row.name ?? ''}
				onblur={(event) => keep(event.currentTarget.value)}
				{onkeydown}
				{@attach takeFocus}
			/>
		{:else}
			<p class="truncate" title={label}>
				{#if row.name !== null}<strong class="mr-2">{row.name}</strong>{/if}{label}
			</p>
		{/if}
		<p class="truncate text-xs text-muted" title={told}>
			<time datetime={row.made_at}>{when}</time>{told === '' ? '' : ` · ${told}`}
		</p>
	</div>
	<button
		type="button"
		class="btn btn-square"
		title="Name this version"
		aria-label="name the version after {what}"
		onclick={() => (isNaming = true)}><Tag size={15} /></button
	>
	{#if isNow}
		<span class="w-[132px] text-center text-muted">Now</span>
	{:else}
		<button
			type="button"
			class="btn"
			disabled={busy}
			aria-label="pin the version after {what}"
			onclick={onpin}>Pin</button
		>
		<DropdownMenu.Root>
			<DropdownMenu.Trigger class="btn" disabled={busy} aria-label="restore the version after {what}"
				>Restore <ChevronDown size={14} /></DropdownMenu.Trigger
			>
			<DropdownMenu.Portal>
				<DropdownMenu.Content class="menu" align="end">
					<DropdownMenu.Item class="menu-item" disabled={!session.clip} onSelect={() => onrestore('clip')}
						>This clip{session.clip ? `: ${session.clip.name}` : ''}</DropdownMenu.Item
					>
					<DropdownMenu.Item class="menu-item" onSelect={() => onrestore('project')}
						>The whole project</DropdownMenu.Item
					>
				</DropdownMenu.Content>
			</DropdownMenu.Portal>
		</DropdownMenu.Root>
	{/if}
</div>
