<script lang="ts">
	import Trash from '@lucide/svelte/icons/trash';
	import { toast } from 'svelte-sonner';
	import type { Shape } from '$player/easing/shape';
	import { addTween, valueAt, type Tween } from '$core/edits/tween';
	import { numbersOf } from '$core/document/rest';
	import { channelId, kindOf, type Component, type Property } from '$core/document/types';
	import { channelLabel } from '$core/document/labels';
	import { cssEasing, readCssEasing } from '$core/easing/css';
	import { frameToTicks, MAX_CLIP_TICKS, ticksToFrame } from '$core/time';
	import { secondsToTicks, ticksToSeconds } from '$player/time';
	import { unitOf } from '$core/document/units';
	import { pickedKeys } from '$lib/session/selection.svelte';
	import { useSession } from '$lib/session/session.svelte';
	import FrameField from '$lib/session/FrameField.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import { SHAPE_SHEET } from './shapes';
	import Sheet from '$lib/ui/Sheet.svelte';

	/** Motions in the order in which code tells them; several at once; ordinary keys come out. */
	let { open = $bindable(false) }: { open: boolean } = $props();
	const session = useSession();
	const rate = $derived(session.frameRate);

	interface Row {
		part: string;
		what: string;
		from: number | null;
		relative: boolean;
		to: number;
		/** Frames. */
		start: number;
		delay: number;
		duration: number;
		unit: 'frames' | 'seconds' | 'ms';
		easing: string;
	}
	let rows = $state<Row[]>([]);

	function choicesOf(part: string) {
		const owner = session.doc.parts[part];
		return (owner ? numbersOf(owner) : [])
			.filter(({ property }) => kindOf(property) === 'number')
			.map(({ property, component }) => ({
				value: `${property}/${component}`,
				label: channelLabel(property, component, owner),
			}));
	}
	const EASINGS = SHAPE_SHEET.map(({ name, shape }) => ({ name, shape, css: cssEasing(shape) }));

	function blank(): Row {
		// Of nothing in hand, what moves in this clip already.
		const moving = Object.values(session.doc.channels).find((channel) => channel.clip === session.clipId);
		const part = session.selection.partId ?? moving?.part ?? session.project.tree[0]?.part.id ?? '';
		const start = Math.round(ticksToFrame(session.transport.local, rate));
		return {
			part,
			what:
				session.selection.channel && kindOf(session.selection.channel.property) === 'number'
					? `${session.selection.channel.property}/${session.selection.channel.component}`
					: 'translation/x',
			from: null,
			relative: false,
			to: 0,
			start,
			delay: 0,
			duration: Math.round(rate / 2),
			unit: 'frames',
			easing: 'Slow ends',
		};
	}
	$effect(() => {
		if (open && rows.length === 0) {
			const row = blank();
			rows = [{ ...row, to: nowOf(row) }];
		}
		if (!open) rows = [];
	});

	const ticksOf = (value: number, unit: Row['unit']) =>
		unit === 'frames' ? frameToTicks(value, rate) : secondsToTicks(unit === 'ms' ? value / 1000 : value);

	/** The duration in another unit: as long as it was. */
	function changeUnit(row: Row, unit: Row['unit']) {
		const ticks = ticksOf(row.duration, row.unit);
		const seconds = ticksToSeconds(ticks);
		const value = unit === 'frames' ? ticksToFrame(ticks, rate) : unit === 'ms' ? 1000 * seconds : seconds;
		row.duration = Number(value.toFixed(3));
		row.unit = unit;
	}

	function addressOf(row: Row) {
		const [property, component] = row.what.split('/') as [Property, Component];
		return { clip: session.clipId!, part: row.part, property, component };
	}
	function nowOf(row: Row): number {
		if (!session.clip || !session.doc.parts[row.part]) return 0;
		return valueAt(session.doc, addressOf(row), frameToTicks(row.start, rate));
	}
	function shapeOf(row: Row): Shape | null {
		const known = EASINGS.find(({ name }) => name.toLowerCase() === row.easing.trim().toLowerCase());
		if (known) return known.shape;
		const read = readCssEasing(row.easing);
		return read.ok ? read.value : null;
	}
	const idOf = (row: Row) =>
		channelId(session.clipId!, row.part, ...(row.what.split('/') as [Property, Component]));
	const startOf = (row: Row) => frameToTicks(row.start + row.delay, rate);
	const endOf = (row: Row) => startOf(row) + ticksOf(row.duration, row.unit);
	/** The row before some other that moves the same at the same time; −1 for none. */
	const overlapped = (row: Row, before: readonly Row[]) =>
		before.findIndex(
			(other) => idOf(other) === idOf(row) && startOf(other) < endOf(row) && startOf(row) < endOf(other),
		);
	/** Another row like the last: of another component at the same time, or after it where none is free. */
	function next(): Row {
		const last = rows.at(-1)!;
		const property = last.what.split('/')[0];
		const free = choicesOf(last.part)
			.map(({ value }) => ({ ...last, what: value }))
			.find((row) => row.what.startsWith(`${property}/`) && overlapped(row, rows) < 0);
		if (!free) return { ...last, start: ticksToFrame(endOf(last), rate), delay: 0 };
		return { ...free, to: last.relative ? last.to : nowOf(free) };
	}
	/** What stands in the way of a row; empty when nothing does. */
	function wrongOf(row: Row, index: number): string {
		if (!session.doc.parts[row.part]) return 'Choose a part.';
		if (session.doc.formulas[`${idOf(row)}/formula`]) return 'A formula computes this.';
		if (shapeOf(row) === null) return 'This easing is not known.';
		if (endOf(row) - startOf(row) < 1) return 'It must last longer.';
		if (endOf(row) > MAX_CLIP_TICKS) return 'It would end after 600 s.';
		const other = overlapped(row, rows.slice(0, index));
		return other < 0 ? '' : `Line ${other + 1} moves the same at that time.`;
	}
	const wrong = $derived(rows.map(wrongOf));

	function make() {
		const tweens = rows.map((row): Tween => ({
			...addressOf(row),
			from: row.from,
			to: row.relative ? { by: row.to } : { value: row.to },
			start: startOf(row),
			duration: ticksOf(row.duration, row.unit),
			shape: shapeOf(row)!,
		}));
		const count = tweens.length;
		const keys = new Map<string, Set<number>>();
		for (const tween of tweens) {
			const id = channelId(tween.clip, tween.part, tween.property, tween.component);
			keys.set(id, (keys.get(id) ?? new Set()).add(tween.start));
		}
		session.edit(count === 1 ? 'Add a tween' : `Add ${count} motions`, (doc) => ({
			doc: tweens.reduce(addTween, doc),
			...pickedKeys(keys),
		}));
		open = false;
		toast(count === 1 ? 'One motion, as keys' : `${count} motions, as keys`, { duration: 1800 });
	}
