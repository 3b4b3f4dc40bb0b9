<script lang="ts">
	import { extentOf } from '$core/edits/keys';
	import {
		moveEach,
		offsetFrom,
		scaledSelection,
		scaleTime,
		scaleValues,
		staggerTicks,
		withinClip,
		type StaggerBy,
	} from '$core/edits/retime';
	import { reduceKeys, resampleKeys } from '$core/edits/reduce';
	import { goesRound, shiftRound } from '$core/edits/round';
	import type { Doc } from '$core/document/types';
	import { offerWholeFrames } from '$lib/acts/whole-frames';
	import { toast } from 'svelte-sonner';
	import { frameToTicks, ticksToFrame } from '$core/time';
	import type { Drag } from '$lib/session/project.svelte';
	import { NO_KEYS } from '$lib/session/selection.svelte';
	import { useSession } from '$lib/session/session.svelte';
	import FrameField from '$lib/session/FrameField.svelte';
	import CleanRow from './CleanRow.svelte';
	import Labelled from '$lib/ui/Labelled.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import { writeNumber } from '$lib/ui/number-text';

	/** Edits of several selected keys at once: each field shows what it will do while it is scrubbed. */
	const session = useSession();
	const extent = $derived(extentOf(session.selection.keys));
	let about = $state<'first' | 'playhead' | 'last'>('first');
	/** Frames that a stagger takes while it is scrubbed. */
	let delay = $state(0);
	let growing = $state(false);
	let by = $state<StaggerBy>('order');
	const repeats = $derived(session.clip?.loop.mode === 'repeat');
	/** Whole channels move round the loop, instead of selected keys within the clip. */
	let round = $state(true);
	/** What kept a stagger from going as far as was asked for. */
	let told = '';
	let tolerance = $state(1);
	let every = $state(4);

	let drag: Drag | null = null;
	let before = session.selection.keys;
	let factor = $state(1);
	let values = $state(1);

	function begin(label: string): Drag {
		if (!drag) {
			before = session.selection.keys;
			drag = session.startDrag(label);
		}
		return drag;
	}
	function finish() {
		if (told !== '') toast(told);
		told = '';
		drag?.commit();
		if (drag) offerWholeFrames(session, drag.start);
		drag = null;
		factor = 1;
		values = 1;
		delay = 0;
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
		// The selected keys stay within the clip.
		let limit = Infinity;
		if (whole.last > at) limit = Math.min(limit, (session.clip.length - at) / (whole.last - at));
		if (whole.first < at) limit = Math.min(limit, at / (at - whole.first));
		factor = Math.min(limit, Math.max(0.01, percent / 100));
		going.update((doc) => ({
			doc: scaleTime(doc, before, at, factor),
			keys: scaledSelection(before, at, factor),
		}));
	}
	function scaleValue(percent: number) {
		values = percent / 100;
		begin('Scale in value').update((doc) => scaleValues(doc, before, values));
	}
	function staggerBy(frames: number) {
		if (!session.clip) return;
		delay = frames;
		const going = begin('Stagger');
		const wanted = staggerTicks(going.start, before, frameToTicks(frames, session.frameRate), growing, by);
		if (repeats && round) {
			going.update((start) => {
				const doc = [...wanted].reduce((next, [id, ticks]) => shiftRound(next, id, ticks), start);
				return { doc, keys: allKeysOf(doc, before.keys()) };
			});
			told = whatStays([...wanted.keys()]);
			return;
		}
		const ticks = withinClip(before, wanted, session.clip.length);
		told = [...ticks].some(([id, own]) => own !== wanted.get(id))
			? 'The clip ends there: a longer one has room for more'
			: '';
		going.update((doc) => ({
			doc: moveEach(doc, before, ticks),
			keys: new Map(
				[...before].map(([id, times]) => [id, new Set([...times].map((t) => t + ticks.get(id)!))]),
			),
		}));
	}
	function goRound(frames: number) {
		const { keys } = session.selection;
		const ticks = frameToTicks(frames, session.frameRate);
		session.edit('Shift around the loop', (start) => {
			const doc = [...keys.keys()].reduce((next, id) => shiftRound(next, id, ticks), start);
			return { doc, keys: allKeysOf(doc, keys.keys()) };
		});
		const stays = whatStays([...keys.keys()]);
		if (stays !== '') toast(stays);
	}
	function whatStays(ids: readonly string[]): string {
		const count = ids.filter((id) => !goesRound(session.doc, session.doc.channels[id])).length;
		if (count === 0) return '';
		return `${count === 1 ? 'One channel goes' : `${count} channels go`} on beyond the keys, and stay${count === 1 ? 's' : ''} in place`;
	}
	/** Round a loop keys come and go at its ends: the whole channels stay picked. */
	function allKeysOf(doc: Doc, ids: Iterable<string>): Map<string, Set<number>> {
		return new Map([...ids].map((id) => [id, new Set((doc.channels[id]?.keys ?? []).map((key) => key.t))]));
	}
	function reduce() {
		const { keys } = session.selection;
		const before = countOf(session.doc);
		let after = before;
		session.edit('Reduce keys', (start) => {
			const doc = reduceKeys(start, keys, tolerance / 100);
			after = countOf(doc);
			return { doc, keys: NO_KEYS };
		});
		toast(`${before} keys became ${after}, within ${tolerance} % of the range`);
	}
	function resample() {
		const { keys } = session.selection;
		session.edit('Resample keys', (doc) => ({
			doc: resampleKeys(doc, keys, frameToTicks(every, session.frameRate)),
			keys: NO_KEYS,
		}));
	}
	/** Keys of the selected channels. */
	function countOf(doc: Doc): number {
		return [...session.selection.keys.keys()].reduce(
			(sum, id) => sum + (doc.channels[id]?.keys.length ?? 0),
			0,
		);
	}
	function offset(change: number) {
		const { keys } = session.selection;
		session.edit('Offset from here on', (doc) => offsetFrom(doc, keys, change));
	}
