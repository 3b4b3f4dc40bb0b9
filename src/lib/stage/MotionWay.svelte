<script lang="ts">
	import { setValue } from '$core/document/edits/keys';
	import { AXES, channelId } from '$core/document/types';
	import { partPath } from '$core/pose/path';
	import { evaluateRound, POSE_STRIDE } from '$core/clip/compile';
	import { frameToTicks, ticksToFrame } from '$core/time';
	import { useSession, type Drag } from '$lib/session/session.svelte';
	import { writeNumber } from '$lib/ui/number-text';
	import type { StageScene } from './scene';

	interface Props {
		scene: StageScene;
		/** Counts pictures: the way is drawn over the last one. */
		picture: number;
		onhint: (hint: string) => void;
	}
	/** The way of the picked part, a dot a frame: near dots are slow, far ones fast. Its keys can be dragged. */
	let { scene, picture, onhint }: Props = $props();
	const session = useSession();
	const isWorld = $derived(session.doc.project.space === 'world');

	const MOST_DOTS = 400;
	const way = $derived.by(() => {
		const { compiled, clip, partId } = session;
		if (!compiled || !clip || partId === null || !compiled.indexOfPart.has(partId)) return null;
		const frames = Math.max(1, Math.round(ticksToFrame(clip.length, session.frameRate)));
		const step = Math.max(1, Math.ceil(frames / MOST_DOTS));
		const ticks: number[] = [];
		for (let frame = 0; frame <= frames; frame += step)
			ticks.push(Math.min(clip.length, frameToTicks(frame, session.frameRate)));
		const keyed = [
			...new Set(
				compiled.channels
					.filter(({ channel }) => channel.part === partId && channel.property === 'translation')
					.flatMap(({ channel }) => channel.keys.map((key) => key.t)),
			),
		]
			.filter((t) => t <= clip.length)
			.sort((a, b) => a - b);
		return {
			part: partId,
			times: keyed,
			places: partPath(compiled, partId, ticks),
			keys: partPath(compiled, partId, keyed),
		};
	});

	interface Drawn {
		line: string;
		dots: string;
		keys: { t: number; x: number; y: number }[];
	}
	/** SVG paths, one for all dots, since there are many; keys apart, since they can be taken hold of. */
	const drawn = $derived.by<Drawn | null>(() => {
		void picture;
		if (!way) return null;
		const placed = (places: Float64Array) =>
			Array.from({ length: places.length / 3 }, (_, i) =>
				scene.projectWorld(places[3 * i], places[3 * i + 1], places[3 * i + 2]),
			);
		const dots = placed(way.places);
		if (dots.every((dot) => Math.hypot(dot.x - dots[0].x, dot.y - dots[0].y) < 2)) return null;
		const text = ({ x, y }: { x: number; y: number }) => `${x.toFixed(1)} ${y.toFixed(1)}`;
		return {
			line: `M${dots.map(text).join('L')}`,
			dots: dots.map((p) => `M${text(p)}h0`).join(''),
			keys: placed(way.keys).map((place, i) => ({ t: way.times[i], ...place })),
		};
	});

	let hold: { t: number; part: string; x: number; y: number; from: number[]; drag: Drag } | null = null;

	/** Translation at a time, in the axes of the part's parent. */
	function translationAt(t: number): number[] {
		const { compiled, partId } = session;
		const pose = new Float64Array(compiled!.rest.length);
		evaluateRound(compiled!, t, 0, pose);
		const at = compiled!.indexOfPart.get(partId!)! * POSE_STRIDE;
		return [...pose.subarray(at, at + 3)];
	}
	function grab(event: PointerEvent, t: number) {
		const { clip, partId } = session;
		if (event.button !== 0 || !clip || partId === null || session.lockedParts.has(partId)) return;
		event.stopPropagation();
		session.transport.stop();
		// The part stands where its key is taken hold of, so that the drag is measured there.
		session.transport.seek(t);
		const picked = new Map(
			AXES.map((axis) => channelId(clip.id, partId, 'translation', axis))
				.filter((id) => session.doc.channels[id]?.keys.some((key) => key.t === t))
				.map((id) => [id, new Set([t])]),
		);
		session.pickKeys(picked);
		const { x, y } = scene.placeOf(event);
		(event.currentTarget as Element).setPointerCapture(event.pointerId);
		hold = {
			t,
			part: partId,
			x,
			y,
			from: translationAt(t),
			drag: session.startDrag('Move a key of the way'),
		};
	}
	function move(event: PointerEvent) {
		if (!hold) {
			onhint('drag: move this key; Shift: along one axis of the picture');
			return;
		}
		const { clip } = session;
		const { part, t, from, drag } = hold;
		const at = scene.placeOf(event);
		let [dx, dy] = [at.x - hold.x, at.y - hold.y];
		if (event.shiftKey) [dx, dy] = Math.abs(dx) > Math.abs(dy) ? [dx, 0] : [0, dy];
		const by = clip ? scene.acrossParent(part, dx, dy) : null;
		if (!by || !clip) return;
		const step = isWorld ? 0.01 : 1;
		drag.update((doc) =>
			AXES.reduce((next, component, axis) => {
				const address = { clip: clip.id, part, property: 'translation' as const, component };
				const channel = doc.channels[channelId(clip.id, part, 'translation', component)];
				const moved = by.getComponent(axis);
				// Only what has a key here moves: the others keep their own motion.
				if (!channel?.keys.some((key) => key.t === t) || Math.abs(moved) < 1e-9) return next;
				const value = from[axis] + moved;
				const round = event.ctrlKey ? value : Math.round(value / step) / Math.round(1 / step);
				return setValue(next, address, t, round);
			}, doc),
		);
	}
	function release() {
		hold?.drag.commit();
		hold = null;
	}
	function cancel() {
		hold?.drag.cancel();
		hold = null;
	}
	const label = (t: number) => `key of the way, frame ${writeNumber(ticksToFrame(t, session.frameRate), 1)}`;
</script>

<svelte:window
	onkeydown={(event) => {
		if (event.key === 'Escape' && hold) cancel();
	}}
/>

{#if drawn}
	<svg class="pointer-events-none absolute inset-0 size-full" data-way>
		<path d={drawn.line} fill="none" stroke="var(--lake)" stroke-width="1.2" opacity="0.7" />
		<path d={drawn.dots} stroke="var(--lake)" stroke-width="3.8" stroke-linecap="round" />
		{#each drawn.keys as key (key.t)}
			<circle
				class="pointer-events-auto cursor-grab"
				cx={key.x}
				cy={key.y}
				r="4.5"
				fill="var(--sheet)"
				stroke="var(--ink)"
				stroke-width="1.5"
				role="presentation"
				data-way-key={key.t}
				onpointerdown={(event) => grab(event, key.t)}
				onpointermove={move}
				onpointerup={release}
				onpointercancel={cancel}
			>
				<title>{label(key.t)}</title>
			</circle>
		{/each}
	</svg>
{/if}