</script>

<Sheet
	bind:open
	title="Tween"
	about="What moves, from where, to or by how much, when, how long, how. Each becomes two ordinary keys."
	width="w-[1040px]"
>
	<table class="mt-3 w-full border-separate border-spacing-x-1 border-spacing-y-1">
		<thead class="text-left text-muted">
			<tr>
				{#each ['part', 'property', 'from', '', 'value', 'start', 'delay', 'duration', '', 'easing', ''] as head, i (i)}
					<th class="font-normal">{head}</th>
				{/each}
			</tr>
		</thead>
		<tbody>
			{#each rows as row, i (i)}
				{@const unit = unitOf(row.what.split('/')[0] as Property, session.doc.project.space)}
				<tr>
					<td>
						<select class="field w-[136px]" aria-label="part" bind:value={row.part}>
							{#each session.project.tree as { part } (part.id)}<option value={part.id}>{part.name}</option
								>{/each}
						</select>
					</td>
					<td>
						<select class="field w-[120px]" aria-label="property" bind:value={row.what}>
							{#each choicesOf(row.part) as choice (choice.value)}<option value={choice.value}
									>{choice.label}</option
								>{/each}
						</select>
					</td>
					<td>
						<span class="flex gap-1">
							<select
								class="field w-[64px]"
								aria-label="from"
								value={row.from === null ? 'now' : 'value'}
								onchange={(event) => (row.from = event.currentTarget.value === 'now' ? null : nowOf(row))}
							>
								<option value="now">now</option>
								<option value="value">at</option>
							</select>
							{#if row.from !== null}
								<NumberField
									label="from value"
									value={row.from}
									{unit}
									class="w-[68px]"
									oncommit={(v) => (row.from = v)}
								/>
							{/if}
						</span>
					</td>
					<td>
						<select
							class="field w-[54px]"
							aria-label="to or by"
							value={row.relative ? 'by' : 'to'}
							onchange={(event) => (row.relative = event.currentTarget.value === 'by')}
						>
							<option value="to">to</option>
							<option value="by">by</option>
						</select>
					</td>
					<td
						><NumberField
							label="to value"
							value={row.to}
							{unit}
							step={0.05}
							class="w-[76px]"
							oncommit={(v) => (row.to = v)}
						/></td
					>
					<td
						><FrameField
							label="start frame"
							value={row.start}
							digits={1}
							min={0}
							class="w-[60px]"
							oncommit={(v) => (row.start = v)}
						/></td
					>
					<td
						><FrameField
							label="delay in frames"
							value={row.delay}
							digits={1}
							min={0}
							class="w-[56px]"
							oncommit={(v) => (row.delay = v)}
						/></td
					>
					<td
						><NumberField
							label="duration"
							value={row.duration}
							digits={3}
							min={0}
							class="w-[64px]"
							oncommit={(v) => (row.duration = v)}
						/></td
					>
					<td>
						<select
							class="field w-[82px]"
							aria-label="unit of the duration"
							value={row.unit}
							onchange={(event) => changeUnit(row, event.currentTarget.value as Row['unit'])}
						>
							<option value="frames">frames</option>
							<option value="seconds">seconds</option>
							<option value="ms">ms</option>
						</select>
					</td>
					<td>
						<input
							class="field w-[150px] aria-invalid:border-rust"
							aria-label="easing"
							list="tween-easings"
							aria-invalid={shapeOf(row) === null}
							bind:value={row.easing}
						/>
					</td>
					<td>
						<button
							type="button"
							class="btn btn-square btn-plain"
							aria-label="drop this motion"
							disabled={rows.length === 1}
							onclick={() => (rows = rows.filter((_, k) => k !== i))}><Trash size={14} /></button
						>
					</td>
				</tr>
				{#if wrong[i] !== ''}
					<tr><td colspan="11"><p class="text-rust" role="alert">{wrong[i]}</p></td></tr>
				{/if}
			{/each}
		</tbody>
	</table>
	<datalist id="tween-easings">
		{#each EASINGS as easing (easing.name)}<option value={easing.name}>{easing.css ?? ''}</option>{/each}
		<option value="cubic-bezier(0.2, 0.8, 0.2, 1)"></option>
		<option value="steps(4, jump-end)"></option>
	</datalist>
	{#snippet aside()}
		<button type="button" class="btn" onclick={() => (rows = [...rows, next()])}>Add another</button>
	{/snippet}
	{#snippet actions()}
		<button type="button" class="btn btn-main" disabled={wrong.some((text) => text !== '')} onclick={make}
			>Create keys</button
		>
	{/snippet}
</Sheet>
