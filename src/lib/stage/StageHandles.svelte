<script lang="ts">
	import { toast } from 'svelte-sonner';
	import { Vector3 } from 'three';
	import { rotationIn, vectorIn } from '$core/clip/layout';
	import { decide, writeByHand } from '$core/edits/by-hand';
	import { movePivot } from '$core/edits/pivot';
	import { AXES, type Doc } from '$core/document/types';
	import type { Vec3 } from '$player/maths/vector';
	import { useSession } from '$lib/session/session.svelte';
	import { readNumber, writeNumber } from '$lib/ui/number-text';
	import {
		hintFor,
		LABELS,
		nameOf,
		PROPERTY,
		stepOf,
		type Axis,
		type Handle,
		type Hold,
		type Placed,
	} from './hold';
	import { ARM, armsOf, BAR, GUARD } from './arms';
	import HandleShapes from './HandleShapes.svelte';
	import type { StageScene } from './scene';
	import type { AxesOf } from '$lib/session/stage-look.svelte';

	interface Props {
		scene: StageScene;
		/** A click between the handles. */
		onmiss: (event: MouseEvent) => void;
		/** Takes what lies under the room about the handles; false where nothing is. */
		beneath: (event: PointerEvent) => boolean;
		/** Counts pictures: handles stand where the last one has put the part. */
		picture: number;
		axes: AxesOf;
		onhint: (hint: string) => void;
	}
	/** Handles of the selected part: arms move it, the ring turns it, bars and the corner knob scale it. */
	let { scene, picture, axes, onhint, onmiss, beneath }: Props = $props();
	const session = useSession();
	const isWorld = $derived(session.doc.project.space === 'world');

	const gizmo = $derived.by(() => {
		void picture;
		const id = session.selection.partId;
		const group = id ? scene.groupOf(id) : null;
		if (!id || !group?.parent || session.view.lockedParts.has(id)) return null;
		const centre = scene.project(group, new Vector3());
		return {
			...centre,
			arms: armsOf(scene, id, axes, centre, ARM),
			bars: armsOf(scene, id, 'part', centre, BAR),
			turn: scene.facingAxis(id),
		};
	});

	let hold = $state.raw<Hold | null>(null);
	let press = { x: 0, y: 0 };
	/** Keeps the view still about the handles. */
	let guard = $state.raw<SVGCircleElement | null>(null);

	/** Whether a pointer is on what is drawn of the selected part: it can be dragged by its body. */
	function isOnPart(event: PointerEvent): boolean {
		const { x, y } = scene.placeOf(event);
		return scene.pick(x, y, (part) => !session.view.lockedParts.has(part)) === session.selection.partId;
	}
	/** A number typed while a handle is held: it counts, not the pointer. */
	let typed = $state('');
	let amount = $state(0);

	function poseOf(part: string): Record<Placed, Vec3> {
		const { posed, doc } = session;
		return {
			translation: vectorIn(posed, doc.parts[part], 'translation'),
			rotation: rotationIn(posed, doc.parts[part]),
			scale: vectorIn(posed, doc.parts[part], 'scale'),
		};
	}
	/** Components that a handle changes. */
	function componentsOf(kind: Handle, axis: Axis, direction: Vector3): Axis[] {
		if (kind === 'even') return [0, 1, 2];
		if (kind === 'turn' || kind === 'scale') return [axis];
		if (kind === 'free') return gizmo!.arms.map((arm) => arm.axis);
		return ([0, 1, 2] as const).filter((k) => Math.abs(direction.getComponent(k)) > 1e-6);
	}

	/** A drag that begins on the body of the selected part moves it; false where it is for the view. */
	export function grabBody(event: PointerEvent): boolean {
		if (!gizmo || event.button !== 0 || !isOnPart(event)) return false;
		grab(event, 'free', 0, guard);
		return hold !== null;
	}

	function grab(
		event: PointerEvent,
		wanted: Handle,
		axis: Axis,
		holder = event.currentTarget as Element | null,
	) {
		if (event.button !== 0 || !take(wanted, axis, scene.placeOf(event))) return;
		event.stopPropagation();
		holder?.setPointerCapture(event.pointerId);
	}

	/** Takes a handle in hand at a place of the canvas; false where it cannot be. */
	function take(wanted: Handle, axis: Axis, { x, y }: { x: number; y: number }) {
		const part = session.selection.partId;
		if (part === null || !session.clip || !gizmo) return false;
		session.transport.stop();
		const kind = wanted === 'free' && session.view.pivotMode ? 'pivot' : wanted;
		const hand = session.handOn(part);
		const direction = scene.direction(part, axis, axes);
		let decided: Hold['decided'] = null;
		if (kind !== 'pivot' && hand) {
			const targets = componentsOf(kind, axis, direction).map((a) => target(PROPERTY[kind], a));
			const decision = decide(session.doc, hand, targets);
			if (!decision.ok) {
				toast('It cannot be changed by hand here', { description: decision.why });
				return false;
			}
			decided = decision;
		}
		const toPart = kind === 'pivot' ? scene.worldToPart(part) : null;
		typed = '';
		amount = 0;
		hold = {
			kind,
			axis,
			x,
			y,
			centre: { x: gizmo.x, y: gizmo.y },
			from: poseOf(part),
			grabbed: toPart ? scene.placeInPart(part, x, y, toPart) : scene.placeInParent(part, x, y),
			direction,
			sign: gizmo.turn.sign,
			toPart,
			drag: session.startDrag(`${LABELS[kind]} ${session.selection.part?.name}`),
			part,
			decided,
			turned: 0,
		};
		return true;
	}

	/** An arrow key on a handle: a step, or with Shift a large one. */
	function step(event: KeyboardEvent, kind: Exclude<Handle, 'free'>, axis: Axis) {
		const way = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
		if (!way || hold || !gizmo) return;
		event.preventDefault();
		event.stopPropagation();
		if (!take(kind, axis, gizmo)) return;
		apply(stepOf(kind, way, event.shiftKey, isWorld));
		release();
	}

	function rounded(v: number, event: PointerEvent): number {
		if (event.ctrlKey) return v;
		const step = stepOf('move', 1, event.shiftKey, isWorld);
		return Number((Math.round(v / step) * step).toPrecision(12));
	}
	const short = (v: number, digits: number) => Number(v.toFixed(digits));
	const target = (property: Placed, axis: Axis) => ({ property, component: AXES[axis] });
	/** Sets one component of what is held. */
	function put(doc: Doc, property: Placed, axis: Axis, value: number): Doc {
		const { decided, from } = hold!;
		return decided ? writeByHand(doc, decided, target(property, axis), value, from.rotation) : doc;
	}

	/** Applies what is held by an amount: units along the arm, degrees, or a factor. */
	function apply(by: number) {
		if (!hold || hold.kind === 'free' || hold.kind === 'pivot') return;
		const { kind, axis, from, direction, drag } = hold;
		amount = by;
		drag.update((doc) => {
			if (kind === 'turn') return put(doc, 'rotation', axis, from.rotation[axis] + by);
			return componentsOf(kind, axis, direction).reduce(
				(next, a) =>
					kind === 'move'
						? put(next, 'translation', a, short(from.translation[a] + direction.getComponent(a) * by, 9))
						: put(next, 'scale', a, short(from.scale[a] * by, 6)),
				doc,
			);
		});
	}

	function move(event: PointerEvent) {
		if (!hold || typed !== '') return;
		const { x, y } = scene.placeOf(event);
		const { kind, axis, from, part, drag, centre, direction } = hold;
		if (kind === 'turn') {
			let change = Math.atan2(y - centre.y, x - centre.x) - Math.atan2(hold.y - centre.y, hold.x - centre.x);
			// Unwrapped: a drag round and round goes on counting.
			change -= 2 * Math.PI * Math.round((change - hold.turned) / (2 * Math.PI));
			hold.turned = change;
			// On screen y runs down, so a positive angle is clockwise.
			const raw = from.rotation[axis] - (change * 180 * hold.sign) / Math.PI;
			const step = event.shiftKey ? 15 : event.ctrlKey ? 0.01 : 0.5;
			apply(Math.round(raw / step) * step - from.rotation[axis]);
		} else if (kind === 'move') {
			const moved = scene.along(part, direction, x - hold.x, y - hold.y);
			// Along one component the place itself is made round, else the way to it.
			const single = componentsOf('move', axis, direction).length === 1;
			const start = single ? from.translation[axis] * Math.sign(direction.getComponent(axis)) : 0;
			apply(rounded(start + moved, event) - start);
		} else if (kind === 'scale' || kind === 'even') {
			const reach = (px: number, py: number) => Math.hypot(px - centre.x, py - centre.y);
			const bar = gizmo?.bars.find((candidate) => candidate.axis === axis);
			const along = bar
				? ((x - centre.x) * bar.dx + (y - centre.y) * bar.dy) /
					((hold.x - centre.x) * bar.dx + (hold.y - centre.y) * bar.dy)
				: 1;
			const factor = kind === 'even' ? reach(x, y) / Math.max(1, reach(hold.x, hold.y)) : along;
			const step = event.ctrlKey ? 0.001 : event.shiftKey ? 0.25 : 0.01;
			apply(short(Math.round(factor / step) * step, 4));
		} else if (kind === 'pivot') {
			const now = scene.placeInPart(part, x, y, hold.toPart!);
			if (!now || !hold.grabbed) return;
			const by = now.sub(hold.grabbed);
			const d = [0, 1, 2].map((k) => rounded(by.getComponent(k), event)) as Vec3;
			drag.update((doc) => movePivot(doc, part, d));
		} else {
			const now = scene.placeInParent(part, x, y);
			if (!now || !hold.grabbed) return;
			const delta = now.sub(hold.grabbed);
			drag.update((doc) =>
				componentsOf('free', axis, direction).reduce(
					(next, a) =>
						put(next, 'translation', a, rounded(from.translation[a] + delta.getComponent(a), event)),
					doc,
				),
			);
		}
	}
	function release() {
		hold?.drag.commit();
		hold = null;
		typed = '';
	}
	function cancel() {
		hold?.drag.cancel();
		hold = null;
		typed = '';
	}

	/** Digits while a handle is held: an amount, exactly. */
	function type(event: KeyboardEvent) {
		if (!hold) return;
		if (event.key === 'Escape') cancel();
		else if (event.key === 'Enter') release();
		else if (event.key === 'Backspace') typed = typed.slice(0, -1);
		else if (/^[-0-9.,]$/.test(event.key)) typed += event.key;
		else return;
		event.preventDefault();
		event.stopPropagation();
		const value = typed === '' || !hold ? null : readNumber(typed, 0);
		if (value !== null && Math.abs(value) <= 1e6) apply(value);
	}

	const said = $derived.by(() => {
		if (!hold || hold.kind === 'free' || hold.kind === 'pivot') return null;
		const { kind, axis } = hold;
		const unit = kind === 'turn' ? '°' : kind === 'move' ? (isWorld ? ' m' : ' px') : '';
		const sign = kind === 'move' || kind === 'turn' ? (amount >= 0 ? '+' : '') : '× ';
		const name = kind === 'even' ? 'all' : AXES[axis];
		return `${name} ${sign}${typed || writeNumber(amount, 3)}${unit}`;
	});
	/** What of the part a handle changes now. */
	function valueOf(kind: Exclude<Handle, 'free'>, axis: Axis): number {
		const part = session.selection.partId;
		return part === null ? 0 : poseOf(part)[PROPERTY[kind]][axis];
	}
	const handlers = (kind: Handle, axis: Axis) => ({
		onpointerdown: (event: PointerEvent) => grab(event, kind, axis),
		onpointermove: (event: PointerEvent) =>
			hold ? move(event) : onhint(hintFor(kind, axis, session.view.pivotMode)),
		onpointerup: release,
		onpointercancel: cancel,
		...(kind === 'free'
			? { role: 'presentation' as const }
			: {
					role: 'slider' as const,
					tabindex: 0,
					'aria-label': nameOf(kind, axis),
					'aria-valuenow': Number(valueOf(kind, axis).toPrecision(6)),
					onkeydown: (event: KeyboardEvent) => step(event, kind, axis),
				}),
	});
