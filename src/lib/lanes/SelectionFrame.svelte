<script lang="ts">
	import type { KeySelection } from '$core/edits/keys';
	import { extentOf } from '$core/edits/keys';
	import { scaledSelection, scaleTime, scaleValues } from '$core/edits/retime';
	import { offerWholeFrames } from '$lib/acts/whole-frames';
	import { kindOf } from '$core/document/types';
	import { ticksToFrame } from '$core/time';
	import type { Drag } from '$lib/session/project.svelte';
	import { useSession } from '$lib/session/session.svelte';
	import { writeNumber } from '$lib/ui/number-text';
	import { type LaneView } from './lane-view.svelte';
	import type { Row } from './rows';
	import { makeSnapper, type Snap } from './snap';

	/**
	 * Around several selected keys: its sides scale them in time, its top and foot their values, about the other side or,
	 * with Alt, about the playhead.
	 */
	let { view, rows, onhint }: { view: LaneView; rows: readonly Row[]; onhint: (hint: string) => void } =
		$props();
	const session = useSession();
	const extent = $derived(extentOf(session.selection.keys));
	const shown = $derived.by(() => {
		if (!extent || extent.first === extent.last) return null;
		const picked = rows.filter((row) => row.kind === 'lane' && session.selection.keys.has(row.id));
		if (picked.length === 0) return null;
		const top = Math.min(...picked.map((row) => row.top));
		const bottom = Math.max(...picked.map((row) => row.top + row.height));
		return { left: view.x(extent.first), right: view.x(extent.last), top, height: bottom - top };
	});

	const hasValues = $derived(
		[...session.selection.keys.keys()].some(
			(id) => kindOf(session.doc.channels[id]?.property ?? 'visible') === 'number',
		),
	);

	interface Hold {
		side: 'first' | 'last' | 'top' | 'bottom';
		x: number;
		y: number;
		/** Of the frame, in pixels. */
		height: number;
		snap: Snap;
		keys: KeySelection;
		first: number;
		last: number;
		drag: Drag;
	}
	let hold: Hold | null = null;
	let factor = $state(1);
	/** Pixels along each side of a target. */
	const TARGET = 24;
	/**
	 * Where values are taken hold of: at the middle of the top and the foot; in low lanes, whose keys need that room,
	 * beyond the handle of the side, where there is place for it.
	 */
	const valueHandles = $derived.by(() => {
		if (!shown || !hasValues) return [];
		const { left, right, height } = shown;
		const foot = height - TARGET;
		if (height >= 4 * TARGET) {
			const middle = (left + right) / 2;
			return [
				{ side: 'top', left: middle, top: 0 },
				{ side: 'bottom', left: middle, top: foot },
			] as const;
		}
		// One above the other where both fit, else beside each other.
		const step = height >= 2 * TARGET ? 0 : TARGET;
		const room = 2.25 * TARGET + step;
		const near = 1.75 * TARGET;
		const [at, way] =
			right + room <= view.width
				? [right + near, 1]
				: left >= room
					? [left - near, -1]
					: [Math.min(right, view.width) - near, -1];
		return [
			{ side: 'top', left: at, top: 0 },
			{ side: 'bottom', left: at + way * step, top: foot },
		] as const;
	});

	function down(event: PointerEvent, side: Hold['side']) {
		if (event.button !== 0 || !extent || !shown) return;
		event.stopPropagation();
		(event.currentTarget as Element).setPointerCapture(event.pointerId);
		hold = {
			side,
			x: event.clientX,
			y: event.clientY,
			height: shown.height,
			snap: makeSnapper(session, view, { keys: session.selection.keys }),
			keys: session.selection.keys,
			...extent,
			drag: session.startDrag(side === 'top' || side === 'bottom' ? 'Scale values' : 'Scale in time'),
		};
	}
	function move(event: PointerEvent) {
		if (!hold || !session.clip) return;
		const { side, first, last, keys, drag } = hold;
		if (side === 'top' || side === 'bottom') {
			// The frame's own height more is as much again.
			const out = side === 'top' ? hold.y - event.clientY : event.clientY - hold.y;
			const raw = Math.max(0, 1 + out / hold.height);
			factor = event.ctrlKey ? raw : Math.round(raw * 100) / 100;
			const other = side === 'top' ? ('lowest' as const) : ('highest' as const);
			const about = event.altKey ? { at: Math.round(session.transport.local) } : other;
			drag.update((doc) => scaleValues(doc, keys, factor, about));
			return;
		}
		const from = side === 'first' ? first : last;
		const raw = from + (event.clientX - hold.x) * view.ticksPerPixel;
		const wanted = hold.snap(raw, event.ctrlKey);
		const within = Math.min(session.clip.length, Math.max(0, wanted));
		const pivot = event.altKey ? Math.round(session.transport.local) : side === 'first' ? last : first;
		if (from === pivot) return;
		// Both ends stay within the clip, and keys do not turn about.
		const largest = Math.min(
			last > pivot ? (session.clip.length - pivot) / (last - pivot) : Infinity,
			first < pivot ? pivot / (pivot - first) : Infinity,
		);
		factor = Math.min(largest, Math.max(0.02, (within - pivot) / (from - pivot)));
		drag.update((doc) => ({
			doc: scaleTime(doc, keys, pivot, factor),
			keys: scaledSelection(keys, pivot, factor),
		}));
	}
	function up() {
		hold?.drag.commit();
		if (hold) offerWholeFrames(session, hold.drag.start);
		hold = null;
		factor = 1;
	}
	function cancel() {
		if (!hold) return;
		hold.drag.cancel();
		hold = null;
		factor = 1;
	}
