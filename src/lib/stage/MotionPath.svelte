<script lang="ts">
	import { contextOfChannel } from '$core/clip/context';
	import { explicitSide, indexAt, type SideName } from '$core/curve/edit';
	import { bezierOf } from '$core/curve/handles';
	import { setSide, setValue } from '$core/edits/keys';
	import { AXES, channelId } from '$core/document/types';
	import type { Vec3 } from '$player/maths/vector';
	import { transformPoint } from '$core/pose/matrix';
	import { partPath, worldMatrix } from '$core/clip/path';
	import { poseAt } from '$core/clip/compile';
	import { vectorIn } from '$core/clip/layout';
	import { frameToTicks, ticksToFrame } from '$core/time';
	import type { Drag } from '$lib/session/project.svelte';
	import { useSession } from '$lib/session/session.svelte';
	import { writeNumber } from '$lib/ui/number-text';
	import type { StageScene } from './scene';

	interface Props {
		scene: StageScene;
		/** Counts pictures: the path is drawn over the last one. */
		picture: number;
		onhint: (hint: string) => void;
	}
	/** The paths of the selected parts, a dot a frame: near dots are slow, far ones fast. Keys of the one in hand can be dragged. */
	let { scene, picture, onhint }: Props = $props();
	const session = useSession();
	const isWorld = $derived(session.doc.project.space === 'world');

	const MOST_DOTS = 400;
	const MOST_OTHERS = 40;
	/** Keys picked whose handles are shown, and pixels that such a handle must stand off its key. */
	const MOST_TANGENTS = 12;
	const LEAST_TANGENT = 9;
	/** Pixels about a key or a handle within which it is taken hold of. */
	const REACH = 12;
	/** A path is seen as the parent of its part stands now, or else as the world sees it. */
	const seenFrom = () => (session.view.look.pathInParent ? session.posed.pose : undefined);
	/** Times of the dots. */
	const dotTimes = $derived.by(() => {
		const { clip } = session;
		const ticks: number[] = [];
		if (!clip) return ticks;
		const frames = Math.max(1, Math.round(ticksToFrame(clip.length, session.frameRate)));
		const step = Math.max(1, Math.ceil(frames / MOST_DOTS));
		for (let frame = 0; frame <= frames; frame += step)
			ticks.push(Math.min(clip.length, frameToTicks(frame, session.frameRate)));
		return ticks;
	});
	const path = $derived.by(() => {
		const { compiled, clip } = session;
		const { partId } = session.selection;
		if (!compiled || !clip || partId === null || !compiled.indexOfPart.has(partId)) return null;
		const seen = seenFrom();
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
			places: partPath(compiled, partId, dotTimes, seen),
			keys: partPath(compiled, partId, keyed, seen),
		};
	});

	/** Ways of the other parts of which keys or lanes are selected. */
	const others = $derived.by(() => {
		const { compiled } = session;
		if (!compiled) return [];
		return session.selection.otherParts
			.filter((part) => compiled.indexOfPart.has(part))
			.slice(0, MOST_OTHERS)
			.map((part) => ({ part, places: partPath(compiled, part, dotTimes, seenFrom()) }));
	});

	interface Tangent {
		t: number;
		side: SideName;
		/** Of each axis, in its channel's units; null where it has no such handle. */
		rises: (number | null)[];
		reaches: number[];
		/** World place of its end. */
		end: Vec3;
	}
	/** Handles of the selected keys in space: where the path sets off from a key, and from where it comes. */
	const tangents = $derived.by<Tangent[]>(() => {
		const { compiled, clip, doc } = session;
		const { partId, keys } = session.selection;
		if (!path || !compiled || !clip || partId === null) return [];
		const channels = AXES.map((axis) => doc.channels[channelId(clip.id, partId, 'translation', axis)]);
		const times = new Set(channels.flatMap((channel) => [...(channel ? (keys.get(channel.id) ?? []) : [])]));
		if (times.size > MOST_TANGENTS) return [];
		const parent = doc.parts[partId].parent;
		return [...times].flatMap((t) => {
			const posed = { layout: compiled.layout, pose: poseAt(compiled, t) };
			const stands = vectorIn(posed, doc.parts[partId], 'translation');
			const frame =
				parent === null
					? null
					: worldMatrix(compiled, parent, session.view.look.pathInParent ? session.posed : posed);
			return (['left', 'right'] as const).flatMap((side): Tangent[] => {
				const sides = channels.map((channel) => {
					const index = channel ? indexAt(channel.keys, t) : -1;
					const span = side === 'right' ? index : index - 1;
					if (index < 0 || span < 0 || span > channel.keys.length - 2) return null;
					const bezier = bezierOf(channel.keys, span, contextOfChannel(channel, clip));
					if (!bezier) return null;
					return side === 'right'
						? { rise: bezier.outRise, reach: bezier.outReach }
						: { rise: bezier.inRise, reach: bezier.inReach };
				});
				if (sides.every((own) => own === null)) return [];
				const place = sides.map((own, k) => stands[k] + (own?.rise ?? 0)) as Vec3;
				return [
					{
						t,
						side,
						rises: sides.map((own) => own?.rise ?? null),
						reaches: sides.map((own) => own?.reach ?? 1 / 3),
						end: frame ? transformPoint(frame, place) : place,
					},
				];
			});
		});
	});

	interface Drawn {
		line: string;
		dots: string;
		keys: { t: number; x: number; y: number }[];
		tangents: { of: Tangent; x: number; y: number; from: { x: number; y: number }; reach: number }[];
	}
	const placed = (places: Float64Array) =>
		Array.from({ length: places.length / 3 }, (_, i) =>
			scene.projectWorld(places[3 * i], places[3 * i + 1], places[3 * i + 2]),
		);
	const text = ({ x, y }: { x: number; y: number }) => `${x.toFixed(1)} ${y.toFixed(1)}`;
	/** A line with a dot a frame; null for what stays where it is. */
	function linesOf(places: Float64Array): { line: string; dots: string } | null {
		const dots = placed(places);
		if (dots.every((dot) => Math.hypot(dot.x - dots[0].x, dot.y - dots[0].y) < 2)) return null;
		const texts = dots.map(text);
		return { line: `M${texts.join('L')}`, dots: `M${texts.join('h0M')}h0` };
	}
	const drawnOthers = $derived.by(() => {
		void picture;
		return others.flatMap(({ part, places }) => {
			const lines = linesOf(places);
			return lines ? [{ part, ...lines }] : [];
		});
	});
	/** SVG paths, one for all dots, since there are many; keys apart, since they can be taken hold of. */
	const drawn = $derived.by<Drawn | null>(() => {
		void picture;
		const lines = path && linesOf(path.places);
		if (!path || !lines) return null;
		const keys = placed(path.keys).map((place, i) => ({ t: path.times[i], ...place }));
		return {
			...lines,
			keys,
			tangents: tangents.flatMap((of) => {
				const from = keys.find(({ t }) => t === of.t);
				const end = scene.projectWorld(...of.end);
				const apart = from ? Math.hypot(end.x - from.x, end.y - from.y) : 0;
				// One that stands on its key cannot be taken hold of; one near it leaves it half of the way.
				if (!from || apart <= LEAST_TANGENT) return [];
				return [{ of, ...end, from, reach: Math.min(REACH, apart / 2) }];
			}),
		};
	});

	interface Hold {
		t: number;
		part: string;
		x: number;
		y: number;
		from: number[];
		drag: Drag;
		/** The handle that is held; without one it is the key itself. */
		tangent?: Tangent;
	}
	let hold: Hold | null = null;

	let drawing = $state.raw<SVGSVGElement | null>(null);
	/** Takes the key of the path that is nearest to the pointer, where targets lie over one another too; false where none is. */
	export function grabKey(event: PointerEvent): boolean {
		const at = scene.placeOf(event);
		const far = (key: { x: number; y: number }) => Math.hypot(key.x - at.x, key.y - at.y);
		const [nearest] = [...(drawn?.keys ?? [])].sort((a, b) => far(a) - far(b));
		if (!nearest || far(nearest) > REACH) return false;
		grab(event, nearest.t, undefined, drawing?.querySelector(`[data-path-key="${nearest.t}"]`));
		return hold !== null;
	}
	function grab(
		event: PointerEvent,
		t: number,
		tangent?: Tangent,
		holder = event.currentTarget as Element | null | undefined,
	) {
		const { clip } = session;
		const { partId } = session.selection;
		if (event.button !== 0 || !clip || partId === null || session.view.lockedParts.has(partId)) return;
		event.stopPropagation();
		session.transport.stop();
		// The part stands where its key is taken hold of, so that the drag is measured there.
		session.transport.seek(t);
		const compiled = session.compiled!;
		const posed = { layout: compiled.layout, pose: poseAt(compiled, t) };
		const picked = new Map(
			AXES.map((axis) => channelId(clip.id, partId, 'translation', axis))
				.filter((id) => session.doc.channels[id]?.keys.some((key) => key.t === t))
				.map((id) => [id, new Set([t])]),
		);
		if (!tangent) session.selection.pickKeys(picked);
		const { x, y } = scene.placeOf(event);
		holder?.setPointerCapture(event.pointerId);
		hold = {
			t,
			part: partId,
			x,
			y,
			from: vectorIn(posed, session.doc.parts[partId], 'translation'),
			drag: session.startDrag(tangent ? 'Shape the path' : 'Move a key of the path'),
			tangent,
		};
	}
	const KEY_HINT = 'drag: move this key; Shift: along one axis of the picture';
	const TANGENT_HINT = 'drag: where the path sets off, and how fast; Shift: along one axis of the picture';
	function move(event: PointerEvent, hint: string) {
		if (!hold) {
			onhint(hint);
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
		const { tangent } = hold;
		if (tangent) {
			drag.update((doc) =>
				AXES.reduce((next, component, axis) => {
					const rise = tangent.rises[axis];
					const id = channelId(clip.id, part, 'translation', component);
					const key = next.channels[id]?.keys.find((candidate) => candidate.t === t);
					if (rise === null || !key || Math.abs(by.getComponent(axis)) < 1e-9) return next;
					const mode = key[tangent.side]?.mode === 'split' ? 'split' : 'joined';
					const value = explicitSide(tangent.reaches[axis], rise + by.getComponent(axis), mode);
					return setSide(next, id, t, tangent.side, value);
				}, doc),
			);
			return;
		}
		drag.update((doc) =>
			AXES.reduce((next, component, axis) => {
				const address = { clip: clip.id, part, property: 'translation' as const, component };
				const channel = doc.channels[channelId(clip.id, part, 'translation', component)];
				const moved = by.getComponent(axis);
				// Only what has a key here moves: the others keep their own motion.
				if (!channel?.keys.some((key) => key.t === t) || Math.abs(moved) < 1e-9) return next;
				const value = from[axis] + moved;
				const rounded = event.ctrlKey ? value : Math.round(value / step) / Math.round(1 / step);
				return setValue(next, address, t, rounded);
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
	const label = (t: number) => `key of the path, frame ${writeNumber(ticksToFrame(t, session.frameRate), 1)}`;
</script>

<svelte:window
	onkeydown={(event) => {
		if (event.key === 'Escape' && hold) cancel();
	}}
/>

{#if drawnOthers.length > 0}
	<svg class="pointer-events-none absolute inset-0 size-full" aria-hidden="true">
		{#each drawnOthers as { part, line, dots } (part)}
			<path d={line} fill="none" stroke="var(--slate)" opacity="0.7" data-path-of={part} />
			<path d={dots} stroke="var(--slate)" stroke-width="3" stroke-linecap="round" opacity="0.7" />
		{/each}
	</svg>
{/if}
{#if drawn}
	<svg bind:this={drawing} class="pointer-events-none absolute inset-0 size-full" data-path>
		<path d={drawn.line} fill="none" stroke="var(--lake)" stroke-width="1.2" opacity="0.7" />
		<path d={drawn.dots} stroke="var(--lake)" stroke-width="3.8" stroke-linecap="round" />
		{#each drawn.keys as key (key.t)}
			<g
				class="pointer-events-auto touch-none cursor-grab"
				role="presentation"
				transform={`translate(${text(key)})`}
				data-path-key={key.t}
				onpointerdown={grabKey}
				onpointermove={(event) => move(event, KEY_HINT)}
				onpointerup={release}
				onpointercancel={cancel}
			>
				<title>{label(key.t)}</title>
				<circle r={REACH} fill="transparent" />
				<circle r="4.5" fill="var(--sheet)" stroke="var(--ink)" stroke-width="1.5" />
			</g>
		{/each}
	</svg>
	<!-- Above the arms of the part, which stand where its key is. -->
	<svg class="pointer-events-none absolute inset-0 z-10 size-full">
		{#each drawn.tangents as { of, x, y, from, reach } (`${of.t}${of.side}`)}
			<line x1={from.x} y1={from.y} x2={x} y2={y} stroke="var(--ink)" stroke-width="1" opacity="0.7" />
			<g
				class="pointer-events-auto touch-none cursor-crosshair"
				role="presentation"
				data-path-tangent={of.side}
				onpointerdown={(event) => grab(event, of.t, of)}
				onpointermove={(event) => move(event, TANGENT_HINT)}
				onpointerup={release}
				onpointercancel={cancel}
			>
				<circle cx={x} cy={y} r={reach} fill="transparent" />
				<rect
					x={x - 4}
					y={y - 4}
					width="8"
					height="8"
					rx="2"
					fill="var(--lake)"
					stroke="var(--sheet)"
					stroke-width="1"
				/>
			</g>
		{/each}
	</svg>
{/if}
