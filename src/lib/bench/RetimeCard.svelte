<script lang="ts">
	import {
		extentOf,
		moveEach,
		offsetFrom,
		scaledSelection,
		scaleTime,
		scaleValues,
		staggerTicks,
		type StaggerBy,
	} from '$core/document/edits/retime';
	import { reduceKeys, resampleKeys } from '$core/document/edits/reduce';
	import type { Doc } from '$core/document/types';
	import { toast } from 'svelte-sonner';
	import { frameToTicks, ticksToFrame } from '$core/time';
	import { useSession, type Drag } from '$lib/session/session.svelte';
	import FrameField from '$lib/ui/FrameField.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import { writeNumber } from '$lib/ui/number-text';

	/** Edits of several picked keys at once: each field shows what it will do while it is scrubbed. */
	const session = useSession();
	const extent = $derived(extentOf(session.keys));
	const parts = $derived(new Set([...session.keys.keys()].map((id) => session.doc.channels[id]?.part)).size);
	let about = $state<'first' | 'playhead' | 'last'>('first');
	let delay = $state(2);
	let growing = $state(false);
	let by = $state<StaggerBy>('order');
	let tolerance = $state(1);
	let every = $state(4);

	let drag: Drag | null = null;
	let before = session.keys;
	let factor = $state(1);
	let values = $state(1);

	function begin(label: string): Drag {
		if (!drag) {
			before = session.keys;
			drag = session.startDrag(label);
		}
		return drag;
	}
	function finish() {
		drag?.commit();
		drag = null;
		factor = 1;
		values = 1;
	}
	function pivot(): number {
		const whole = extentOf(before)!;
		return about === 'first'
			? whole.first
			: about === 'last'
				? whole.last
				: Math.round(session.transport.local);
	}
	function scaleTimes(percent: number) {
		if (!session.clip || !extent) return;
		const going = begin('Scale in time');
		const whole = extentOf(before)!;
		const at = pivot();
		// The picked keys stay within the clip.
		let limit = Infinity;
		if (whole.last > at) limit = Math.min(limit, (session.clip.length - at) / (whole.last - at));
		if (whole.first < at) limit = Math.min(limit, at / (at - whole.first));
		factor = Math.min(limit, Math.max(0.01, percent / 100));
		going.update((doc) => scaleTime(doc, before, at, factor));
		session.keys = scaledSelection(before, at, factor);
	}
	function scaleValue(percent: number) {
		values = percent / 100;
		begin('Scale in value').update((doc) => scaleValues(doc, before, values));
	}
	function staggerBy(frames: number) {
		if (!session.clip) return;
		delay = frames;
		const going = begin('Stagger');
		const step = frameToTicks(frames, session.frameRate);
		const ticks = staggerTicks(going.start, before, step, growing, session.clip.length, by);
		going.update((doc) => moveEach(doc, before, ticks));
		session.keys = new Map(
			[...before].map(([id, times]) => [id, new Set([...times].map((t) => t + ticks.get(id)!))]),
		);
	}
	function reduce() {
		const { keys } = session;
		const before = countOf(session.doc);
		session.edit('Fewer keys', (doc) => reduceKeys(doc, keys, tolerance / 100));
		toast(`${before} keys became ${countOf(session.doc)}, within ${tolerance} % of the range`);
		session.keys = new Map();
	}
	function resample() {
		const { keys } = session;
		session.edit('Even keys', (doc) => resampleKeys(doc, keys, frameToTicks(every, session.frameRate)));
		session.keys = new Map();
	}
	/** Keys of the picked channels. */
	function countOf(doc: Doc): number {
		return [...session.keys.keys()].reduce((sum, id) => sum + (doc.channels[id]?.keys.length ?? 0), 0);
	}
	function offset(change: number) {
		const { keys } = session;
		session.edit('Offset from here on', (doc) => offsetFrom(doc, keys, change));
	}
</script>

{#if extent}
	<div class="flex flex-wrap items-center gap-x-4 gap-y-1.5 border-t border-rule pt-2">
		<h2 class="sheet-title">Together</h2>
		<span class="font-mono text-xs text-muted"
			>f {writeNumber(ticksToFrame(extent.first, session.frameRate), 1)} to {writeNumber(
				ticksToFrame(extent.last, session.frameRate),
				1,
			)}</span
		>
		<label class="flex items-center gap-1.5">
			<span class="text-muted">times</span>
			<NumberField
				label="scale the times in percent"
				value={factor * 100}
				unit=" %"
				digits={1}
				min={1}
				max={10_000}
				class="w-[70px] !min-h-[24px]"
				onpreview={scaleTimes}
				oncommit={(v) => (scaleTimes(v), finish())}
			/>
		</label>
		<label class="flex items-center gap-1.5">
			<span class="text-muted">about</span>
			<select class="field !min-h-[24px]" bind:value={about}>
				<option value="first">the first key</option>
				<option value="last">the last key</option>
				<option value="playhead">the playhead</option>
			</select>
		</label>
		<label class="flex items-center gap-1.5">
			<span class="text-muted">values</span>
			<NumberField
				label="scale the values in percent"
				value={values * 100}
				unit=" %"
				digits={1}
				min={-10_000}
				max={10_000}
				class="w-[70px] !min-h-[24px]"
				onpreview={scaleValue}
				oncommit={(v) => (scaleValue(v), finish())}
			/>
		</label>
		<label class="flex items-center gap-1.5">
			<span class="text-muted">add to these and all later</span>
			<NumberField
				label="add to these and all later values"
				value={0}
				digits={3}
				step={0.05}
				class="w-[64px] !min-h-[24px]"
				oncommit={offset}
			/>
		</label>
		<span class="flex items-center gap-1.5">
			<button type="button" class="btn !min-h-[24px]" onclick={reduce}>fewer keys</button>
			<NumberField
				label="tolerance of fewer keys in percent"
				value={tolerance}
				unit=" %"
				digits={2}
				min={0.01}
				max={50}
				step={0.1}
				class="w-[60px] !min-h-[24px]"
				oncommit={(v) => (tolerance = v)}
			/>
		</span>
		<span class="flex items-center gap-1.5">
			<button type="button" class="btn !min-h-[24px]" onclick={resample}>a key every</button>
			<FrameField
				label="frames between even keys"
				value={every}
				digits={0}
				min={1}
				max={600}
				class="w-[52px] !min-h-[24px]"
				oncommit={(v) => (every = Math.round(v))}
			/>
		</span>
		{#if parts > 1}
			<label class="flex items-center gap-1.5">
				<span class="text-muted">each part later by</span>
				<FrameField
					label="stagger in frames"
					value={delay}
					digits={1}
					min={-600}
					max={600}
					class="w-[60px] !min-h-[24px]"
					onpreview={staggerBy}
					oncommit={(v) => (staggerBy(v), finish())}
				/>
			</label>
			<label class="flex items-center gap-1.5">
				<span class="text-muted">in the order of</span>
				<select class="field !min-h-[24px]" bind:value={by}>
					<option value="order">the lanes</option>
					<option value="depth">what hangs on what</option>
				</select>
			</label>
			<label class="flex items-center gap-1.5"><input type="checkbox" bind:checked={growing} />growing</label>
			<button type="button" class="btn !min-h-[24px]" onclick={() => (staggerBy(delay), finish())}
				>stagger</button
			>
		{/if}
	</div>
{/if}
