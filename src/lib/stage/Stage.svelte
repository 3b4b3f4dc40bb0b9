<script lang="ts">
	import { onMount, untrack } from 'svelte';
	import { toast } from 'svelte-sonner';
	import { Matrix4, Vector3 } from 'three';
	import Maximize from '@lucide/svelte/icons/maximize';
	import { evaluateRound, POSE_STRIDE } from '$core/clip/compile';
	import { movePivot } from '$core/document/edits/pivot';
	import { AXES, channelsOfClip, type Vec3 } from '$core/document/types';
	import { useSession, type Drag } from '$lib/session/session.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import { writeNumber } from '$lib/ui/number-text';
	import { partPath } from '$core/pose/path';
	import { frameToTicks, ticksToFrame } from '$core/time';
	import type { GhostPose } from './ghosts';
	import { placePart, whyStuck, type Placement } from './move-part';
	import { StageScene, type ViewName } from './scene';

	let { theme, onhint }: { theme: string; onhint: (hint: string) => void } = $props();
	const session = useSession();

	let box: HTMLElement;
	let canvas: HTMLCanvasElement;
	let scene = $state.raw<StageScene | null>(null);
	let width = $state(0);
	let height = $state(0);
	let view = $state<ViewName>('perspective');
	let failed = $state(false);
	const isWorld = $derived(session.doc.project.space === 'world');
	const views = $derived<ViewName[]>(isWorld ? ['perspective', 'front', 'side', 'top'] : ['screen']);

	interface Gizmo {
		x: number;
		y: number;
		arms: { axis: 0 | 1 | 2; x: number; y: number; dx: number; dy: number }[];
		turn: { axis: 0 | 1 | 2; sign: 1 | -1 };
	}
	let gizmo = $state.raw<Gizmo | null>(null);
	const ARM = 58;
	const RING = 40;

	function colours() {
		const style = getComputedStyle(box);
		const read = (name: string) => style.getPropertyValue(name).trim();
		return {
			ink: read('--outline'),
			contour: read('--contour'),
			rust: read('--rust'),
			past: read('--heather'),
			coming: read('--lake'),
		};
	}

	onMount(() => {
		// A picture takes a moment to be made ready: the lanes are drawn first.
		let waiting = requestAnimationFrame(() => {
			waiting = requestAnimationFrame(start);
		});
		return () => {
			cancelAnimationFrame(waiting);
			scene?.destroy();
		};
	});

	function start() {
		try {
			scene = new StageScene(canvas, colours());
		} catch {
			failed = true;
			return;
		}
		scene.onrender = () => {
			placeGizmo();
			placeWay();
		};
		// Labels are drawn with the shipped font: again once it is there.
		void document.fonts.ready.then(() => scene && redraw());
		scene.setDocument(session.doc, session.tree);
		view = isWorld ? 'front' : 'screen';
	}

	function redraw() {
		scene?.setColours(colours());
		scene?.setDocument(session.doc, session.tree);
		if (session.compiled) scene?.setPose(session.compiled, session.pose, (id) => session.isHidden(id));
	}

	$effect(() => {
		void theme;
		// Only a change of the theme draws everything anew.
		if (scene) untrack(redraw);
	});
	$effect(() => {
		scene?.setDocument(session.doc, session.tree);
	});
	$effect(() => {
		if (scene && session.compiled)
			scene.setPose(session.compiled, session.pose, (id) => session.isHidden(id));
	});
	$effect(() => {
		scene?.resize(width, height);
	});
	$effect(() => {
		if (scene && width > 2) scene.setView(view);
	});
	$effect(() => {
		void session.partId;
		scene?.request();
	});

	/** The way of the picked part, a dot a frame: near dots are slow, far ones fast. */
	const MOST_DOTS = 400;
	const way = $derived.by(() => {
		const { compiled, clip, partId } = session;
		if (!session.showPath || !compiled || !clip || partId === null || !compiled.indexOfPart.has(partId))
			return null;
		const frames = Math.max(1, Math.round(ticksToFrame(clip.length, session.frameRate)));
		const step = Math.max(1, Math.ceil(frames / MOST_DOTS));
		const ticks: number[] = [];
		for (let frame = 0; frame <= frames; frame += step)
			ticks.push(Math.min(clip.length, frameToTicks(frame, session.frameRate)));
		const keyed = [
			...new Set(
				channelsOfClip(session.doc, clip.id)
					.filter((channel) => channel.part === partId && channel.property === 'translation')
					.flatMap((channel) => channel.keys.map((key) => key.t)),
			),
		].filter((t) => t <= clip.length);
		return { places: partPath(compiled, partId, ticks), keys: partPath(compiled, partId, keyed) };
	});
	/** The way as SVG paths: its line, a round dot a frame, and one for each key. One path each, since there are many. */
	let drawnWay = $state.raw<{ line: string; dots: string; keys: string } | null>(null);
	function placeWay() {
		if (!scene || !way) {
			drawnWay = null;
			return;
		}
		const placed = (places: Float64Array) =>
			Array.from({ length: places.length / 3 }, (_, i) =>
				scene!.projectWorld(places[3 * i], places[3 * i + 1], places[3 * i + 2]),
			);
		const dots = placed(way.places);
		if (dots.every((dot) => Math.hypot(dot.x - dots[0].x, dot.y - dots[0].y) < 2)) {
			drawnWay = null;
			return;
		}
		const text = ({ x, y }: { x: number; y: number }) => `${x.toFixed(1)} ${y.toFixed(1)}`;
		const points = (list: readonly { x: number; y: number }[]) => list.map((p) => `M${text(p)}h0`).join('');
		drawnWay = { line: `M${dots.map(text).join('L')}`, dots: points(dots), keys: points(placed(way.keys)) };
	}
	$effect(() => {
		void way;
		scene?.request();
	});

	/** Parts that move in the pinned version and hang on none that does. */
	const twins = $derived.by(() => {
		const compiled = session.pinnedClip;
		if (!compiled) return [];
		const moving = new Set([
			...compiled.channels.map(({ channel }) => channel.part),
			...compiled.formulas.order.map(({ formula }) => formula.part),
		]);
		return [...moving].filter((id) => {
			for (
				let at = session.doc.parts[id]?.parent ?? null;
				at !== null;
				at = session.doc.parts[at]?.parent ?? null
			)
				if (moving.has(at)) return false;
			return true;
		});
	});
	$effect(() => {
		const compiled = session.pinnedClip;
		if (!scene) return;
		if (!compiled) {
			scene.setTwin([], null, null);
			return;
		}
		scene.setTwin(twins, compiled, session.poseOf(compiled));
	});

	const GHOSTS = 3;
	$effect(() => {
		const { compiled, clip, partId, transport } = session;
		if (!scene) return;
		if (
			!session.showGhosts ||
			!compiled ||
			!clip ||
			partId === null ||
			transport.playing ||
			!compiled.indexOfPart.has(partId)
		) {
			scene.setGhosts(null, null, []);
			return;
		}
		const step = frameToTicks(session.ghostStep, session.frameRate);
		const poses: GhostPose[] = [];
		for (let i = -GHOSTS; i <= GHOSTS; i++) {
			const t = transport.local + i * step;
			if (i === 0 || t < 0 || t > clip.length) continue;
			const pose = new Float64Array(session.pose.length);
			evaluateRound(compiled, t, 0, pose);
			poses.push({ pose, past: i < 0, distance: (Math.abs(i) - 1) / GHOSTS });
		}
		scene.setGhosts(partId, compiled, poses);
	});

	function placeGizmo() {
		const id = session.partId;
		const group = id ? scene?.groupOf(id) : null;
		if (!scene || !id || !group?.parent || session.lockedParts.has(id)) {
			gizmo = null;
			return;
		}
		const centre = scene.project(group, new Vector3());
		const arms = ([0, 1, 2] as const).flatMap((axis) => {
			const unit = scene!.unitOnScreen(id, axis);
			const length = Math.hypot(unit.x, unit.y);
			const scale = isWorld ? length : length * 100;
			// An axis that points at the eye has no arm.
			if (scale < 6) return [];
			const [dx, dy] = [unit.x / length, unit.y / length];
			return [{ axis, x: centre.x + dx * ARM, y: centre.y + dy * ARM, dx, dy }];
		});
		gizmo = { ...centre, arms, turn: scene.facingAxis(id) };
	}

	interface Hold {
		kind: 'arm' | 'free' | 'turn' | 'pivot';
		axis: 0 | 1 | 2;
		x: number;
		y: number;
		from: number[];
		grabbed: Vector3 | null;
		angle: number;
		/** For the pivot: from the world into the part as it was. */
		toPart: Matrix4 | null;
		drag: Drag;
		place: Placement;
	}
	let hold: Hold | null = null;

	function poseOf(part: string): number[] {
		const index = session.compiled?.indexOfPart.get(part) ?? 0;
		return Array.from(session.pose.subarray(index * POSE_STRIDE, (index + 1) * POSE_STRIDE));
	}
	function local(event: PointerEvent) {
		const bounds = canvas.getBoundingClientRect();
		return { x: event.clientX - bounds.left, y: event.clientY - bounds.top };
	}

	function grab(event: PointerEvent, kind: Hold['kind'], axis: 0 | 1 | 2) {
		if (event.button !== 0 || !session.partId || !session.clip || !scene || !gizmo) return;
		event.stopPropagation();
		session.transport.stop();
		const part = session.partId;
		const place = {
			clip: session.clip.id,
			part,
			t: Math.round(session.transport.local),
			autoKey: session.autoKey,
		};
		if (kind === 'free' && session.pivotMode) {
			grabPivot(event, place);
			return;
		}
		const property = kind === 'turn' ? 'rotation' : 'translation';
		const axes = kind === 'free' ? gizmo.arms.map((arm) => arm.axis) : [axis];
		const stuck = axes.map((a) => whyStuck(session.doc, place, property, a)).find((why) => why !== null);
		if (stuck) {
			toast('It cannot be moved by hand here', { description: stuck });
			return;
		}
		const { x, y } = local(event);
		(event.currentTarget as Element).setPointerCapture(event.pointerId);
		hold = {
			kind,
			axis,
			x,
			y,
			from: poseOf(part),
			grabbed: scene.placeInParent(part, x, y),
			angle: Math.atan2(y - gizmo.y, x - gizmo.x),
			toPart: null,
			drag: session.startDrag(kind === 'turn' ? `Turn ${session.part?.name}` : `Move ${session.part?.name}`),
			place,
		};
	}

	function grabPivot(event: PointerEvent, place: Placement) {
		const { part } = place;
		const toPart = scene!.worldToPart(part);
		if (!toPart) return;
		const { x, y } = local(event);
		(event.currentTarget as Element).setPointerCapture(event.pointerId);
		hold = {
			kind: 'pivot',
			axis: 0,
			x,
			y,
			from: poseOf(part),
			grabbed: scene!.placeInPart(part, x, y, toPart),
			angle: 0,
			toPart,
			drag: session.startDrag(`Move the pivot of ${session.part?.name}`),
			place,
		};
	}

	const round = (v: number, event: PointerEvent) => {
		const step = isWorld ? 0.01 : 1;
		return event.ctrlKey ? v : Math.round(v / step) / Math.round(1 / step);
	};

	function moveHold(event: PointerEvent) {
		if (!hold || !scene || !gizmo) return;
		const { x, y } = local(event);
		const { place, from, axis, drag } = hold;
		if (hold.kind === 'turn') {
			let change = Math.atan2(y - gizmo.y, x - gizmo.x) - hold.angle;
			// Unwrapped: a drag round and round goes on counting.
			change -= 2 * Math.PI * Math.round((change - turned) / (2 * Math.PI));
			turned = change;
			// On screen y runs down, so a positive angle is clockwise.
			const raw = from[3 + axis] - (change * 180 * gizmo.turn.sign) / Math.PI;
			const step = event.shiftKey ? 15 : event.ctrlKey ? 0.01 : 0.5;
			const degrees = Math.round(raw / step) * step;
			drag.update((doc) => placePart(doc, place, 'rotation', axis, degrees, from.slice(3, 6)));
		} else if (hold.kind === 'pivot') {
			const now = scene.placeInPart(place.part, x, y, hold.toPart!);
			if (!now || !hold.grabbed) return;
			const by = now.sub(hold.grabbed);
			const d = [0, 1, 2].map((k) => round(by.getComponent(k), event)) as Vec3;
			drag.update((doc) => movePivot(doc, place.part, d));
		} else if (hold.kind === 'arm') {
			const moved = scene.alongAxis(place.part, axis, x - hold.x, y - hold.y);
			drag.update((doc) =>
				placePart(doc, place, 'translation', axis, round(from[axis] + moved, event), from),
			);
		} else {
			const now = scene.placeInParent(place.part, x, y);
			if (!now || !hold.grabbed) return;
			const delta = now.sub(hold.grabbed);
			const axes = gizmo.arms.map((arm) => arm.axis);
			drag.update((doc) =>
				axes.reduce(
					(next, a) =>
						placePart(next, place, 'translation', a, round(from[a] + delta.getComponent(a), event), from),
					doc,
				),
			);
		}
	}
	let turned = 0;
	function release() {
		hold?.drag.commit();
		hold = null;
		turned = 0;
	}
	function cancel() {
		hold?.drag.cancel();
		hold = null;
		turned = 0;
	}

	let press: { x: number; y: number } | null = null;
	function onclick(event: MouseEvent) {
		if (!scene || !press) return;
		if (Math.hypot(event.clientX - press.x, event.clientY - press.y) > 4) return;
		const bounds = canvas.getBoundingClientRect();
		session.pickPart(scene.pick(event.clientX - bounds.left, event.clientY - bounds.top));
	}

	const readout = $derived.by(() => {
		if (!session.part || !session.compiled) return null;
		const pose = poseOf(session.part.id);
		const unit = isWorld ? 'm' : 'px';
		const place = AXES.map((axis, i) => `${axis} ${writeNumber(pose[i], isWorld ? 2 : 0)}`).join('  ');
		const turns = AXES.flatMap((axis, i) =>
			Math.abs(pose[3 + i]) > 0.005 ? [`${axis} ${writeNumber(pose[3 + i], 1)}°`] : [],
		);
		return `${session.part.name} · ${place} ${unit}${turns.length > 0 ? ` · turned ${turns.join(' ')}` : ''}`;
	});
