<script lang="ts">
	import ChevronDown from '@lucide/svelte/icons/chevron-down';
	import ChevronRight from '@lucide/svelte/icons/chevron-right';
	import Eye from '@lucide/svelte/icons/eye';
	import EyeOff from '@lucide/svelte/icons/eye-off';
	import Focus from '@lucide/svelte/icons/focus';
	import Lock from '@lucide/svelte/icons/lock';
	import LockOpen from '@lucide/svelte/icons/lock-open';
	import Plus from '@lucide/svelte/icons/plus';
	import { DropdownMenu } from 'bits-ui';
	import {
		channelLabel,
		channelId,
		componentsOf,
		PROPERTIES,
		restValue,
		type Component,
		type Property,
	} from '$core/document/types';
	import { setValue } from '$core/document/edits/keys';
	import { useSession } from '$lib/session/session.svelte';
	import { HEADER_WIDTH, type LaneView } from './lane-view.svelte';
	import type { PartRow } from './rows';

	let { row, view }: { row: PartRow; view: LaneView } = $props();
	const session = useSession();
	const picked = $derived(session.partId === row.id);
	const hidden = $derived(session.hiddenParts.has(row.id));
	const locked = $derived(session.lockedParts.has(row.id));
	const solo = $derived(session.soloPart === row.id);

	function toggled(set: ReadonlySet<string>): Set<string> {
		const next = new Set(set);
		if (!next.delete(row.id)) next.add(row.id);
		return next;
	}
	const missing = $derived(
		PROPERTIES.flatMap((property) =>
			componentsOf(property).map((component) => ({ property, component })),
		).filter(
			({ property, component }) =>
				session.clip && !session.doc.channels[channelId(session.clip.id, row.id, property, component)],
		),
	);
	function addChannel(property: Property, component: Component) {
		if (!session.clip) return;
		const clip = session.clip.id;
		const t = Math.round(session.transport.local);
		session.edit(`Add ${row.part.name} ${channelLabel(property, component)}`, (doc) =>
			setValue(doc, { clip, part: row.id, property, component }, t, restValue(row.part, property, component)),
		);
		session.pickChannel(channelId(clip, row.id, property, component));
	}
</script>

<div
	class="group absolute left-0 flex items-center gap-1 border-b border-rule pr-2 {picked
		? 'bg-rule'
		: 'bg-band'}"
	style:top="{row.top}px"
	style:height="{row.height}px"
	style:width="{HEADER_WIDTH}px"
	style:padding-left="{4 + Math.min(4, row.depth) * 10}px"
>
	<button
		type="button"
		class="flex size-5 shrink-0 items-center justify-center"
		aria-label="{row.open ? 'close' : 'open'} {row.part.name}"
		aria-expanded={row.open}
		onclick={() => view.toggleOpen(row.id)}
	>
		{#if row.channels.length > 0}
			{#if row.open}<ChevronDown size={14} />{:else}<ChevronRight size={14} />{/if}
		{/if}
	</button>
	<button
		type="button"
		class="min-w-0 flex-1 truncate text-left font-bold"
		aria-pressed={picked}
		aria-label="part {row.part.name}"
		onclick={() => session.pickPart(row.id)}>{row.part.name}</button
	>
	<span
		class="flex items-center gap-1 text-muted {picked || hidden || locked || solo
			? ''
			: 'opacity-0 focus-within:opacity-100 group-hover:opacity-100'}"
	>
		<DropdownMenu.Root>
			<DropdownMenu.Trigger
				class="flex size-5 items-center justify-center"
				aria-label="add a channel to {row.part.name}"
				title="Add a channel"
			>
				<Plus size={14} />
			</DropdownMenu.Trigger>
			<DropdownMenu.Portal>
				<DropdownMenu.Content class="menu" align="start">
					{#each missing as { property, component } (property + component)}
						<DropdownMenu.Item class="menu-item" onSelect={() => addChannel(property, component)}>
							{channelLabel(property, component)}
						</DropdownMenu.Item>
					{:else}
						<DropdownMenu.Item class="menu-item" disabled>all channels are there</DropdownMenu.Item>
					{/each}
				</DropdownMenu.Content>
			</DropdownMenu.Portal>
		</DropdownMenu.Root>
		<button
			type="button"
			class="flex size-5 items-center justify-center {solo ? 'text-rust' : ''}"
			aria-label="show {row.part.name} alone"
			aria-pressed={solo}
			title="Show alone"
			onclick={() => (session.soloPart = solo ? null : row.id)}
		>
			<Focus size={13} />
		</button>
		<button
			type="button"
			class="flex size-5 items-center justify-center"
			aria-label="{hidden ? 'show' : 'hide'} {row.part.name}"
			aria-pressed={hidden}
			title="Hide"
			onclick={() => (session.hiddenParts = toggled(session.hiddenParts))}
		>
			{#if hidden}<EyeOff size={13} />{:else}<Eye size={13} />{/if}
		</button>
		<button
			type="button"
			class="flex size-5 items-center justify-center {locked ? 'text-rust' : ''}"
			aria-label="{locked ? 'unlock' : 'lock'} {row.part.name}"
			aria-pressed={locked}
			title="Lock"
			onclick={() => (session.lockedParts = toggled(session.lockedParts))}
		>
			{#if locked}<Lock size={13} />{:else}<LockOpen size={13} />{/if}
		</button>
	</span>
</div>
