<script lang="ts">
	import { channelsOfClip, kindOf } from '$core/document/types';
	import { onDestroy, untrack } from 'svelte';
	import { indexAt } from '$core/curve/edit';
	import { insertKey } from '$core/edits/keys';
	import { clamp, ticksToFrame } from '$core/time';
	import type { Command } from '$lib/ui/command';
	import { pickedKeys } from '$lib/session/selection.svelte';
	import { useSession } from '$lib/session/session.svelte';
	import { cancelFrame, nextPicture } from '$lib/ui/frames';
	import { writeNumber } from '$lib/ui/number-text';
	import { drawLanes } from './draw';
	import { handlePoints } from './draw-keys';
	import { dragLife } from './drag-life';
	import { bendSpan, dragHandle, dragKeys, pickWithin, type Gesture, type Pointer } from './gestures';
	import { cursorFor, FINGER, hintFor, hitTest, type Area, type Hit } from './hit';
	import FormulaHeader from './FormulaHeader.svelte';
	import KeyGrid from './KeyGrid.svelte';
	import KeysMenu from './KeysMenu.svelte';
	import RootTarget from './RootTarget.svelte';
	import { LaneSheet } from './lane-sheet.svelte';
	import LaneHeader from './LaneHeader.svelte';
	import LanesFoot from './LanesFoot.svelte';
	import SeamView from './SeamView.svelte';
	import SelectionFrame from './SelectionFrame.svelte';
	import { HEADER_WIDTH, NARROW_HEADER, type LaneView } from './lane-view.svelte';
	import { narrow } from '$lib/ui/narrow';
	import PartHeader from './PartHeader.svelte';
	import { readPalette } from './picture';
	import Ruler from './Ruler.svelte';
	import { isFiltering } from './row-filter';
	import type { LaneRow } from './rows';
	import { valueAt } from './scale';
	import { makeSnapper } from './snap';
	import { speedTold } from './speed-told';
	import { TwoFingers } from './two-fingers';

	interface Props {
		view: LaneView;
		theme: string;
		commands: readonly Command[];
		onhint: (hint: string) => void;
	}
	let { view, theme, commands, onhint }: Props = $props();
	const session = useSession();
	const { transport } = session;

	let scroller: HTMLDivElement;
	let canvas: HTMLCanvasElement;
	// The view is the same for as long as the room is open.
	const sheet = untrack(() => new LaneSheet(session, view));
	let viewWidth = $state(780);
	let guide = $state<number | null>(null);
	let box = $state.raw<Area | null>(null);
	let gesture: Gesture | null = null;
	const clip = $derived(session.clip);
	const { layout, visible, picture } = $derived(sheet);

	$effect(() => {
		void theme;
		sheet.palette = readPalette(scroller);
	});
	$effect(() => {
		view.headerWidth = narrow.current ? NARROW_HEADER : HEADER_WIDTH;
		view.width = Math.max(100, viewWidth - view.headerWidth);
	});
	$effect(() => {
		if (clip && viewWidth > view.headerWidth)
			untrack(() => view.open(clip, channelsOfClip(session.doc, clip.id).length === 0));
	});

	// What is picked elsewhere, or is to be named, comes into sight.
	$effect(() => {
		const id = session.asks.partName ?? session.selection.partId;
		untrack(() => {
			const row = layout.rows.find((candidate) => candidate.kind === 'part' && candidate.id === id);
			if (!row || (row.top >= sheet.scrollTop && row.top + row.height <= sheet.scrollTop + sheet.height))
				return;
			// After the layout that the pick itself may change.
			requestAnimationFrame(() => scroller?.scrollTo({ top: Math.max(0, row.top - sheet.height / 3) }));
		});
	});

	function draw() {
		const now = picture;
		const c = canvas?.getContext('2d');
		if (!now || !c) return;
		const ratio = Math.min(2, window.devicePixelRatio || 1);
		const [w, h] = [Math.round(now.width * ratio), Math.round(now.height * ratio)];
		if (canvas.width !== w || canvas.height !== h) {
			canvas.width = w;
			canvas.height = h;
		}
		c.setTransform(ratio, 0, 0, ratio, 0, 0);
		drawLanes(c, now);
	}
	$effect(() => {
		if (picture) nextPicture(draw);
	});
	onDestroy(() => cancelFrame(draw));

	let dragging = $state(false);

	function pointerOf(event: PointerEvent | MouseEvent): Pointer {
		const bounds = canvas.getBoundingClientRect();
		return {
			x: event.clientX - bounds.left,
			y: event.clientY - bounds.top,
			shift: event.shiftKey,
			ctrl: event.ctrlKey || event.metaKey,
		};
	}

	function begin(made: Gesture): void {
		sheet.freeze();
		dragging = true;
		const thaw = () => {
			sheet.thaw();
			dragging = false;
		};
		gesture = {
			move: made.move,
			end: () => (thaw(), made.end()),
			cancel: () => (thaw(), made.cancel()),
		};
	}

	function pickForDrag(id: string, t: number, add: boolean): void {
		if (session.selection.keys.get(id)?.has(t)) {
			if (!add) session.selection.takeInHand(id);
			return;
		}
		const next = new Map<string, ReadonlySet<number>>(add ? session.selection.keys : []);
		next.set(id, new Set([...(next.get(id) ?? []), t]));
		session.selection.pickKeys(next);
	}

	function marquee(start: Pointer): Gesture {
		const lanes = layout.rows.filter((row): row is LaneRow => row.kind === 'lane');
		return pickWithin(session, picture!, lanes, sheet.scrollTop, start, (area) => (box = area));
	}

	function gestureFor(hit: Hit, start: Pointer): Gesture {
		const now = picture!;
		const showGuide = (t: number | null) => (guide = t);
		// After the keys that move have been picked: they draw nothing themselves.
		const snapper = () => makeSnapper(session, view, { keys: session.selection.keys });
		switch (hit.kind) {
			case 'key':
				pickForDrag(hit.row.id, hit.t, start.shift);
				return dragKeys(session, now, hit.row, hit.t, start, snapper(), showGuide);
			case 'bar':
				session.selection.pickKeys(new Map([[hit.row.id, new Set(hit.ends)]]));
				return dragKeys(session, now, null, hit.t, start, snapper(), showGuide);
			case 'life':
				return dragLife(session, now, hit, start, snapper(), showGuide);
			case 'column': {
				const keys = new Map<string, ReadonlySet<number>>(start.shift ? session.selection.keys : []);
				for (const channel of hit.row.channels) {
					if (indexAt(channel.keys, hit.t) >= 0)
						keys.set(channel.id, new Set([...(keys.get(channel.id) ?? []), hit.t]));
				}
				session.selection.pickKeys(keys);
				return dragKeys(session, now, null, hit.t, start, snapper(), showGuide);
			}
			case 'handle': {
				const index = indexAt(hit.row.channel.keys, hit.t);
				const from = handlePoints(hit.row, index, now.context(hit.row)).find(
					(point) => point.side === hit.side,
				)!;
				return dragHandle(session, now, hit.row, hit.t, hit.side, start, from);
			}
			case 'span':
				session.selection.pickKeys(new Map([[hit.row.id, new Set([hit.t])]]));
				return bendSpan(session, hit.row, hit.t, start);
			case 'formula':
				session.selection.pickChannel(hit.row.id);
				return marquee(start);
			default:
				if (hit.kind === 'lane') session.selection.takeInHand(hit.row.id);
				return marquee(start);
		}
	}

	function isLocked(hit: Hit): boolean {
		return (
			'row' in hit && session.view.lockedParts.has(hit.row.kind === 'part' ? hit.row.id : hit.row.part.id)
		);
	}

	const fingers = new TwoFingers();
	const fingerOf = (event: PointerEvent) => ({ id: event.pointerId, ...pointerOf(event) });
	function pinch(event: PointerEvent) {
		const pinched = fingers.move(fingerOf(event));
		if (!pinched || !clip) return;
		view.zoom(pinched.zoom, pinched.x, clip);
		view.pan(-pinched.dx, clip);
		scroller.scrollTop -= pinched.dy;
		view.remember();
	}

	function onpointerdown(event: PointerEvent) {
		if (event.button !== 0 && event.pointerType !== 'touch') return;
		if (!picture) return;
		if (event.pointerType === 'touch') fingers.down(fingerOf(event));
		// What the first finger began was no drag.
		if (fingers.areDown) return cancelGesture();
		scroller.focus({ preventScroll: true });
		const start = pointerOf(event);
		const hit = hitTest(picture, start.x, start.y, event.pointerType === 'touch' ? FINGER : 1);
		canvas.setPointerCapture(event.pointerId);
		begin(isLocked(hit) ? marquee(start) : gestureFor(hit, start));
	}
	function onpointermove(event: PointerEvent) {
		if (fingers.areDown) return pinch(event);
		fingers.move(fingerOf(event));
		const pointer = pointerOf(event);
		if (gesture) gesture.move(pointer);
		else if (picture) {
			const hit = hitTest(picture, pointer.x, pointer.y);
			sheet.pointed = 'row' in hit && hit.row.kind !== 'part' ? hit.row.id : null;
			canvas.style.cursor = isLocked(hit) ? 'not-allowed' : cursorFor(hit);
			onhint(
				isLocked(hit)
					? 'this part is locked'
					: `${hintFor(hit)}${speedTold(session, picture, hit, pointer.x)}`,
			);
		}
	}
	function endGesture() {
		gesture?.end();
		gesture = null;
	}
	function cancelGesture() {
		gesture?.cancel();
		gesture = null;
	}

	function ondblclick(event: MouseEvent) {
		if (!picture || !clip) return;
		const pointer = pointerOf(event);
		const hit = hitTest(picture, pointer.x, pointer.y);
		if ((hit.kind !== 'lane' && hit.kind !== 'span' && hit.kind !== 'bar') || isLocked(hit)) return;
		const at = clamp(view.ticksAt(pointer.x), 0, clip.length);
		const t = makeSnapper(session, view)(at, pointer.ctrl);
		session.edit('Set key', (doc) => ({
			doc: insertKey(doc, hit.row.id, t),
			...pickedKeys(new Map([[hit.row.id, new Set([t])]])),
		}));
	}

	/** The key under the pointer is picked before its menu opens. */
	function oncontextmenu(event: MouseEvent) {
		if (!picture) return;
		const pointer = pointerOf(event);
		const hit = hitTest(picture, pointer.x, pointer.y);
		if (hit.kind === 'key') pickForDrag(hit.row.id, hit.t, false);
		else if (hit.kind === 'lane' || hit.kind === 'span' || hit.kind === 'bar')
			session.selection.takeInHand(hit.row.id);
	}

	/** The value under the pointer stays where it is while its lane shows more or less around it. */
	function zoomValue(event: WheelEvent) {
		const pointer = pointerOf(event);
		const row = layout.rows.find(
			(candidate) =>
				candidate.kind === 'lane' &&
				pointer.y + sheet.scrollTop >= candidate.top &&
				pointer.y + sheet.scrollTop < candidate.top + candidate.height,
		);
		if (row?.kind !== 'lane' || kindOf(row.channel.property) !== 'number') return;
		const range = picture!.range(row);
		const at = valueAt(pointer.y + sheet.scrollTop - row.top, range, row.height);
		view.zoomValue(row.id, range, Math.exp(event.deltaY * 0.0016), at);
	}

	function onwheel(event: WheelEvent) {
		if (!clip) return;
		if (event.altKey) {
			event.preventDefault();
			zoomValue(event);
		} else if (event.ctrlKey || event.metaKey) {
			event.preventDefault();
			const x = event.clientX - canvas.getBoundingClientRect().left;
			view.zoom(Math.exp(event.deltaY * 0.0016), x, clip);
			view.remember();
		} else if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) {
			event.preventDefault();
			view.pan(event.deltaX || event.deltaY, clip);
			view.remember();
		}
	}
	$effect(() => {
		scroller.addEventListener('wheel', onwheel, { passive: false });
		return () => scroller.removeEventListener('wheel', onwheel);
	});
