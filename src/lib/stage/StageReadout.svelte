<script lang="ts">
	import { Vector3 } from 'three';
	import { boxOf } from '$core/drawing/box';
	import { unitAt } from '$core/document/units';
	import { placeOf } from '$player/layout';
	import type { StageScene } from './scene';
	import { poseAt } from '$core/clip/compile';
	import { numberIn, rotationIn, vectorIn, type Posed } from '$core/clip/layout';
	import { AXES } from '$core/document/types';
	import type { Vec3 } from '$player/maths/vector';
	import { ticksToFrame } from '$core/time';
	import { useSession } from '$lib/session/session.svelte';
	import { writeNumber } from '$lib/ui/number-text';

	interface Props {
		scene: StageScene | null;
		/** Counts pictures. */
		picture: number;
		/** Of the stage, in pixels. */
		height: number;
	}
	/**
	 * Where the selected part is, and how far it has come since its key before the playhead; the numbers of one's own that
	 * the clip moves.
	 */
	let { scene, picture, height }: Props = $props();
	const session = useSession();
	const { look } = session.view;
	const isWorld = $derived(session.doc.project.space === 'world');
	/** Pixels about it, and of the bar of tools above. */
	const EDGE = 8;
	const BAR = 40;
	const MOVES: ReadonlySet<string> = new Set(['translation', 'rotation', 'orientation']);

	const readout = $derived.by(() => {
		if (!session.selection.part || !session.compiled) return null;
		const place = vectorIn(session.posed, session.selection.part, 'translation');
		const angles = rotationIn(session.posed, session.selection.part);
		const unit = isWorld ? 'm' : 'px';
		const stands = AXES.map((axis, i) => `${axis} ${writeNumber(place[i], isWorld ? 2 : 0)}`).join('  ');
		const turns = AXES.flatMap((axis, i) =>
			Math.abs(angles[i]) > 0.005 ? [`${axis} ${writeNumber(angles[i], 1)}°`] : [],
		);
		const turned = turns.length > 0 ? ` · turned ${turns.join(' ')}` : '';
		return `${session.selection.part.name} · ${stands} ${unit}${turned}${sinceKey(session.posed, unit)}`;
	});

	/** Numbers of one's own that the clip moves, at the playhead. */
	const numbers = $derived.by(() => {
		const { compiled, doc, posed } = session;
		if (!look.numbers || !compiled) return '';
		return compiled.parts
			.filter(({ id }) => placeOf(posed.layout, id, 'custom') >= 0)
			.flatMap((part) =>
				(part.numbers ?? []).map(({ key, name }) => {
					const value = numberIn(posed, part, 'custom', key);
					const unit = unitAt(doc, { part: part.id, property: 'custom', component: key });
					return `${part.name} ${name} ${writeNumber(value, 2)}${unit}`;
				}),
			)
			.join(' · ');
	});

	const LINE = 'rounded-md border border-rule bg-sheet px-2 py-0.5 [overflow-wrap:anywhere]';
	let own = $state({ width: 0, height: 0 });
	const corners = $derived.by(() => {
		const { part } = session.selection;
		const box = part && boxOf(part.drawing, session.doc.project.space);
		if (!box) return [[0, 0, 0]];
		const [low, high] = [box.low, box.high];
		return [0, 1, 2, 3, 4, 5, 6, 7].map((i) => [0, 1, 2].map((k) => ((i >> k) & 1 ? high[k] : low[k])));
	});
	/** It steps aside for the selected part; while that moves by itself, it stays where it is. */
	let isAside = $state(false);
	$effect(() => {
		void picture;
		const group = scene?.groupOf(session.selection.partId ?? '');
		if (!scene || !group || session.transport.playing) return;
		const seen = corners.map(([x, y, z]) => scene.project(group, new Vector3(x, y, z)));
		const [left, right] = [Math.min(...seen.map(({ x }) => x)), Math.max(...seen.map(({ x }) => x))];
		const [top, bottom] = [Math.min(...seen.map(({ y }) => y)), Math.max(...seen.map(({ y }) => y))];
		/** Whether it would lie over the part between two heights of the stage. */
		const covers = (from: number, to: number) =>
			left < own.width + 2 * EDGE && right > 0 && top < to && bottom > from;
		isAside = covers(height - own.height - 2 * EDGE, height) && !covers(0, BAR + own.height + EDGE);
	});

	/** How far it has come since its key before the playhead. */
	function sinceKey(now: Posed, unit: string): string {
		const { compiled, transport } = session;
		const { part } = session.selection;
		if (!compiled || !part || transport.playing) return '';
		const before = [...compiled.channels, ...compiled.vectors]
			.filter(({ channel }) => channel.part === part.id && MOVES.has(channel.property))
			.flatMap(({ channel }) =>
				channel.keys.map((key) => key.t).filter((t) => t < Math.round(transport.local)),
			);
		if (before.length === 0) return '';
		const t = Math.max(...before);
		const then = { layout: compiled.layout, pose: poseAt(compiled, t) };
		const changes = (from: Vec3, to: Vec3, least: number, digits: number) =>
			AXES.flatMap((axis, k) => {
				const change = to[k] - from[k];
				const sign = change > 0 ? '+' : '';
				return Math.abs(change) < least ? [] : [`${axis} ${sign}${writeNumber(change, digits)}`];
			});
		const places = [then, now].map((posed) => vectorIn(posed, part, 'translation'));
		const moved = isWorld ? changes(places[0], places[1], 0.005, 2) : changes(places[0], places[1], 0.5, 0);
		const turned = changes(rotationIn(then, part), rotationIn(now, part), 0.05, 1).map((text) => `${text}°`);
		const parts = [
			...(moved.length > 0 ? [`${moved.join('  ')} ${unit}`] : []),
			...(turned.length > 0 ? [`turned ${turned.join(' ')}`] : []),
		];
		const frame = writeNumber(ticksToFrame(t, session.frameRate), 1);
		return parts.length > 0 ? ` · since f ${frame}: ${parts.join(', ')}` : '';
	}
</script>

{#if readout || numbers}
	<div
		class="pointer-events-none absolute left-2 mr-2 flex flex-col items-start gap-1 font-mono text-xs {isAside
			? 'top-11'
			: 'bottom-2'}"
		bind:clientWidth={own.width}
		bind:clientHeight={own.height}
	>
		{#if numbers}<p class={LINE} data-own-numbers>{numbers}</p>{/if}
		{#if readout}<p class={LINE} data-readout>{readout}</p>{/if}
	</div>
{/if}
