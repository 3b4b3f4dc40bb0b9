<script lang="ts">
	import ChevronDown from '@lucide/svelte/icons/chevron-down';
	import ChevronRight from '@lucide/svelte/icons/chevron-right';
	import Eye from '@lucide/svelte/icons/eye';
	import EyeOff from '@lucide/svelte/icons/eye-off';
	import Focus from '@lucide/svelte/icons/focus';
	import Lock from '@lucide/svelte/icons/lock';
	import LockOpen from '@lucide/svelte/icons/lock-open';
	import Plus from '@lucide/svelte/icons/plus';
	import { ContextMenu, DropdownMenu } from 'bits-ui';
	import { restValue } from '$core/document/rest';
	import { channelId, isVector, type Component, type Doc, type Property } from '$core/document/types';
	import { channelLabel } from '$core/document/labels';
	import { newFormula, putFormula } from '$core/edits/formulas';
	import { setValue, setVector } from '$core/edits/keys';
	import { turnShortWay } from '$core/edits/short-way';
	import { parseHex } from '$core/pose/hex';
	import { fromEuler } from '$player/maths/quaternion';
	import { useSession } from '$lib/session/session.svelte';
	import { updatePart, withDescendants } from '$core/edits/parts';
	import { hangPart, putBeside } from '$lib/acts/hang-part';
	import { chosen, type Command } from '$lib/ui/command';
	import CommandMenu from '$lib/ui/CommandMenu.svelte';
	import { addKeysOf } from '$lib/acts/part-acts';
	import { PART_MENU } from './part-menu';
	import { channelOffers, type ChannelOffer } from './channel-offers';
	import type { LaneView } from './lane-view.svelte';
	import type { PartRow } from './rows';
	import { dragsPart, takesPart, type DropPlace, type PartTaker } from './tree-drag';

	interface Props {
		row: PartRow;
		view: LaneView;
		commands: readonly Command[];
	}
	let { row, view, commands }: Props = $props();
	const session = useSession();
	const picked = $derived(
		session.selection.partId === row.id || session.selection.otherParts.includes(row.id),
	);
	const hidden = $derived(session.view.hides(row.id));
	const locked = $derived(session.view.lockedParts.has(row.id));
	const solo = $derived(session.view.alonePart === row.id);
	const menu = $derived(chosen(commands, PART_MENU));

	/** Where on this row a dragged part would be let go. */
	let over = $state<DropPlace | null>(null);
	const isLeaf = $derived(!session.project.tree.some(({ part }) => part.parent === row.id));
	const taker: PartTaker = {
		// A part can be no child of its own children, nor stand among them.
		accepts: (id) => id !== row.id && !withDescendants(session.doc, id).has(row.id),
		// Below a part with children its first child would be next.
		edges: () => (isLeaf ? ['before', 'after'] : ['before']),
		over: (place) => (over = place),
		drop: (id, place) => {
			if (place === 'on') hangPart(session, id, row.id, 'now');
			else putBeside(session, id, row.id, place);
			session.selection.pickPart(id);
		},
	};
	const OVER: Record<DropPlace, string> = {
		before: 'shadow-[inset_0_3px_0_0_var(--moss)]',
		on: 'outline-2 -outline-offset-2 outline-moss',
		after: 'shadow-[inset_0_-3px_0_0_var(--moss)]',
	};
	const isNaming = $derived(session.asks.partName === row.id);
	function rename(text: string) {
		session.asks.partName = null;
		const name = text.trim();
		if (name) session.edit('Rename part', (doc) => updatePart(doc, row.id, { name }));
	}

	const offers = $derived(session.clip ? channelOffers(session.doc, session.clip.id, row.part) : []);
	function take({ property, component, replaces }: ChannelOffer) {
		const { clip } = session;
		if (clip && replaces)
			session.edit(`Turn ${row.part.name} by an orientation`, (doc) => ({
				doc: turnShortWay(doc, clip.id, row.id),
				channel: channelId(clip.id, row.id, property, component),
			}));
		else addChannel(property, component);
	}
	function addChannel(property: Property, component: Component) {
		if (!session.clip) return;
		const address = { clip: session.clip.id, part: row.id, property, component };
		const t = Math.round(session.transport.local);
		const keyed = (doc: Doc) => {
			if (property === 'colour') return setVector(doc, address, t, parseHex(row.part.colour));
			if (property === 'orientation')
				return setVector(doc, address, t, fromEuler(row.part.rest.rotation, row.part.eulerOrder));
			return setValue(doc, address, t, restValue(row.part, property, component));
		};
		session.edit(`Add ${row.part.name} ${channelLabel(property, component, row.part)}`, (doc) => ({
			doc: keyed(doc),
			channel: channelId(address.clip, row.id, property, component),
		}));
	}
	function addFormula(property: Property, component: Component) {
		if (!session.clip) return;
		const formula = newFormula(session.clip.id, row.id, property, component);
		session.edit(`Formula for ${row.part.name} ${channelLabel(property, component, row.part)}`, (doc) => ({
			doc: putFormula(doc, formula),
			channel: formula.id,
		}));
	}
</script>

