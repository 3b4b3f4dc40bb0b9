<script lang="ts">
	import Trash from '@lucide/svelte/icons/trash';
	import { kindOf } from '$core/document/types';
	import { useSession } from '$lib/session/session.svelte';
	import FrameField from '$lib/session/FrameField.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import { choicesOf, propertyOf, shapeOf, type Row, type TweenLines } from './tween-rows';
	import TweenValueField from './TweenValueField.svelte';

	interface Props {
		row: Row;
		lines: TweenLines;
		/** What stands in its way; empty when nothing does. */
		wrong: string;
		isOnly: boolean;
		onchange: (row: Row) => void;
		ondrop: () => void;
		/** Text that is pasted as its easing; true where it said more than that and has been taken. */
		onpasted: (text: string) => boolean;
	}
	let { row, lines, wrong, isOnly, onchange, ondrop, onpasted }: Props = $props();
	const session = useSession();
	const property = $derived(propertyOf(row));
	const isNumber = $derived(kindOf(property) === 'number');
	const put = (change: Partial<Row>) => onchange({ ...row, ...change });
</script>

<tr>
	<td>
		<select
			class="field w-[136px]"
			aria-label="part"
			value={row.part}
			onchange={(event) => onchange(lines.about(row, event.currentTarget.value, row.what))}
		>
			{#each session.project.tree as { part } (part.id)}<option value={part.id}>{part.name}</option>{/each}
		</select>
	</td>
	<td>
		<select
			class="field w-[120px]"
			aria-label="property"
			value={row.what}
			onchange={(event) => onchange(lines.about(row, row.part, event.currentTarget.value))}
		>
			{#each choicesOf(session.doc, row.part) as choice (choice.value)}<option value={choice.value}
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
				onchange={(event) => put({ from: event.currentTarget.value === 'now' ? null : lines.nowOf(row) })}
			>
				<option value="now">now</option>
				<option value="value">at</option>
			</select>
			{#if row.from !== null}
				<TweenValueField
					label="from value"
					{...lines.addressOf(row)}
					value={row.from}
					class="w-[68px]"
					oncommit={(from) => put({ from })}
				/>
			{/if}
		</span>
	</td>
	<td>
		{#if isNumber}
			<select
				class="field w-[54px]"
				aria-label="to or by"
				value={row.relative ? 'by' : 'to'}
				onchange={(event) => put({ relative: event.currentTarget.value === 'by' })}
			>
				<option value="to">to</option>
				<option value="by">by</option>
			</select>
		{:else}
			<span class="pl-2 text-muted">to</span>
		{/if}
	</td>
	<td>
		<TweenValueField
			label="to value"
			{...lines.addressOf(row)}
			value={row.to}
			class="w-[80px]"
			oncommit={(to) => put({ to })}
		/>
	</td>
	<td
		><FrameField
			label="start frame"
			value={row.start}
			digits={1}
			min={0}
			class="w-[60px]"
			oncommit={(start) => put({ start })}
		/></td
	>
	<td
		><FrameField
			label="delay in frames"
			value={row.delay}
			digits={1}
			min={0}
			class="w-[56px]"
			oncommit={(delay) => put({ delay })}
		/></td
	>
	<td
		><NumberField
			label="duration"
			value={row.duration}
			digits={3}
			min={0}
			class="w-[64px]"
			oncommit={(duration) => put({ duration })}
		/></td
	>
	<td>
		<select
			class="field w-[82px]"
			aria-label="unit of the duration"
			value={row.unit}
			onchange={(event) => put(lines.inUnit(row, event.currentTarget.value as Row['unit']))}
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
			value={row.easing}
			oninput={(event) => put({ easing: event.currentTarget.value })}
			onpaste={(event) => {
				if (onpasted(event.clipboardData?.getData('text') ?? '')) event.preventDefault();
			}}
		/>
	</td>
	<td>
		<button
			type="button"
			class="btn btn-square btn-plain"
			aria-label="drop this motion"
			disabled={isOnly}
			onclick={ondrop}><Trash size={14} /></button
		>
	</td>
</tr>
{#if wrong !== ''}
	<tr><td colspan="11"><p class="text-rust" role="alert">{wrong}</p></td></tr>
{/if}