</script>

<svelte:window onkeydowncapture={type} />

{#if gizmo}
	<svg
		class="pointer-events-none absolute inset-0 size-full"
		role="group"
		aria-label="handles of {session.selection.part?.name}"
		onwheel={scene.forwardWheel}
	>
		<circle
			class="pointer-events-auto touch-none"
			cx={gizmo.x}
			cy={gizmo.y}
			r={GUARD}
			fill="transparent"
			bind:this={guard}
			data-gizmo="guard"
			role="presentation"
			onpointerdown={(event) => {
				press = { x: event.clientX, y: event.clientY };
				// Keys of the path lie under it.
				if (!beneath(event)) grabBody(event);
			}}
			onpointermove={(event) => (hold ? move(event) : onhint(hintFor('free', 0, session.view.pivotMode)))}
			onpointerup={release}
			onpointercancel={cancel}
			onclick={(event) => {
				if (Math.hypot(event.clientX - press.x, event.clientY - press.y) < 4) onmiss(event);
			}}
		/>
		<HandleShapes {...gizmo} {handlers} isPivot={session.view.pivotMode} />
	</svg>
	{#if said}
		<span
			class="pointer-events-none absolute rounded bg-ink px-1.5 font-mono text-xs text-paper"
			style:left="{gizmo.x + 14}px"
			style:top="{gizmo.y - 30}px"
			data-held>{said}</span
		>
	{/if}
{/if}