</script>

{#if extent}
	<div class="flex flex-wrap items-center gap-x-4 gap-y-1.5 border-t border-rule pt-2">
		<h2 class="sheet-title">Selected keys</h2>
		<span class="font-mono text-xs text-muted"
			>frames {writeNumber(ticksToFrame(extent.first, session.frameRate), 1)} to {writeNumber(
				ticksToFrame(extent.last, session.frameRate),
				1,
			)}</span
		>
		<Labelled text="scale time">
			<NumberField
				label="scale the times in percent"
				field="keys-times"
				value={factor * 100}
				unit=" %"
				digits={1}
				min={1}
				max={10_000}
				class="w-[70px] !min-h-[24px]"
				onpreview={scaleTimes}
				oncommit={(v) => (scaleTimes(v), finish())}
			/>
		</Labelled>
		<Labelled text="about">
			<select class="field !min-h-[24px]" bind:value={about}>
				<option value="first">First key</option>
				<option value="last">Last key</option>
				<option value="playhead">Playhead</option>
			</select>
		</Labelled>
		<Labelled text="scale values">
			<NumberField
				label="scale the values in percent"
				field="keys-values"
				value={values * 100}
				unit=" %"
				digits={1}
				min={-10_000}
				max={10_000}
				class="w-[70px] !min-h-[24px]"
				onpreview={scaleValue}
				oncommit={(v) => (scaleValue(v), finish())}
			/>
		</Labelled>
		<Labelled text="offset these and later by">
			<NumberField
				label="offset these and all later values"
				field="keys-offset"
				value={0}
				digits={3}
				step={0.05}
				class="w-[64px] !min-h-[24px]"
				oncommit={offset}
			/>
		</Labelled>
		<span class="flex items-center gap-1.5">
			<button type="button" class="btn !min-h-[24px]" onclick={reduce}>Reduce keys</button>
			<NumberField
				label="tolerance of reduced keys in percent"
				field="keys-reduce"
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
			<button type="button" class="btn !min-h-[24px]" onclick={resample}>Resample every</button>
			<FrameField
				label="frames between resampled keys"
				field="keys-resample"
				value={every}
				digits={0}
				min={1}
				max={600}
				class="w-[52px] !min-h-[24px]"
				oncommit={(v) => (every = Math.round(v))}
			/>
		</span>
		<CleanRow />
		{#if repeats}
			<Labelled text="shift around the loop by">
				<FrameField
					label="shift around the loop in frames"
					field="keys-round"
					value={0}
					digits={1}
					min={-18_000}
					max={18_000}
					class="w-[60px] !min-h-[24px]"
					oncommit={goRound}
				/>
			</Labelled>
		{/if}
		{#if session.selection.parts.size > 1}
			<Labelled text="stagger by">
				<FrameField
					label="stagger in frames"
					field="keys-stagger"
					value={delay}
					digits={1}
					min={-600}
					max={600}
					class="w-[60px] !min-h-[24px]"
					onpreview={staggerBy}
					oncommit={(v) => (staggerBy(v), finish())}
				/>
			</Labelled>
			<Labelled text="in order of">
				<select class="field !min-h-[24px]" bind:value={by}>
					<option value="order">Lanes</option>
					<option value="depth">Hierarchy</option>
				</select>
			</Labelled>
			<label class="flex items-center gap-1.5"><input type="checkbox" bind:checked={growing} />Growing</label>
			{#if repeats}
				<label
					class="flex items-center gap-1.5"
					title="Whole channels, and what passes the end comes in at the start"
					><input type="checkbox" bind:checked={round} />Around the loop</label
				>
			{/if}
		{/if}
	</div>
{/if}