</script>

<svelte:window
	onkeydown={(event) => {
		if (event.key === 'Escape' && gesture) cancelGesture();
	}}
/>

<section
	class="relative flex h-full min-h-0 flex-col bg-paper"
	aria-label="lanes"
	bind:clientWidth={viewWidth}
>
	<Ruler {view} {commands} {onhint} />
	<RootTarget {view} />
	<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
	<div
		bind:this={scroller}
		bind:clientHeight={sheet.height}
		class="relative min-h-0 flex-1 overflow-x-hidden overflow-y-auto outline-none focus-visible:shadow-[inset_0_0_0_2px_var(--lake)]"
		tabindex="0"
		role="region"
		aria-label="channels over time"
		onscroll={() => (sheet.scrollTop = scroller.scrollTop)}
	>
		<div class="relative" style:height="{Math.max(layout.height + 12, sheet.height)}px">
			<KeysMenu {commands} {oncontextmenu}>
				<canvas
					bind:this={canvas}
					class="block touch-none"
					style:margin-left="{view.headerWidth}px"
					style:width="{view.width}px"
					style:height="{sheet.height}px"
					aria-hidden="true"
					data-lanes-canvas
					{onpointerdown}
					{onpointermove}
					onpointerup={(event) => {
						fingers.up(event.pointerId);
						endGesture();
					}}
					onpointercancel={(event) => {
						fingers.up(event.pointerId);
						cancelGesture();
					}}
					onpointerleave={() => (sheet.pointed = null)}
					{ondblclick}
				></canvas>
			</KeysMenu>
			{#each visible as row (row.kind + row.id)}
				{#if row.kind === 'part'}<PartHeader
						{row}
						{view}
						{commands}
					/>{:else if row.kind === 'lane'}<LaneHeader {row} rows={layout.rows} {view} />{:else}<FormulaHeader
						{row}
						{view}
					/>{/if}
			{/each}
			<KeyGrid {view} {picture} {dragging} />
			{#if !box}<SelectionFrame {view} rows={layout.rows} {onhint} />{/if}
			{#if box}
				<div
					class="pointer-events-none absolute border border-lake bg-lake/10"
					style:left="{view.headerWidth + box.left}px"
					style:top="{box.top}px"
					style:width="{box.right - box.left}px"
					style:height="{box.bottom - box.top}px"
				></div>
			{/if}
			{#if layout.rows.length === 0}
				<p class="absolute left-[150px] top-6 md:left-[278px] max-w-[360px] px-4 text-muted">
					{#if isFiltering(view.filter)}
						No lane matches the filter.
					{:else}
						Nothing moves here yet. Add a part, select it, turn on <strong>Auto-key</strong>, and move it on
						the stage.
					{/if}
				</p>
			{/if}
		</div>
	</div>
	<div
		class="pointer-events-none absolute right-0 top-[58px] overflow-hidden"
		style:left="{view.headerWidth}px"
		style:height="{sheet.height}px"
	>
		<div
			class="absolute bottom-0 top-0 w-px bg-rust"
			style:transform="translateX({Math.round(view.x(transport.local))}px)"
		></div>
		{#if guide !== null}
			<div class="absolute bottom-0 top-0 w-px bg-lake" style:transform="translateX({view.x(guide)}px)"></div>
			<span
				class="absolute top-1 rounded bg-lake px-1 font-mono text-xs text-paper"
				style:transform="translateX({view.x(guide) + 5}px)"
				>f {writeNumber(ticksToFrame(guide, session.frameRate), 1)}</span
			>
		{/if}
	</div>
	{#if view.showSeam && clip && clip.loop.mode !== 'once'}<SeamView />{/if}
	<LanesFoot {view} stillParts={layout.stillParts} loops={clip !== null && clip.loop.mode !== 'once'} />
</section>
