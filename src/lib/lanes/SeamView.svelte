<script lang="ts">
	import { curveOf, type CompiledClip } from '$core/clip/compile';
	import { traceOf } from '$core/clip/trace';
	import { seamOf } from '$core/clip/seam';
	import { evaluateCurve } from '$player/curve/evaluate';
	import {
		blendSeam,
		endAtStart,
		markAccumulating,
		moveStrayKeys,
		shiftLastKey,
		smoothSeam,
	} from '$core/edits/seam';
	import { channelsOfClip, kindOf, type Channel, type Clip, type Property } from '$core/document/types';
	import { channelLabel } from '$core/document/labels';
	import { frameToTicks } from '$core/time';
	import { TICKS_PER_SECOND } from '$player/time';
	import { useSession } from '$lib/session/session.svelte';
	import FrameField from '$lib/session/FrameField.svelte';
	import { writeNumber } from '$lib/ui/number-text';
	import { unitAt } from '$core/document/units';
	import { HUES } from './units';

	/** The last and the first part of a loop side by side, channel by channel; what does not close comes first. */
	const session = useSession();
	const SIZE = { width: 130, height: 40, pad: 4 };
	const SHOWN = 0.2;
	/** Gaps below this share of a channel's range are none. */
	const CLOSED = 0.001;
	/** Changes of speed below this many ranges a round are none. */
	const KNOCK = 0.05;
	let blendFrames = $state(10);

	interface SeamRow {
		/** Of the channel, or of the formula. */
		id: string;
		property: Property;
		unit: string;
		/** Null for what a formula computes: that closes where its inputs do. */
		channel: Channel | null;
		name: string;
		gap: number;
		slopeGap: number;
		/** Whether the speed changes enough to be felt. */
		knocks: boolean;
		open: boolean;
		line: string;
		middle: { before: number; after: number };
	}

	const alternates = $derived(session.clip?.loop.mode === 'alternate');
	type Named = Pick<Channel, 'id' | 'part' | 'property' | 'component'>;

	/** A row of a number that is read at a time of the first round or of the next one. */
	function rowOf(
		named: Named,
		length: number,
		read: (ticks: number, round: number) => number,
		found: Pick<SeamRow, 'gap' | 'slopeGap' | 'channel'>,
	): SeamRow | null {
		const points: { x: number; v: number }[] = [];
		const steps = 60;
		const stretch = SHOWN * length;
		for (let i = 0; i <= steps; i++)
			points.push({ x: i / steps / 2, v: read(length - stretch + (stretch * i) / steps, 0) });
		for (let i = 0; i <= steps; i++)
			points.push({ x: 0.5 + i / steps / 2, v: read((stretch * i) / steps, 1) });
		// A whole turn is no gap: the second half is drawn where the first one ends.
		const turn = named.property === 'rotation' ? points[steps].v - points[steps + 1].v - found.gap : 0;
		for (const point of points.slice(steps + 1)) point.v += turn;
		let range = 0;
		for (let i = 0; i <= 48; i++)
			range = Math.max(range, Math.abs(read((length * i) / 48, 0) - points[steps].v));
		if (range < 1e-9) return null;
		const low = Math.min(...points.map((point) => point.v));
		const high = Math.max(...points.map((point) => point.v));
		const y = (v: number) =>
			SIZE.pad + (SIZE.height - 2 * SIZE.pad) * (1 - (v - low) / Math.max(high - low, 1e-9));
		const line = points
			.map(
				({ x, v }, i) =>
					`${i === 0 || i === steps + 1 ? 'M' : 'L'}${(x * SIZE.width).toFixed(1)} ${y(v).toFixed(1)}`,
			)
			.join('');
		const part = session.doc.parts[named.part];
		return {
			...found,
			id: named.id,
			property: named.property,
			unit: unitAt(session.doc, named),
			name: `${part?.name} ${channelLabel(named.property, named.component, part)}`,
			knocks: Math.abs(found.slopeGap) > (KNOCK * range * TICKS_PER_SECOND) / length,
			// What only holds jumps on purpose.
			open:
				Math.abs(found.gap) > CLOSED * range &&
				(found.channel?.keys.some((key) => key.shape.kind !== 'hold') ?? true),
			line,
			middle: { before: y(points[steps].v), after: y(points[steps + 1].v) },
		};
	}

	function channelRow(clip: Clip, channel: Channel): SeamRow | null {
		const curve = curveOf(channel, clip);
		const { length } = clip;
		const change = channel.accumulates ? evaluateCurve(curve, length) - evaluateCurve(curve, 0) : 0;
		const rotates = channel.property === 'rotation';
		return rowOf(channel, length, (ticks, round) => evaluateCurve(curve, ticks) + round * change, {
			channel,
			...seamOf(curve, clip, { rotates, accumulates: channel.accumulates }),
		});
	}

	/** Ticks over which a speed is measured on both sides of the seam. */
	const STEP = 10;
	function formulaRows({ clip, formulas }: CompiledClip): SeamRow[] {
		const { length } = clip;
		return formulas.order.flatMap(({ formula, place }) => {
			const { read } = traceOf(session.compiled!, place);
			const ends = read(length);
			const jump = alternates ? 0 : read(0, 1) - ends;
			const gap = formula.property === 'rotation' ? jump - 360 * Math.round(jump / 360) : jump;
			const before = ends - read(length - STEP);
			const speeds = [before, alternates ? -before : read(STEP, 1) - read(0, 1)];
			const slopeGap = ((speeds[1] - speeds[0]) * TICKS_PER_SECOND) / STEP;
			return rowOf(formula, length, read, { channel: null, gap, slopeGap }) ?? [];
		});
	}

	const rows = $derived.by(() => {
		const { doc, clip, compiled } = session;
		if (!clip || !compiled) return [];
		const channels = channelsOfClip(doc, clip.id)
			.filter((channel) => kindOf(channel.property) === 'number' && channel.keys.length > 1)
			.flatMap((channel) => channelRow(clip, channel) ?? []);
		return [...channels, ...formulaRows(compiled)].sort(
			(a, b) => Number(b.open) - Number(a.open) || (a.name < b.name ? -1 : 1),
		);
	});
	const open = $derived(rows.filter((row) => row.open).length);

	function play() {
		const { clip, transport } = session;
		if (!clip) return;
		// From a second before the seam, over it.
		const before = Math.max(0, clip.length - TICKS_PER_SECOND);
		transport.stop();
		transport.seek(before);
		transport.play();
	}
	function strayMends() {
		const { clip } = session;
		if (!clip) return;
		session.edit('Move last keys to the end', (doc) =>
			moveStrayKeys(doc, clip, frameToTicks(3, session.frameRate)),
		);
	}
