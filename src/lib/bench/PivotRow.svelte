<script lang="ts">
	import { toast } from 'svelte-sonner';
	import { movePivot, pivotDrift } from '$core/edits/pivot';
	import { AXES, type Part } from '$core/document/types';
	import type { Vec3 } from '$player/maths/vector';
	import { boxOf } from '$core/drawing/box';
	import { stepOf } from '$lib/lanes/units';
	import type { Field } from '$lib/session/fields';
	import { roving } from '$lib/ui/roving';
	import { useSession } from '$lib/session/session.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import { writeNumber } from '$lib/ui/number-text';

	/** Where a part turns and grows about: nine places of its drawing, or typed. The drawing stays where it is. */
	let { part }: { part: Part } = $props();
	const session = useSession();
	const space = $derived(session.doc.project.space);

	const box = $derived(boxOf(part.drawing, space));
	const ROWS = ['top', 'middle', 'bottom'] as const;
	const COLUMNS = ['left', 'centre', 'right'] as const;
	/** Shares of the box; on a screen y runs down. */
	const UP: Record<(typeof ROWS)[number], number> = { top: 1, middle: 0.5, bottom: 0 };
	const ALONG: Record<(typeof COLUMNS)[number], number> = { left: 0, centre: 0.5, right: 1 };

	/** Of any of the picked parts, in its own axes; null for what has no drawing. */
	function place(of: Part, row: (typeof ROWS)[number], column: (typeof COLUMNS)[number]): Vec3 | null {
		const box = boxOf(of.drawing, space);
		if (!box) return null;
		const { low, high } = box;
		const up = space === 'world' ? UP[row] : 1 - UP[row];
		const at = (k: number, share: number) => low[k] + (high[k] - low[k]) * share;
		return [at(0, ALONG[column]), at(1, up), at(2, 0.5)];
	}
	const picked = $derived([part.id, ...session.selection.otherParts].map((id) => session.doc.parts[id]));
	/** One place for all picked parts, each of its own drawing. */
	function choose(row: (typeof ROWS)[number], column: (typeof COLUMNS)[number]) {
		move(picked.map((of) => ({ of, by: place(of, row, column) ?? [0, 0, 0] })));
	}
	function isHere(spot: Vec3 | null): boolean {
		if (!spot || !box) return false;
		const size = Math.max(...box.high.map((v, k) => v - box.low[k]), 1e-9);
		return Math.hypot(spot[0], spot[1]) < 0.01 * size;
	}
	function move(moves: readonly { of: Part; by: Vec3 }[]) {
		const { clip, doc } = session;
		const moved = moves.reduce((next, { of, by }) => movePivot(next, of.id, by), doc);
		const what = moves.length === 1 ? part.name : `${moves.length} parts`;
		session.edit(`Move the pivot of ${what}`, () => moved);
		const drifts = moves.map(({ of }) => ({
			name: of.name,
			drift: clip ? pivotDrift(doc, moved, clip, of.id) : 0,
		}));
		const { name, drift } = drifts.reduce((worst, one) => (one.drift > worst.drift ? one : worst));
		const least = space === 'world' ? 0.005 : 0.5;
		if (drift > least)
			toast(
				`In this clip ${name} is now up to ${writeNumber(drift, 2)} ${space === 'world' ? 'm' : 'px'} elsewhere`,
				{
					description:
						'The pivot is exact at the rest pose; turned or scaled, the part moves about its new pivot.',
				},
			);
	}
</script>

<div class="flex flex-wrap items-center gap-x-3 gap-y-1.5">
	<span class="text-muted">Pivot</span>
	<span
		class="grid w-[72px] shrink-0 grid-cols-3"
		role="group"
		aria-label="places for the pivot"
		data-field={'part-pivot' satisfies Field}
		tabindex="-1"
		{@attach roving('button')}
	>
		{#each ROWS as row (row)}
			{#each COLUMNS as column (column)}
				{@const spot = place(part, row, column)}
				<button
					type="button"
					class="target"
					aria-label="pivot to {row} {column}"
					aria-pressed={isHere(spot)}
					title="{row} {column}{picked.length > 1 ? `, of all ${picked.length} parts` : ''}"
					disabled={!spot}
					onclick={() => choose(row, column)}
				>
					<span
						class="size-4 rounded-[3px] border {isHere(spot)
							? 'border-rust bg-rust'
							: 'border-muted bg-sheet'}"
					></span>
				</button>
			{/each}
		{/each}
	</span>
	<span class="whitespace-nowrap text-muted">Move it by</span>
	{#each AXES as axis, k (axis)}
		<label class="flex items-center gap-1">
			<span class="text-xs text-muted">{axis}</span>
			<NumberField
				label="move the pivot by {axis}"
				value={0}
				step={stepOf(session.doc, { part: part.id, property: 'translation', component: axis })}
				digits={2}
				class="w-[56px] !min-h-[24px]"
				oncommit={(v) =>
					move(picked.map((of) => ({ of, by: [0, 1, 2].map((i) => (i === k ? v : 0)) as Vec3 })))}
			/>
		</label>
	{/each}
	<button
		type="button"
		class="btn !min-h-[24px] {session.view.pivotMode ? 'border-rust font-semibold text-rust' : ''}"
		aria-pressed={session.view.pivotMode}
		title="The middle handle on the stage moves the pivot instead of the part"
		onclick={() => (session.view.pivotMode = !session.view.pivotMode)}>Drag on the stage</button
	>
</div>