<ContextMenu.Root onOpenChange={(open) => open && !picked && session.selection.pickPart(row.id)}>
	<ContextMenu.Trigger>
		{#snippet child({ props })}
			<div
				class="group absolute left-0 flex items-center border-b border-rule pr-1 {picked
					? 'bg-rule'
					: 'bg-band'} {over ? OVER[over] : ''}"
				{...props}
				data-part-row={row.part.name}
				{@attach dragsPart(row.id, () => !session.view.lockedParts.has(row.id) && !isNaming)}
				{@attach takesPart(taker)}
				style:top="{row.top}px"
				style:height="{row.height}px"
				style:width="{view.headerWidth}px"
				style:padding-left="{4 + Math.min(4, row.depth) * 10}px"
			>
				<button
					type="button"
					class="target"
					aria-label="{row.open ? 'close' : 'open'} {row.part.name}"
					aria-expanded={row.open}
					onclick={() => view.toggleOpen(row.id)}
				>
					{#if row.count > 0}
						{#if row.open}<ChevronDown size={14} />{:else}<ChevronRight size={14} />{/if}
					{/if}
				</button>
				{#if isNaming}
					<input
						class="field !min-h-[24px] min-w-0 flex-1 font-bold"
						aria-label="new name of {row.part.name}"
						maxlength="120"
						value={row.part.name}
						{@attach (element) => {
							element.focus();
							element.select();
						}}
						onblur={(event) => isNaming && rename(event.currentTarget.value)}
						onkeydown={(event) => {
							if (event.key === 'Enter') rename(event.currentTarget.value);
							else if (event.key === 'Escape') session.asks.partName = null;
							else return;
							event.stopPropagation();
						}}
					/>
				{:else}
					<button
						type="button"
						class="h-[24px] min-w-0 flex-1 truncate text-left font-bold"
						aria-pressed={picked}
						aria-label="part {row.part.name}"
						title="Shift: add its keys to those selected; double-click: rename"
						onclick={(event) =>
							event.shiftKey ? addKeysOf(session, row.id) : session.selection.pickPart(row.id)}
						ondblclick={() => (session.asks.partName = row.id)}>{row.part.name}</button
					>
				{/if}
				<span
					class="hidden items-center text-muted md:flex {picked || hidden || locked || solo
						? ''
						: 'opacity-0 focus-within:opacity-100 group-hover:opacity-100'}"
				>
					<DropdownMenu.Root>
						<DropdownMenu.Trigger
							class="target"
							aria-label="add a channel to {row.part.name}"
							title="Add a channel"
						>
							<Plus size={14} />
						</DropdownMenu.Trigger>
						<DropdownMenu.Portal>
							<DropdownMenu.Content class="menu" align="start">
								{#each offers as offer (offer.property + offer.component)}
									<DropdownMenu.Item
										class="menu-item"
										disabled={offer.why !== ''}
										onSelect={() => take(offer)}
									>
										{offer.label}
										{#if offer.why || offer.replaces}<span class="text-muted"
												>{offer.why || 'instead of rotation, the short way'}</span
											>{/if}
									</DropdownMenu.Item>
								{:else}
									<DropdownMenu.Item class="menu-item" disabled>all channels are there</DropdownMenu.Item>
								{/each}
								<DropdownMenu.Sub>
									<DropdownMenu.SubTrigger class="menu-item border-t border-rule">
										computed by a formula <ChevronRight size={14} />
									</DropdownMenu.SubTrigger>
									<DropdownMenu.SubContent class="menu">
										{#each offers.filter(({ property, why }) => why === '' && !isVector(property)) as { property, component, label } (property + component)}
											<DropdownMenu.Item class="menu-item" onSelect={() => addFormula(property, component)}>
												{label}
											</DropdownMenu.Item>
										{/each}
									</DropdownMenu.SubContent>
								</DropdownMenu.Sub>
							</DropdownMenu.Content>
						</DropdownMenu.Portal>
					</DropdownMenu.Root>
					<button
						type="button"
						class="target {solo ? 'text-rust' : ''}"
						aria-label="show {row.part.name} alone"
						aria-pressed={solo}
						title="Show alone"
						onclick={() => session.view.toggleAlone(row.id)}
					>
						<Focus size={13} />
					</button>
					<button
						type="button"
						class="target"
						aria-label="{hidden ? 'show' : 'hide'} {row.part.name}"
						aria-pressed={hidden}
						title="Hide"
						onclick={() => session.view.toggleHidden(row.id)}
					>
						{#if hidden}<EyeOff size={13} />{:else}<Eye size={13} />{/if}
					</button>
					<button
						type="button"
						class="target {locked ? 'text-rust' : ''}"
						aria-label="{locked ? 'unlock' : 'lock'} {row.part.name}"
						aria-pressed={locked}
						title="Lock"
						onclick={() => session.view.toggleLocked(row.id)}
					>
						{#if locked}<Lock size={13} />{:else}<LockOpen size={13} />{/if}
					</button>
				</span>
			</div>
		{/snippet}
	</ContextMenu.Trigger>
	<CommandMenu label="part {row.part.name}" commands={menu} />
</ContextMenu.Root>
