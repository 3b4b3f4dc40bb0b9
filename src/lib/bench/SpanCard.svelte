<script lang="ts">
	import { kindOf } from '$core/document/types';
	import { channelLabel } from '$core/document/labels';
	import { changedByHex, writeHexAlpha } from '$core/pose/hex';
	import { indexAt } from '$core/curve/edit';
	import { curveKeys } from '$core/clip/compile';
	import { portableShape, spanEasing } from '$core/fit/css-span';
	import { spanHandles } from '$core/curve/handles';
	import { THIRD } from '$player/curve/build';
	import { HANDLE_MODES, type HandleMode, type HandleSide, type Key } from '$core/curve/types';
	import type { Shape } from '$player/easing/shape';
	import {
		contextOf,
		expandSpans,
		moveKeys,
		setKeyValue,
		setModes,
		setShape,
		setSide,
		setVector,
	} from '$core/edits/keys';
	import { frameToTicks, snapToFrame, ticksToFrame } from '$core/time';
	import { secondsToTicks } from '$player/time';
	import type { Drag } from '$lib/session/project.svelte';
	import { moveSelected } from '$lib/acts/move-keys';
	import { useSession } from '$lib/session/session.svelte';
	import { isAngle, unitAt } from '$core/document/units';
	import { stepOf } from '$lib/lanes/units';
	import Labelled from '$lib/ui/Labelled.svelte';
	import ColourField from '$lib/ui/ColourField.svelte';
	import { sentence } from '$lib/ui/sentence';
	import NumberField from '$lib/ui/NumberField.svelte';
	import ShapeNumbers from './ShapeNumbers.svelte';
	import ShapeSheet from './ShapeSheet.svelte';
	import SpanProfile from './SpanProfile.svelte';

	const session = useSession();
	const picked = $derived(
		[...session.selection.keys].flatMap(([id, times]) => [...times].map((t) => ({ id, t }))),
	);
	/** The earliest that a span comes after; of last keys alone, the earliest of these. */
	const first = $derived.by(() => {
		const { channels } = session.doc;
		const hasSpan = ({ id, t }: { id: string; t: number }) => t < (channels[id]?.keys.at(-1)?.t ?? t);
		const spans = picked.filter(hasSpan);
		return (spans.length > 0 ? spans : picked).reduce<{ id: string; t: number } | null>(
			(a, b) => (a && a.t <= b.t ? a : b),
			null,
		);
	});
	const channel = $derived(first ? session.doc.channels[first.id] : null);
	const index = $derived(channel && first ? indexAt(channel.keys, first.t) : -1);
	// Of a colour or an orientation the span is how far it is from one key to the next.
	const shown = $derived(channel ? curveKeys(channel) : []);
	const key = $derived(shown[index] ?? null);
	const next = $derived(shown[index + 1] ?? null);
	const kind = $derived(channel ? kindOf(channel.property) : 'number');
	const part = $derived(channel ? session.doc.parts[channel.part] : null);
	const rate = $derived(session.frameRate);
	const unit = $derived(channel ? unitAt(session.doc, channel) : '');

	/** Keys that are selected, as they are stored, and those of them that have a span. */
	const stored = $derived.by(() => {
		const { channels } = session.doc;
		const all: Key[] = [];
		const spanned: Key[] = [];
		for (const [id, times] of session.selection.keys) {
			const keys = channels[id]?.keys ?? [];
			for (const t of times) {
				const at = indexAt(keys, t);
				if (at < 0) continue;
				all.push(keys[at]);
				if (at < keys.length - 1) spanned.push(keys[at]);
			}
		}
		return { all, spanned };
	});
	function differs(keys: readonly Key[], of: (key: Key) => unknown): boolean {
		if (keys.length === 0) return false;
		const first = of(keys[0]);
		const text = JSON.stringify(first);
		return keys.some((key) => of(key) !== first && JSON.stringify(of(key)) !== text);
	}
	const shapesDiffer = $derived(differs(stored.spanned, ({ shape }) => shape));
	const modesDiffer = $derived(differs(stored.spanned, ({ left, right }) => right?.mode ?? left?.mode));
	const valuesDiffer = $derived(differs(stored.all, ({ v }) => v));

	/** Share of the change that the CSS text may be off. */
	const CSS_BOUND = 0.001;
	const easing = $derived.by(() => {
		if (!channel || index < 0 || session.project.isDragging) return null;
		try {
			return spanEasing(shown, index, contextOf(session.doc, channel), CSS_BOUND);
		} catch {
			// Too wild for stops within the bound: there is no CSS for it.
			return null;
		}
	});

	let drag: Drag | null = null;
	function previewShape(shape: Shape) {
		const { keys } = session.selection;
		drag ??= session.startDrag('Change shape');
		drag.update((doc) => setShape(doc, keys, shape));
	}
	function commitShape(shape: Shape) {
		const { keys } = session.selection;
		if (drag) {
			drag.update((doc) => setShape(doc, keys, shape));
			drag.commit();
			drag = null;
		} else session.edit('Change shape', (doc) => setShape(doc, keys, shape));
	}
	function choose(shape: Shape) {
		session.edit('Choose shape', (doc) => setShape(doc, session.selection.keys, shape));
	}
	function moveTo(frame: number) {
		if (first) moveSelected(session, frameToTicks(frame, rate) - first.t);
	}
	function setAlpha(alpha: number) {
		if (!channel || !key?.vector) return;
		const [r, g, b] = key.vector;
		session.edit('Set alpha', (doc) => setVector(doc, channel, key.t, [r, g, b, alpha]));
	}
	function setValues(change: (old: number) => number) {
		session.edit(picked.length > 1 ? 'Set values' : 'Set value', (doc) =>
			setKeyValue(doc, session.selection.keys, change),
		);
	}
	function settle(seconds: number) {
		if (!channel || !key || !next || !session.clip) return;
		const end = Math.min(
			session.clip.length,
			Math.max(key.t + 1, snapToFrame(key.t + secondsToTicks(seconds), rate)),
		);
		session.edit('Span as long as its spring', (doc) =>
			moveKeys(doc, new Map([[channel.id, new Set([next.t])]]), end - next.t, 0),
		);
	}
	function expand() {
		session.edit('Convert shape to keys', (doc) => expandSpans(doc, session.selection.keys));
	}
	const modeOf = $derived(modesDiffer ? null : (key?.right?.mode ?? key?.left?.mode ?? null));
	function mode(value: HandleMode) {
		session.edit(`Handles ${value}`, (doc) => setModes(doc, session.selection.keys, value));
	}
	function side(name: 'left' | 'right', at: number, change: Partial<HandleSide>) {
		if (!channel) return;
		const k = channel.keys[at];
		const old = k[name];
		const handles = spanHandles(
			channel.keys,
			name === 'right' ? at : at - 1,
			contextOf(session.doc, channel),
		);
		const now =
			name === 'right'
				? { reach: handles.outReach, rise: handles.outRise }
				: { reach: handles.inReach, rise: handles.inRise };
		const value: HandleSide = {
			mode: old?.mode === 'split' ? 'split' : 'joined',
			reach: now.reach,
			rise: now.rise,
			...change,
		};
		session.edit('Shape with handles', (doc) => setSide(doc, channel.id, k.t, name, value));
	}
