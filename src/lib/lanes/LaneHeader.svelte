<script lang="ts">
	import { kindOf } from '$core/document/types';
	import { channelLabel } from '$core/document/labels';
	import type { Four } from '$player/maths/vector';
	import { changedByHex, writeHexAlpha } from '$core/pose/hex';
	import ChevronLeft from '@lucide/svelte/icons/chevron-left';
	import ChevronRight from '@lucide/svelte/icons/chevron-right';
	import { indexAt, spanAt } from '$core/curve/edit';
	import type { Key } from '$core/curve/types';
	import { insertKey, removeKeys, setValue, setVector } from '$core/edits/keys';
	import { curveOf } from '$core/clip/compile';
	import { colourIn, numberIn, rotationIn } from '$core/clip/layout';
	import type { Drag } from '$lib/session/project.svelte';
	import { hasSpeed, speedAt, tellSpeed } from '$lib/session/lane-speed';
	import { pickedKeys } from '$lib/session/selection.svelte';
	import { useSession } from '$lib/session/session.svelte';
	import ColourField from '$lib/ui/ColourField.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import { writeNumber } from '$lib/ui/number-text';
	import KeyDot from '$lib/ui/KeyDot.svelte';
	import HeightGrip from './HeightGrip.svelte';
	import { HEADER_WIDTH, NORMAL, type LaneView } from './lane-view.svelte';
	import { pickLane } from './pick-lane';
	import type { LaneRow, Row } from './rows';
	import { unitAt } from '$core/document/units';
	import { HUES, stepOf } from './units';

	let { row, rows, view }: { row: LaneRow; rows: readonly Row[]; view: LaneView } = $props();
	const session = useSession();

	const channel = $derived(row.channel);
	const time = $derived(session.transport.local);
	const keyed = $derived(indexAt(channel.keys, Math.round(time)) >= 0);
	const picked = $derived(session.selection.isChannelPicked(row.id));
	const locked = $derived(session.view.lockedParts.has(row.part.id));
	const label = $derived(channelLabel(channel.property, channel.component, row.part));
	const kind = $derived(kindOf(channel.property));
	const value = $derived(numberIn(session.posed, row.part, channel.property, channel.component));
	const isNarrow = $derived(view.headerWidth < HEADER_WIDTH);
	const full = $derived(`${row.part.name} ${label}`);
	let drag: Drag | null = null;

	function preview(next: number) {
		drag ??= session.startDrag(`Set ${label}`);
		drag.update((doc) => setValue(doc, channel, Math.round(time), next));
	}
	function commit(next: number) {
		if (drag) {
			drag.commit();
			drag = null;
		} else session.edit(`Set ${label}`, (doc) => setValue(doc, channel, Math.round(time), next));
	}
	let colourBefore: Four | null = null;
	function previewColour(hex: string) {
		colourBefore ??= [...colourIn(session.posed, row.part)];
		const next = changedByHex(colourBefore, hex);
		drag ??= session.startDrag(`Set ${label}`);
		drag.update((doc) => setVector(doc, channel, Math.round(time), next));
	}
	function commitColour(hex: string) {
		previewColour(hex);
		drag?.commit();
		drag = colourBefore = null;
	}
	function cancel() {
		drag?.cancel();
		drag = colourBefore = null;
	}
	function toggleKey() {
		const t = Math.round(time);
		if (keyed) session.edit('Delete key', (doc) => removeKeys(doc, new Map([[row.id, new Set([t])]])));
		else
			session.edit('Set key', (doc) => ({
				doc: insertKey(doc, row.id, t),
				...pickedKeys(new Map([[row.id, new Set([t])]])),
			}));
	}
	/** What it is at the playhead, where the lane shows it and there is room. */
	const speed = $derived(
		session.view.speeds.has(row.id) && session.clip && hasSpeed(channel) && row.height >= NORMAL
			? tellSpeed(speedAt(curveOf(channel, session.clip), time), unitAt(session.doc, channel))
			: '',
	);
	const before: Key | undefined = $derived(channel.keys[spanAt(channel.keys, Math.round(time) - 1)]);
	const after: Key | undefined = $derived(channel.keys[spanAt(channel.keys, Math.round(time)) + 1]);
	function go(t: number | undefined) {
		if (t === undefined) return;
		session.transport.stop();
		session.transport.seek(t);
		session.selection.pickKeys(new Map([[row.id, new Set([t])]]));
	}
