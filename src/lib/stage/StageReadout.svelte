<script lang="ts">
	import { poseAt } from '$core/clip/compile';
	import { rotationIn, vectorIn, type Posed } from '$core/clip/layout';
	import { AXES } from '$core/document/types';
	import type { Vec3 } from '$player/maths/vector';
	import { ticksToFrame } from '$core/time';
	import { useSession } from '$lib/session/session.svelte';
	import { writeNumber } from '$lib/ui/number-text';

	/** Where the selected part is, and how far it has come since its key before the playhead. */
	const session = useSession();
	const isWorld = $derived(session.doc.project.space === 'world');
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

{#if readout}
	<p
		class="pointer-events-none absolute bottom-2 left-2 mr-2 rounded-md [overflow-wrap:anywhere] border border-rule bg-sheet px-2 py-0.5 font-mono text-xs"
		data-readout
	>
		{readout}
	</p>
{/if}
