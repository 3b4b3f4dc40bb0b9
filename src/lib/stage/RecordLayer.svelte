<script lang="ts">
	import type { Vector3 } from 'three';
	import { AXES, type Component } from '$core/document/types';
	import type { TakeColumn } from '$core/document/takes';
	import { partPath } from '$core/clip/path';
	import { nearestShare, placesBetween } from '$lib/acts/recorded-path';
	import { recorderOf } from '$lib/acts/recorder.svelte';
	import { useSession } from '$lib/session/session.svelte';
	import type { StageScene } from './scene';

	/** Over the stage while it is recorded: the count-in, what goes on, and the pointer where it drives. */
	let { scene }: { scene: StageScene } = $props();
	const session = useSession();
	const recorder = recorderOf(session);

	const isPointer = $derived(recorder.device === 'pointer');
	let held = false;
	/** Where each driven part was taken hold of. */
	let grabbed: { x: number; y: number; places: ReadonlyMap<string, Vector3 | null> } | null = null;
	$effect(() => {
		if (recorder.phase !== 'rest') return;
		grabbed = null;
		path = null;
		held = false;
	});

	/** The path that a part is kept on, and how far along it was last. */
	let path: { places: Float64Array; share: number | null } | null = null;
	function pathNow() {
		const { compiled } = session;
		const part = recorder.path[0]?.part;
		if (!compiled || part === undefined) return null;
		const places = partPath(compiled, part, placesBetween(recorder.recordedSpan), session.posed.pose);
		return { places, share: null };
	}
	function feedPath(moment: Pick<PointerEvent, 'clientX' | 'clientY' | 'timeStamp'>) {
		path ??= pathNow();
		if (!path) return;
		const { places } = path;
		const onScreen = Array.from({ length: places.length / 3 }, (_, i) =>
			scene.projectWorld(places[3 * i], places[3 * i + 1], places[3 * i + 2]),
		);
		path.share = nearestShare(onScreen, scene.placeOf(moment), path.share);
		recorder.feedShare(moment.timeStamp, path.share);
	}

	const axisOf = (component: Component) => AXES.findIndex((axis) => axis === component);
	function offsetOf(column: TakeColumn, way: number, full: number, x: number, y: number): number {
		if (column.property !== 'translation') return way * full;
		const [now, then] = [scene.placeInParent(column.part, x, y), grabbed!.places.get(column.part)];
		const axis = axisOf(column.component);
		return now && then ? now.getComponent(axis) - then.getComponent(axis) : 0;
	}
	/** Half of the stage's width is full way for what is no place. */
	function feed(moment: Pick<PointerEvent, 'clientX' | 'clientY' | 'timeStamp'>, half: number) {
		if (recorder.isAlongPath) {
			feedPath(moment);
			return;
		}
		const { x, y } = scene.placeOf(moment);
		const { driven } = recorder;
		grabbed ??= {
			x,
			y,
			places: new Map(
				[driven.across, driven.up].flatMap((own) =>
					own ? [[own.part, scene.placeInParent(own.part, x, y)] as const] : [],
				),
			),
		};
		recorder.feedOffsets(moment.timeStamp, {
			across: driven.across
				? offsetOf(driven.across, (x - grabbed.x) / half, recorder.reachOf('across'), x, y)
				: 0,
			up: driven.up ? offsetOf(driven.up, (grabbed.y - y) / half, recorder.reachOf('up'), x, y) : 0,
		});
	}
	function onpointermove(event: PointerEvent & { currentTarget: HTMLElement }) {
		if (!isPointer || !recorder.isOn || (recorder.onlyHeld && !held)) return;
		// Before it begins the pointer goes where one wants to begin.
		if (recorder.phase === 'counting' || recorder.round === 0) grabbed = null;
		const coalesced = event.getCoalescedEvents?.() ?? [];
		const half = event.currentTarget.clientWidth / 2;
		for (const own of coalesced.length > 0 ? coalesced : [event]) feed(own, half);
	}
	function release(event: PointerEvent) {
		held = false;
		if (isPointer && recorder.onlyHeld) recorder.feedOffsets(event.timeStamp, null);
	}
</script>

{#if recorder.isOn}
	<div
		class="absolute inset-0 touch-none shadow-[inset_0_0_0_4px_var(--rust)] {isPointer
			? 'cursor-crosshair'
			: 'pointer-events-none'}"
		role="presentation"
		data-record-layer
		onpointerdown={(event) => {
			if (event.button !== 0) return;
			held = true;
			event.currentTarget.setPointerCapture(event.pointerId);
			if (recorder.onlyHeld) grabbed = null;
			if (isPointer) feed(event, event.currentTarget.clientWidth / 2);
		}}
		{onpointermove}
		onpointerup={release}
		onpointercancel={release}
	>
		{#if recorder.phase === 'counting'}
			<p
				class="pointer-events-none absolute inset-0 m-auto flex size-[120px] items-center justify-center rounded-full bg-rust text-[64px] font-semibold text-paper"
				aria-live="assertive"
			>
				{recorder.count}
			</p>
		{/if}
	</div>
	<p
		class="absolute left-1/2 top-12 z-10 flex -translate-x-1/2 items-center gap-2 whitespace-nowrap rounded-md bg-rust px-3 py-1 font-semibold text-paper"
		role="status"
	>
		<span class="size-[9px] rounded-full bg-paper motion-safe:animate-pulse"></span>
		{recorder.phase === 'counting' || recorder.round === 0
			? 'Get ready'
			: `Recording${recorder.goesRound ? ` round ${recorder.round}` : ''} · ${recorder.told} samples`}
		<span class="font-normal">C keeps it, Escape throws it away</span>
	</p>
{/if}

<svelte:window
	onkeydowncapture={(event) => {
		if (event.key !== 'Escape' || !recorder.isOn) return;
		event.preventDefault();
		event.stopPropagation();
		recorder.cancel();
	}}
/>