</script>

<div
	class="absolute left-0 flex items-start gap-1 border-b border-rule pl-3 pr-1 {picked
		? 'bg-band'
		: 'bg-paper'}"
	style:top="{row.top}px"
	style:height="{row.height}px"
	style:width="{view.headerWidth}px"
	data-lane={full}
	data-channel={row.id}
>
	{#if speed !== ''}
		<span
			class="absolute bottom-[3px] left-[22px] font-mono text-xs leading-none text-muted"
			aria-label="{full} speed">{speed}</span
		>
	{/if}
	<div class="flex min-w-0 flex-1 items-center gap-1" style:height="{Math.min(row.height, 40)}px">
		<span
			class="size-2 shrink-0 rounded-[2px]"
			style:background="var({HUES[channel.property]})"
			aria-hidden="true"
		></span>
		<button
			type="button"
			class="h-[24px] max-h-full min-w-0 flex-1 truncate text-left {picked
				? 'font-semibold'
				: ''} {row.height < 30 ? 'text-xs leading-none' : ''}"
			aria-pressed={picked}
			aria-label="lane {full}"
			title="{full}{channel.accumulates ? '; accumulates' : ''}; Shift or Ctrl picks several"
			onclick={(event) => pickLane(session, rows, row.id, event)}
			ondblclick={() => view.cycleHeight(row.id)}
		>
			{label}{#if channel.accumulates}<span class="ml-1 text-muted" aria-label="accumulates">↗</span>{/if}
		</button>
		{#if isNarrow}
			<!-- There is room for the name and the key alone. -->
		{:else if kind === 'number'}
			<NumberField
				label="{full} value"
				{value}
				unit={unitAt(session.doc, channel)}
				digits={Math.abs(value) >= 100 ? 1 : 2}
				step={stepOf(session.doc, channel)}
				disabled={locked}
				class="w-[74px] !px-1.5 {row.height < 30
					? '!min-h-[16px] !rounded-[4px] !px-1 leading-none'
					: '!min-h-[24px]'}"
				keysSame
				onpreview={preview}
				oncommit={commit}
				oncancel={cancel}
			/>
		{:else if kind === 'switch'}
			<button
				type="button"
				class="h-[24px] max-h-full rounded border border-edge px-1.5 text-xs"
				aria-label="{full} value"
				aria-pressed={value >= 0.5}
				disabled={locked}
				onclick={() => commit(value >= 0.5 ? 0 : 1)}>{value >= 0.5 ? 'shown' : 'hidden'}</button
			>
		{:else if kind === 'colour'}
			<ColourField
				label="{full} value"
				class="h-[24px] max-h-full w-9"
				alpha
				value={writeHexAlpha(colourIn(session.posed, row.part))}
				disabled={locked}
				onpreview={previewColour}
				oncommit={commitColour}
				oncancel={cancel}
			/>
		{:else}
			<span class="font-mono text-xs text-muted" aria-label="{full} value"
				>{rotationIn(session.posed, row.part)
					.map((angle) => writeNumber(angle, 0))
					.join(' ')}°</span
			>
		{/if}
		<span class="flex max-h-full shrink-0 items-center">
			{#if !isNarrow}<button
					type="button"
					class="target text-muted disabled:opacity-30"
					aria-label="{full}: key before"
					disabled={!before}
					onclick={() => go(before?.t)}
				>
					<ChevronLeft size={14} />
				</button>{/if}
			<KeyDot
				{keyed}
				label="{full}: {keyed ? 'delete key' : 'set key'} at the playhead"
				disabled={locked}
				onclick={toggleKey}
			/>
			{#if !isNarrow}<button
					type="button"
					class="target text-muted disabled:opacity-30"
					aria-label="{full}: key after"
					disabled={!after}
					onclick={() => go(after?.t)}
				>
					<ChevronRight size={14} />
				</button>{/if}
		</span>
	</div>
	<HeightGrip id={row.id} height={row.height} {view} />
</div>
