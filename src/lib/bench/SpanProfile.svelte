<script lang="ts">
	import { curveOf } from '$core/clip/compile';
	import { peakSpeed } from '$core/clip/profile';
	import { spanHandles } from '$core/curve/handles';
	import type { Key } from '$core/curve/types';
	import type { Channel } from '$core/document/types';
	import { unitAt } from '$core/document/units';
	import { contextOf } from '$core/edits/keys';
	import { ticksToFrame } from '$core/time';
	import { evaluateCurve } from '$player/curve/evaluate';
	import { TICKS_PER_SECOND } from '$player/time';
	import { HUES } from '$lib/lanes/units';
	import { useSession } from '$lib/session/session.svelte';
	import { writeNumber } from '$lib/ui/number-text';
	import { profilePath } from './shapes';

	interface Props {
		channel: Channel;
		/** The channel's keys as numbers. */
		keys: readonly Key[];
		/** The key that the span comes after; one follows it. */
		index: number;
		/** Whether it is drawn lower, where more stands below it. */
		low?: boolean;
	}
	let { channel, keys, index, low = false }: Props = $props();
	const session = useSession();
	const key = $derived(keys[index]);
	const next = $derived(keys[index + 1]);
	const unit = $derived(unitAt(session.doc, channel));
	const frame = (t: number) => writeNumber(ticksToFrame(t, session.frameRate), 1);

	const SIZE = { width: 452, height: 104, pad: 12 };
	const profile = $derived.by(() => {
		if (!session.clip) return null;
		const curve = curveOf(channel, session.clip);
		// The jump at the end of a hold belongs to the next span.
		const value = (t: number) => evaluateCurve(curve, Math.min(t, next.t - 1e-3));
		const handles =
			key.shape.kind === 'handles' ? spanHandles(keys, index, contextOf(session.doc, channel)) : null;
		const reached = [key.v, next.v, ...(handles ? [key.v + handles.outRise, next.v + handles.inRise] : [])];
		for (let i = 0; i <= 60; i++) reached.push(value(key.t + ((next.t - key.t) * i) / 60));
		const range = { low: Math.min(...reached), high: Math.max(...reached) };
		const path = profilePath(value, key.t, next.t, SIZE, range);
		const peak = peakSpeed(curve, key.t, next.t);
		const span = range.high - range.low || 1;
		const y = (v: number) => SIZE.pad + (SIZE.height - 2 * SIZE.pad) * (1 - (v - range.low) / span);
		return {
			...path,
			peak: peak.speed * TICKS_PER_SECOND,
			peakAt: peak.at,
			mean: (Math.abs(next.v - key.v) / (next.t - key.t)) * TICKS_PER_SECOND,
			start: y(key.v),
			end: y(next.v),
			handles: handles && {
				out: { x: handles.outReach * SIZE.width, y: y(key.v + handles.outRise) },
				into: { x: (1 - handles.inReach) * SIZE.width, y: y(next.v + handles.inRise) },
			},
		};
	});
</script>

{#if profile}
	<div class="overflow-hidden rounded-md border border-rule bg-sheet">
		<p class="flex justify-between gap-2 border-b border-rule px-2 py-0.5 font-mono text-xs text-muted">
			<span>frame {frame(key.t)} → {frame(next.t)}</span>
			<span
				>Δ {writeNumber(next.v - key.v, 2)}{unit} · peak {profile.peak === Infinity
					? '∞'
					: writeNumber(profile.peak, 2)}{unit}/s at frame {frame(profile.peakAt)} · mean {writeNumber(
					profile.mean,
					2,
				)}{unit}/s</span
			>
		</p>
		<svg
			viewBox="0 0 {SIZE.width} {SIZE.height}"
			class="block w-full {low ? 'h-[48px]' : 'h-[100px]'}"
			preserveAspectRatio="none"
			role="img"
			aria-label="profile of the span, {key.shape.kind}"
		>
			<line
				x1="0"
				y1={profile.start}
				x2={SIZE.width}
				y2={profile.end}
				stroke="var(--muted)"
				stroke-width="1"
				stroke-dasharray="2 4"
				vector-effect="non-scaling-stroke"
			/>
			<path d={profile.area} fill="var({HUES[channel.property]})" opacity="0.22" />
			<path
				d={profile.line}
				fill="none"
				stroke="var({HUES[channel.property]})"
				stroke-width="2"
				vector-effect="non-scaling-stroke"
			/>
			{#if profile.handles}
				<line
					x1="0"
					y1={profile.start}
					x2={profile.handles.out.x}
					y2={profile.handles.out.y}
					stroke="var(--lake)"
					vector-effect="non-scaling-stroke"
				/>
				<line
					x1={SIZE.width}
					y1={profile.end}
					x2={profile.handles.into.x}
					y2={profile.handles.into.y}
					stroke="var(--lake)"
					vector-effect="non-scaling-stroke"
				/>
				<rect
					x={profile.handles.out.x - 3}
					y={profile.handles.out.y - 3}
					width="6"
					height="6"
					fill="var(--ink)"
				/>
				<rect
					x={profile.handles.into.x - 3}
					y={profile.handles.into.y - 3}
					width="6"
					height="6"
					fill="var(--ink)"
				/>
			{/if}
		</svg>
	</div>
{/if}
