<script lang="ts">
	import { AXES } from '$core/document/types';
	import type { SVGAttributes } from 'svelte/elements';
	import { ARM, GAP, KNOB, RING, type Arm } from './arms';
	import type { Axis, Handle } from './hold';

	interface Props {
		/** The pivot on the canvas. */
		x: number;
		y: number;
		arms: readonly Arm[];
		bars: readonly Arm[];
		turn: { axis: Axis };
		isPivot: boolean;
		handlers: (handle: Handle, axis: Axis) => SVGAttributes<SVGElement>;
	}
	/** What is drawn of a part's handles. Each can be caught on 24 pixels, whatever is seen of it. */
	let { x, y, arms, bars, turn, isPivot, handlers }: Props = $props();
	const HALF = 12;
</script>

{#snippet target(cx: number, cy: number)}
	<rect x={cx - HALF} y={cy - HALF} width={2 * HALF} height={2 * HALF} rx={HALF / 2} fill="transparent" />
{/snippet}

{#each bars as bar (bar.axis)}
	<line
		x1={x + bar.dx * ARM}
		y1={y + bar.dy * ARM}
		x2={bar.x}
		y2={bar.y}
		stroke="var(--ochre)"
		stroke-width="1.5"
		stroke-dasharray="2 3"
	/>
	<g
		class="pointer-events-auto touch-none cursor-nwse-resize"
		data-gizmo="scale-{AXES[bar.axis]}"
		{...handlers('scale', bar.axis)}
	>
		{@render target(bar.x, bar.y)}
		<line
			x1={bar.x - bar.dy * 7}
			y1={bar.y + bar.dx * 7}
			x2={bar.x + bar.dy * 7}
			y2={bar.y - bar.dx * 7}
			stroke="var(--ochre)"
			stroke-width="5"
			stroke-linecap="round"
		/>
	</g>
{/each}
{#each arms as arm (arm.axis)}
	<line
		x1={x + arm.dx * GAP}
		y1={y + arm.dy * GAP}
		x2={arm.x}
		y2={arm.y}
		stroke="var(--ink)"
		stroke-width="2"
	/>
{/each}
<!-- Over the lines that cross it, so that it can be caught all round; under their heads. -->
<g class="pointer-events-auto touch-none cursor-alias" data-gizmo="turn" {...handlers('turn', turn.axis)}>
	<circle
		cx={x}
		cy={y}
		r={RING}
		fill="none"
		stroke="var(--heather)"
		stroke-width="2"
		stroke-dasharray="5 4"
	/>
	<circle cx={x} cy={y} r={RING} fill="none" stroke="transparent" stroke-width={2 * HALF} />
</g>
{#each arms as arm (arm.axis)}
	<g
		class="pointer-events-auto touch-none cursor-move"
		data-gizmo="move-{AXES[arm.axis]}"
		{...handlers('move', arm.axis)}
	>
		{@render target(arm.x, arm.y)}
		<circle cx={arm.x} cy={arm.y} r="8" fill="var(--sheet)" stroke="var(--ink)" stroke-width="1.5" />
		<text x={arm.x} y={arm.y + 4} text-anchor="middle" font-size="11" font-weight="700" fill="var(--ink)"
			>{AXES[arm.axis]}</text
		>
	</g>
{/each}
<circle
	class="pointer-events-auto touch-none cursor-nwse-resize"
	cx={x + KNOB}
	cy={y + KNOB}
	r="6"
	fill="var(--ochre)"
	stroke="transparent"
	stroke-width="12"
	data-gizmo="scale-all"
	{...handlers('even', 0)}
/>
<g class="pointer-events-auto touch-none cursor-move" data-gizmo="move" {...handlers('free', 0)}>
	{@render target(x, y)}
	<circle
		cx={x}
		cy={y}
		r="7"
		fill={isPivot ? 'var(--rust)' : 'transparent'}
		stroke="var(--rust)"
		stroke-width="2.5"
	/>
</g>
