<script lang="ts">
	import { kindOf, type Component, type Property } from '$core/document/types';
	import { unitAt } from '$core/document/units';
	import type { TweenValue } from '$core/edits/tween';
	import { parseHex, writeHexAlpha } from '$core/pose/hex';
	import { useSession } from '$lib/session/session.svelte';
	import ColourField from '$lib/ui/ColourField.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';

	interface Props {
		label: string;
		part: string;
		property: Property;
		component: Component;
		value: TweenValue;
		class: string;
		oncommit: (value: TweenValue) => void;
	}
	/** A number with its unit, a colour, or whether a part is shown. */
	let { label, part, property, component, value, class: own, oncommit }: Props = $props();
	const session = useSession();
	const kind = $derived(kindOf(property));
</script>

{#if typeof value !== 'number'}
	<ColourField
		{label}
		class="h-[26px] {own}"
		alpha
		value={writeHexAlpha(value)}
		onpreview={(hex) => oncommit(parseHex(hex))}
		oncommit={(hex) => oncommit(parseHex(hex))}
	/>
{:else if kind === 'switch'}
	<select
		class="field {own}"
		aria-label={label}
		value={value >= 0.5 ? 'shown' : 'hidden'}
		onchange={(event) => oncommit(event.currentTarget.value === 'shown' ? 1 : 0)}
	>
		<option>shown</option>
		<option>hidden</option>
	</select>
{:else}
	<NumberField
		{label}
		{value}
		unit={unitAt(session.doc, { part, property, component })}
		step={0.05}
		class={own}
		{oncommit}
	/>
{/if}