</script>

<svelte:window
	onkeydown={(event) => {
		if (event.key === 'Escape' && hold) cancel();
	}}
/>

{#if shown && extent}
	<div
		class="pointer-events-none absolute overflow-hidden"
		style:left="{view.headerWidth}px"
		style:top="{shown.top}px"
		style:width="{view.width}px"
		style:height="{shown.height}px"
	>
		<div
			class="absolute inset-y-0 border border-dashed border-lake opacity-60"
			style:left="{shown.left}px"
			style:width="{shown.right - shown.left}px"
		></div>
		{#each [['first', shown.left - 11], ['last', shown.right + 4]] as const as [side, left] (side)}
			<button
				type="button"
				class="pointer-events-auto touch-none absolute top-1/2 h-[28px] w-[7px] -translate-y-1/2 cursor-ew-resize rounded-[3px] border border-lake bg-sheet before:absolute before:inset-y-0 before:w-[24px] {side ===
				'first'
					? 'before:right-0'
					: 'before:left-0'}"
				style:left="{left}px"
				aria-label="{side === 'first' ? 'start' : 'end'} of the selected keys: frame {writeNumber(
					ticksToFrame(extent[side], session.frameRate),
					1,
				)}"
				title="Drag: scale the selected keys in time; Alt: about the playhead"
				onpointerdown={(event) => down(event, side)}
				onpointermove={(event) =>
					hold ? move(event) : onhint('drag: scale the selected keys in time; Alt: about the playhead')}
				onpointerup={up}
				onpointercancel={cancel}
			></button>
		{/each}
		{#each valueHandles as { side, left, top } (side)}
			<button
				type="button"
				class="pointer-events-auto touch-none absolute flex size-[24px] -translate-x-1/2 cursor-ns-resize justify-center {side ===
				'top'
					? 'items-start'
					: 'items-end'}"
				style:left="{left}px"
				style:top="{top}px"
				aria-label="{side} of the selected keys: scale their values"
				title="Drag: scale the selected values about the other side; Alt: about the value at the playhead"
				onpointerdown={(event) => down(event, side)}
				onpointermove={(event) =>
					hold
						? move(event)
						: onhint('drag: scale the selected values; Alt: about the value at the playhead')}
				onpointerup={up}
				onpointercancel={cancel}
			>
				<span class="h-[7px] w-6 rounded-[3px] border border-ochre bg-sheet"></span>
			</button>
		{/each}
		{#if factor !== 1}
			<span
				class="absolute top-1 rounded bg-lake px-1 font-mono text-xs text-paper"
				style:left="{shown.left + 4}px">{writeNumber(factor * 100, 1)} %</span
			>
		{/if}
	</div>
{/if}