</script>

<svelte:window
	onkeydown={(event) => {
		if (event.key === 'Escape' && hold) cancel();
	}}
/>

<section
	bind:this={box}
	bind:clientWidth={width}
	bind:clientHeight={height}
	class="relative h-full min-h-0 overflow-hidden bg-sky {session.autoKey
		? 'shadow-[inset_0_0_0_3px_var(--rust)]'
		: ''}"
	aria-label="stage"
>
	<svg
		class="pointer-events-none absolute inset-0 size-full"
		preserveAspectRatio="none"
		viewBox="0 0 480 320"
		aria-hidden="true"
	>
		{#each [0, 1, 2, 3, 4, 5] as i (i)}
			<path
				d="M0 {70 + i * 34} C 90 {34 + i * 36}, 150 {112 + i * 27}, 250 {76 + i * 34} S 400 {44 +
					i * 38}, 480 {86 + i * 31}"
				fill="none"
				stroke="var(--contour)"
				stroke-width="1"
			/>
		{/each}
	</svg>
	<canvas
		bind:this={canvas}
		class="absolute inset-0 size-full touch-none"
		aria-hidden="true"
		data-stage-canvas
		onpointerdown={(event) => (press = { x: event.clientX, y: event.clientY })}
		onpointermove={() =>
			onhint(
				isWorld && view === 'perspective'
					? 'click: pick a part; drag: turn the view; wheel: nearer'
					: 'click: pick a part; drag: move the view; wheel: nearer',
			)}
		{onclick}
	></canvas>
	{#if drawnWay}
		<svg class="pointer-events-none absolute inset-0 size-full" aria-hidden="true" data-way>
			<path d={drawnWay.line} fill="none" stroke="var(--lake)" stroke-width="1.2" opacity="0.7" />
			<path d={drawnWay.dots} stroke="var(--lake)" stroke-width="3.8" stroke-linecap="round" />
			<path d={drawnWay.keys} stroke="var(--ink)" stroke-width="9.4" stroke-linecap="round" />
			<path d={drawnWay.keys} stroke="var(--sheet)" stroke-width="6.6" stroke-linecap="round" />
		</svg>
	{/if}
	{#if gizmo}
		<svg
			class="pointer-events-none absolute inset-0 size-full"
			role="group"
			aria-label="handles of {session.part?.name}"
		>
			<circle
				class="pointer-events-auto cursor-alias"
				cx={gizmo.x}
				cy={gizmo.y}
				r={RING}
				fill="none"
				stroke="var(--heather)"
				stroke-width="2"
				stroke-dasharray="5 4"
				data-gizmo="turn"
				role="presentation"
				onpointerdown={(event) => grab(event, 'turn', gizmo!.turn.axis)}
				onpointermove={(event) =>
					hold ? moveHold(event) : onhint(`drag: turn about ${AXES[gizmo!.turn.axis]}; Shift: 15° steps`)}
				onpointerup={release}
				onpointercancel={cancel}
			/>
			{#each gizmo.arms as arm (arm.axis)}
				<g
					class="pointer-events-auto cursor-move"
					data-gizmo="move-{AXES[arm.axis]}"
					role="presentation"
					onpointerdown={(event) => grab(event, 'arm', arm.axis)}
					onpointermove={(event) =>
						hold ? moveHold(event) : onhint(`drag: move along ${AXES[arm.axis]}; Ctrl: no rounding`)}
					onpointerup={release}
					onpointercancel={cancel}
				>
					<line
						x1={gizmo.x + arm.dx * 10}
						y1={gizmo.y + arm.dy * 10}
						x2={arm.x}
						y2={arm.y}
						stroke="var(--ink)"
						stroke-width="2"
					/>
					<line
						x1={gizmo.x + arm.dx * 10}
						y1={gizmo.y + arm.dy * 10}
						x2={arm.x}
						y2={arm.y}
						stroke="transparent"
						stroke-width="14"
					/>
					<circle cx={arm.x} cy={arm.y} r="8" fill="var(--sheet)" stroke="var(--ink)" stroke-width="1.5" />
					<text
						x={arm.x}
						y={arm.y + 4}
						text-anchor="middle"
						font-size="11"
						font-weight="700"
						fill="var(--ink)">{AXES[arm.axis]}</text
					>
				</g>
			{/each}
			<circle
				class="pointer-events-auto cursor-move"
				cx={gizmo.x}
				cy={gizmo.y}
				r="7"
				fill={session.pivotMode ? 'var(--rust)' : 'var(--sheet)'}
				stroke="var(--rust)"
				stroke-width="2.5"
				data-gizmo="move"
				role="presentation"
				onpointerdown={(event) => grab(event, 'free', 0)}
				onpointermove={(event) =>
					hold
						? moveHold(event)
						: onhint(
								session.pivotMode
									? 'drag: move the pivot; the drawing stays'
									: 'drag: move in the view; Ctrl: no rounding',
							)}
				onpointerup={release}
				onpointercancel={cancel}
			/>
		</svg>
	{/if}
	<div class="absolute left-2 top-2 flex gap-1" role="group" aria-label="view">
		{#if views.length > 1}
			{#each views as name (name)}
				<button
					type="button"
					class="rounded-md border px-2 py-0.5 text-xs {view === name
						? 'border-moss bg-sheet font-semibold'
						: 'border-rule bg-paper text-muted'}"
					aria-pressed={view === name}
					onclick={() => (view = name)}>{name}</button
				>
			{/each}
		{/if}
		<button
			type="button"
			class="rounded-md border border-rule bg-paper px-1.5 py-0.5 text-muted"
			aria-label="show everything"
			title="Show everything"
			onclick={() => scene?.fit()}
		>
			<Maximize size={13} />
		</button>
	</div>
	<div class="absolute right-2 top-2 flex items-center gap-1" role="group" aria-label="what is shown">
		<button
			type="button"
			class="rounded-md border px-2 py-0.5 text-xs {session.showPath
				? 'border-moss bg-sheet font-semibold'
				: 'border-rule bg-paper text-muted'}"
			aria-pressed={session.showPath}
			title="The way of the picked part, a dot a frame (Y)"
			onclick={() => (session.showPath = !session.showPath)}>path</button
		>
		<button
			type="button"
			class="rounded-md border px-2 py-0.5 text-xs {session.showGhosts
				? 'border-moss bg-sheet font-semibold'
				: 'border-rule bg-paper text-muted'}"
			aria-pressed={session.showGhosts}
			title="The picked part before and after the playhead (U)"
			onclick={() => (session.showGhosts = !session.showGhosts)}>ghosts</button
		>
		{#if session.showGhosts}
			<NumberField
				label="frames between ghosts"
				value={session.ghostStep}
				unit=" f"
				digits={0}
				min={1}
				max={120}
				class="w-[44px] !min-h-[22px] !px-1"
				onpreview={(v) => (session.ghostStep = Math.round(v))}
				oncommit={(v) => (session.ghostStep = Math.round(v))}
			/>
		{/if}
		<span class="rounded-md border border-rule bg-paper px-2 py-0.5 text-xs text-muted"
			>grid {isWorld ? '1 m' : '100 px'}</span
		>
	</div>
	{#if readout}
		<p
			class="absolute bottom-2 left-2 rounded-md border border-rule bg-sheet px-2 py-0.5 font-mono text-xs"
			data-readout
		>
			{readout}
		</p>
	{/if}
	{#if failed}
		<p
			class="absolute inset-0 m-auto h-fit max-w-[320px] rounded-md border border-rule bg-sheet p-4 text-center"
		>
			This browser draws no WebGL, so there is no picture. Lanes, bench and export work all the same.
		</p>
	{/if}
</section>
