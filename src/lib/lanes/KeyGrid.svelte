<script lang="ts">
	import { tick } from 'svelte';
	import { indexAt } from '$core/curve/edit';
	import type { Key } from '$core/curve/types';
	import { kindOf } from '$core/document/types';
	import { channelLabel } from '$core/document/labels';
	import { unitAt } from '$core/document/units';
	import { ticksToFrame } from '$core/time';
	import { useSession } from '$lib/session/session.svelte';
	import { writeNumber } from '$lib/ui/number-text';
	import type { LaneView } from './lane-view.svelte';
	import type { LanePicture } from './picture';
	import type { LaneRow } from './rows';
	import { valueY } from './scale';

	interface Props {
		view: LaneView;
		picture: LanePicture | null;
		/** While keys are dragged nobody reads them. */
		dragging: boolean;
	}
	/**
	 * The lanes in sight as a grid, for the keyboard and for those who do not see the drawing: a row a lane, of the lane
	 * in hand every key as a cell, of the others what they hold in one. Selected keys stand where they are drawn.
	 */
	let { view, picture, dragging }: Props = $props();
	const session = useSession();

	const MOST_CELLS = 200;
	const CELLS_IN_DRAG = 12;

	/** Milliseconds after which lanes that have come into sight are told: nobody reads while it scrolls. */
	const SETTLES = 150;

	interface Cell {
		t: number;
		label: string;
		/** Pixels, of a picked key. */
		place?: { left: number; top: number };
	}
	interface GridRow {
		id: string;
		name: string;
		cells: Cell[];
	}

	// Read apart, so that an edit of a key does not tell every lane anew.
	const rate = $derived(session.frameRate);
	const frameOf = (t: number) => writeNumber(ticksToFrame(t, rate), 1);
	const nameOf = ({ part, channel }: LaneRow) =>
		`${part.name} ${channelLabel(channel.property, channel.component, part)}`;

	function keyLabel(row: LaneRow, { t, v }: Key): string {
		const { property } = row.channel;
		const unit = unitAt(session.doc, row.channel);
		const value =
			kindOf(property) === 'switch' ? (v >= 0.5 ? 'shown' : 'hidden') : `value ${writeNumber(v, 3)}${unit}`;
		return `key of ${nameOf(row)}, frame ${frameOf(t)}, ${value}`;
	}

	let settled = $state.raw<readonly LaneRow[]>([]);
	$effect(() => {
		const rows = picture?.rows.filter((row): row is LaneRow => row.kind === 'lane') ?? [];
		const timer = setTimeout(() => (settled = rows), SETTLES);
		return () => clearTimeout(timer);
	});

	/** Selected keys where they are drawn, lane by lane. */
	const marks = $derived.by(() => {
		const found = new Map<string, { row: LaneRow; cells: Cell[] }>();
		let room = dragging ? CELLS_IN_DRAG : MOST_CELLS;
		for (const row of picture?.rows ?? []) {
			const picked = row.kind === 'lane' ? session.selection.keys.get(row.id) : undefined;
			if (row.kind !== 'lane' || !picked) continue;
			const range = picture!.range(row);
			const cells: Cell[] = [];
			for (const key of row.channel.keys) {
				if (room <= 0) break;
				if (!picked.has(key.t)) continue;
				room--;
				const place = {
					left: view.headerWidth + view.x(key.t),
					top: row.top + valueY(key.v, range, row.height),
				};
				cells.push({ t: key.t, label: keyLabel(row, key), place });
			}
			found.set(row.id, { row, cells });
		}
		return found;
	});

	/** What is told of the lanes in sight: of the one in hand every key, of another what it holds. */
	const told = $derived(
		settled.map((row): GridRow => {
			const { keys } = row.channel;
			const name = nameOf(row);
			if (row.id === session.selection.channelId && !dragging)
				return {
					id: row.id,
					name,
					cells: keys.slice(0, MOST_CELLS).map((key) => ({ t: key.t, label: keyLabel(row, key) })),
				};
			const count = keys.length === 1 ? '1 key' : `${keys.length} keys`;
			const span = `frame ${frameOf(keys[0].t)} to ${frameOf(keys.at(-1)!.t)}`;
			return { id: row.id, name, cells: [{ t: keys[0].t, label: `${name}: ${count}, ${span}` }] };
		}),
	);

	const grid = $derived.by(() => {
		const rows = told.map((row): GridRow => {
			const picked = marks.get(row.id);
			if (!picked) return row;
			const own = new Set(picked.cells.map(({ t }) => t));
			const others = row.id === session.selection.channelId ? row.cells.filter(({ t }) => !own.has(t)) : [];
			return { ...row, cells: [...picked.cells, ...others].sort((one, other) => one.t - other.t) };
		});
		const known = new Set(rows.map(({ id }) => id));
		for (const [id, { row, cells }] of marks) if (!known.has(id)) rows.push({ id, name: nameOf(row), cells });
		return rows;
	});
	/** The one cell that Tab comes to where no key is picked. */
	const entry = $derived(marks.size > 0 ? null : grid[0]?.id);

	async function pick(id: string, t: number) {
		session.selection.pickKeys(new Map([[id, new Set([t])]]));
		session.transport.seek(t);
		await tick();
		document.querySelector<HTMLElement>('[data-key-mark]')?.focus({ preventScroll: true });
	}

	/** Arrows go along the lane and to the key nearest in time on the next one. */
	function onkeydown(event: KeyboardEvent, id: string, t: number) {
		if (event.ctrlKey || event.altKey || event.metaKey) return;
		const along = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
		const down = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
		const chosen = event.key === 'Enter' && !session.selection.keys.get(id)?.has(t);
		let to: { id: string; t: number } | null = chosen ? { id, t } : null;
		const { channels } = session.doc;
		if (along !== 0) {
			const keys = channels[id]?.keys ?? [];
			const next = keys[indexAt(keys, t) + along];
			if (next) to = { id, t: next.t };
		} else if (down !== 0) {
			const other = grid[grid.findIndex((row) => row.id === id) + down];
			const keys = other ? channels[other.id].keys : [];
			const near = keys.reduce<number | null>(
				(best, key) => (best === null || Math.abs(key.t - t) < Math.abs(best - t) ? key.t : best),
				null,
			);
			if (other && near !== null) to = { id: other.id, t: near };
		}
		if (!to && along === 0 && down === 0) return;
		event.preventDefault();
		event.stopPropagation();
		if (to) void pick(to.id, to.t);
	}
</script>

{#if grid.length > 0}
	<div role="grid" aria-label="keys of the lanes in sight">
		{#each grid as row (row.id)}
			<div role="row" aria-label={row.name}>
				{#each row.cells as cell, i (cell.t)}
					<div
						role="gridcell"
						tabindex={cell.place || (i === 0 && row.id === entry) ? 0 : -1}
						class="pointer-events-none absolute {cell.place
							? 'size-[14px] -translate-x-1/2 -translate-y-1/2 rounded-full'
							: 'size-px overflow-hidden opacity-0'}"
						style:left={cell.place ? `${cell.place.left}px` : undefined}
						style:top={cell.place ? `${cell.place.top}px` : undefined}
						aria-label={cell.label}
						aria-selected={cell.place !== undefined}
						data-key-mark={cell.place ? '' : undefined}
						onkeydown={(event) => onkeydown(event, row.id, cell.t)}
					></div>
				{/each}
			</div>
		{/each}
	</div>
{/if}