</script>

<section class="flex max-h-[38%] shrink-0 flex-col border-t border-rule bg-paper" aria-label="seam">
	<div class="flex h-8 shrink-0 items-center gap-3 border-b border-rule bg-band px-3">
		<h2 class="sheet-title">Seam</h2>
		<span class={open > 0 ? 'font-semibold text-rust' : 'text-muted'}
			>{open === 0
				? 'All channels close'
				: open === 1
					? '1 channel does not close'
					: `${open} channels do not close`}</span
		>
		<span class="ml-auto flex items-center gap-2">
			<label class="flex items-center gap-1"
				><span class="text-muted">Blend over</span>
				<FrameField
					label="frames of the blend into the start"
					value={blendFrames}
					digits={0}
					min={1}
					max={10_000}
					class="w-[52px] !min-h-[22px]"
					oncommit={(v) => (blendFrames = Math.round(v))}
				/></label
			>
			<button type="button" class="btn !min-h-[22px]" onclick={strayMends}>Last keys to the end</button>
			<button type="button" class="btn !min-h-[22px]" onclick={play}>Play over the seam</button>
		</span>
	</div>
	<ul class="min-h-0 overflow-y-auto">
		{#each rows as row (row.id)}
			<li class="flex items-center gap-3 border-b border-rule px-3 last:border-b-0" data-seam={row.name}>
				<button
					type="button"
					class="w-[150px] shrink-0 truncate text-left hover:underline {row.open ? 'font-semibold' : ''}"
					onclick={() => session.selection.pickChannel(row.id)}>{row.name}</button
				>
				<svg
					width={SIZE.width}
					height={SIZE.height}
					viewBox="0 0 {SIZE.width} {SIZE.height}"
					class="shrink-0"
					aria-hidden="true"
				>
					<line x1={SIZE.width / 2} x2={SIZE.width / 2} y1="0" y2={SIZE.height} stroke="var(--rule)" />
					<path d={row.line} fill="none" stroke="var({HUES[row.property]})" stroke-width="1.5" />
					{#if row.open}
						<line
							x1={SIZE.width / 2}
							x2={SIZE.width / 2}
							y1={row.middle.before}
							y2={row.middle.after}
							stroke="var(--rust)"
							stroke-width="3"
						/>
					{/if}
				</svg>
				<span class="w-[140px] shrink-0 font-mono text-xs {row.open ? 'text-rust' : 'text-muted'}">
					{row.channel?.accumulates
						? 'accumulates'
						: row.open
							? `gap ${writeNumber(row.gap, 3)}${row.unit}`
							: 'closes'}{row.knocks ? `, speed change ${writeNumber(row.slopeGap, 2)}${row.unit}/s` : ''}
				</span>
				<span class="flex min-w-0 flex-wrap gap-1 py-1">
					{#if row.open && row.channel}
						{@const id = row.channel.id}
						<button
							type="button"
							class="btn !min-h-[22px]"
							onclick={() => session.edit('End at start value', (doc) => endAtStart(doc, id))}
							>End at start value</button
						>
						<button
							type="button"
							class="btn !min-h-[22px]"
							onclick={() => session.edit('Shift the last key', (doc) => shiftLastKey(doc, id))}
							>Shift last key</button
						>
						<button
							type="button"
							class="btn !min-h-[22px]"
							onclick={() =>
								session.edit('Blend into the start', (doc) =>
									blendSeam(doc, id, frameToTicks(blendFrames, session.frameRate)),
								)}>Blend into the start</button
						>
						{#if session.clip?.loop.mode === 'repeat'}
							<button
								type="button"
								class="btn !min-h-[22px]"
								onclick={() => session.edit('Accumulate', (doc) => markAccumulating(doc, id))}
								>Accumulate</button
							>
						{/if}
					{:else if row.knocks && row.channel?.keys[0].t === 0 && row.channel.keys.at(-1)?.t === session.clip?.length}
						{@const { id } = row.channel}
						<button
							type="button"
							class="btn !min-h-[22px]"
							onclick={() => session.edit('Smooth across the seam', (doc) => smoothSeam(doc, id))}
							title="Smooth across the seam">Smooth</button
						>
					{/if}
				</span>
			</li>
		{:else}
			<li class="px-3 py-2 text-muted">Nothing moves in this clip yet.</li>
		{/each}
	</ul>
</section>
