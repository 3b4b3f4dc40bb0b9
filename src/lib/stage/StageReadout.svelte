<script lang="ts">
	import { evaluateRound, POSE_STRIDE } from '$core/clip/compile';
	import { AXES } from '$core/document/types';
	import { ticksToFrame } from '$core/time';
	import { useSession } from '$lib/session/session.svelte';
	import { writeNumber } from '$lib/ui/number-text';

	/** Where the picked part is, and how far it has come since its key before the playhead. */
	const session = useSession();
	const isWorld = $derived(session.doc.project.space === 'world');
	const MOVES: ReadonlySet<string> = new Set(['translation', 'rotation', 'orientation']);

	const readout = $derived.by(() => {
		if (!session.part || !session.compiled) return null;
		const at = (session.compiled.indexOfPart.get(session.part.id) ?? 0) * POSE_STRIDE;
		const pose = session.pose.subarray(at, at + POSE_STRIDE);
		const unit = isWorld ? 'm' : 'px';
		const place = AXES.map((axis, i) => `${axis} ${writeNumber(pose[i], isWorld ? 2 : 0)}`).join('  ');
		const turns = AXES.flatMap((axis, i) =>
			Math.abs(pose[3 + i]) > 0.005 ? [`${axis} ${writeNumber(pose[3 + i], 1)}°`] : [],
		);
		const turned = turns.length > 0 ? ` · turned ${turns.join(' ')}` : '';
		return `${session.part.name} · ${place} ${unit}${turned}${sinceKey(pose, unit)}`;
	});

	/** How far it has come since its key before the playhead. */
	function sinceKey(pose: Float64Array, unit: string): string {
		const { compiled, part, transport } = session;
		if (!compiled || !part || transport.playing) return '';
		const before = [...compiled.channels, ...compiled.vectors]
			.filter(({ channel }) => channel.part === part.id && MOVES.has(channel.property))
			.flatMap(({ channel }) =>
				channel.keys.map((key) => key.t).filter((t) => t < Math.round(transport.local)),
			);
		if (before.length === 0) return '';
		const t = Math.max(...before);
		const then = new Float64Array(session.pose.length);
		evaluateRound(compiled, t, 0, then);
		const at = compiled.indexOfPart.get(part.id)! * POSE_STRIDE;
		const changes = (from: number, least: number, digits: number) =>
			AXES.flatMap((axis, k) => {
				const change = pose[from + k] - then[at + from + k];
				const sign = change > 0 ? '+' : '';
				return Math.abs(change) < least ? [] : [`${axis} ${sign}${writeNumber(change, digits)}`];
			});
		const moved = isWorld ? changes(0, 0.005, 2) : changes(0, 0.5, 0);
		const turned = changes(3, 0.05, 1).map((text) => `${text}°`);
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