</script>

{#if key && channel && part && first}
	<div class="flex flex-col gap-1.5">
		<div class="flex flex-wrap items-center gap-x-3 gap-y-1">
			<h2 class="sheet-title">{picked.length > 1 ? `${picked.length} keys` : 'Easing'}</h2>
			<span class="truncate text-muted"
				>{session.selection.keys.size > 1
					? `on ${session.selection.keys.size} lanes`
					: `${part.name} / ${channelLabel(channel.property, channel.component, part)}`}</span
			>
			<label class="ml-auto flex items-center gap-1.5">
				<span class="text-muted">{picked.length > 1 ? 'First frame' : 'Frame'}</span>
				<NumberField
					label="frame of the key"
					value={ticksToFrame(key.t, rate)}
					digits={2}
					min={0}
					class="w-[60px] !min-h-[24px]"
					oncommit={moveTo}
				/>
			</label>
			{#if kind === 'number' || kind === 'switch'}
				<Labelled text="value">
					<NumberField
						label="value of the key"
						value={key.v}
						{unit}
						digits={3}
						step={stepOf(session.doc, channel)}
						class="w-[96px] !min-h-[24px]"
						mixed={valuesDiffer}
						oneach={picked.length > 1 ? setValues : undefined}
						oncommit={(value) => setValues(() => value)}
					/>
				</Labelled>
				{#if isAngle(channel.property)}
					<Labelled text="turns">
						<NumberField
							label="turns of the key"
							value={key.v / 360}
							digits={4}
							step={0.25}
							class="w-[72px] !min-h-[24px]"
							mixed={valuesDiffer}
							oneach={picked.length > 1
								? (change) => setValues((degrees) => 360 * change(degrees / 360))
								: undefined}
							oncommit={(turns) => setValues(() => 360 * turns)}
						/>
					</Labelled>
				{/if}
			{:else if kind === 'colour' && key.vector}
				{@const was = key.vector}
				<ColourField
					label="colour of the key"
					class="h-[24px] w-[40px]"
					alpha
					value={writeHexAlpha(was)}
					oncommit={(hex) =>
						session.edit('Set colour', (doc) => setVector(doc, channel, key.t, changedByHex(was, hex)))}
				/>
				<Labelled text="alpha">
					<NumberField
						label="alpha of the key"
						value={100 * key.vector[3]}
						unit=" %"
						digits={1}
						min={0}
						max={100}
						step={1}
						class="w-[60px] !min-h-[24px]"
						oncommit={(percent) => setAlpha(percent / 100)}
					/>
				</Labelled>
			{/if}
		</div>
		{#if next}
			<SpanProfile {channel} keys={shown} {index} low={picked.length > 1} />
			{#if shapesDiffer}
				<p class="text-muted">
					The {stored.spanned.length} spans have different shapes; the first is drawn. One that is chosen below
					goes to all.
				</p>
			{:else}
				<ShapeNumbers
					shape={key.shape}
					change={next.v - key.v}
					{easing}
					onpreview={previewShape}
					oncommit={commitShape}
					onsettle={settle}
					onexpand={expand}
				/>
			{/if}
			{#if !shapesDiffer && key.shape.kind === 'handles'}
				{@const handles = spanHandles(channel.keys, index, contextOf(session.doc, channel))}
				<div class="flex flex-wrap items-center gap-x-3 gap-y-1">
					<span
						class="flex overflow-hidden rounded-md border border-rule"
						role="group"
						aria-label="handles of the key"
					>
						{#each HANDLE_MODES as name (name)}
							<button
								type="button"
								class="min-h-[24px] px-2 {modeOf === name
									? 'bg-moss font-semibold text-moss-ink'
									: 'bg-sheet'}"
								aria-pressed={modeOf === name}
								onclick={() => mode(name)}>{sentence(name)}</button
							>
						{/each}
					</span>
					<span class="flex items-center gap-1">
						<span class="text-muted">Outgoing handle</span>
						<NumberField
							label="reach of the outgoing handle"
							value={handles.outReach * 100}
							unit=" %"
							digits={0}
							min={0}
							max={100}
							class="w-[54px] !min-h-[24px]"
							oncommit={(v) => side('right', index, { reach: v === 33 ? THIRD : v / 100 })}
						/>
						<NumberField
							label="rise of the outgoing handle"
							value={handles.outRise}
							digits={2}
							step={0.05}
							class="w-[58px] !min-h-[24px]"
							oncommit={(v) => side('right', index, { rise: v })}
						/>
					</span>
					<span class="flex items-center gap-1">
						<span class="text-muted">Incoming handle</span>
						<NumberField
							label="reach of the incoming handle"
							value={handles.inReach * 100}
							unit=" %"
							digits={0}
							min={0}
							max={100}
							class="w-[54px] !min-h-[24px]"
							oncommit={(v) => side('left', index + 1, { reach: v === 33 ? THIRD : v / 100 })}
						/>
						<NumberField
							label="rise of the incoming handle"
							value={handles.inRise}
							digits={2}
							step={0.05}
							class="w-[58px] !min-h-[24px]"
							oncommit={(v) => side('left', index + 1, { rise: v })}
						/>
					</span>
				</div>
			{/if}
		{:else}
			<p class="text-muted">
				The last key of its lane: nothing follows it. Its shape is used when a key comes after it.
			</p>
		{/if}
		{#if kind !== 'switch'}<ShapeSheet
				shape={shapesDiffer ? null : key.shape}
				keepable={channel && index >= 0 ? portableShape(shown, index, contextOf(session.doc, channel)) : null}
				onchoose={choose}
			/>{/if}
	</div>
{/if}
