<script lang="ts">
	import Plus from '@lucide/svelte/icons/plus';
	import { freeNumberKey, putNumber, removeNumber } from '$core/edits/own-numbers';
	import type { OwnNumber, Part } from '$core/document/types';
	import { addNumber } from '$lib/acts/part-acts';
	import type { Field } from '$lib/session/fields';
	import { useSession } from '$lib/session/session.svelte';
	import Labelled from '$lib/ui/Labelled.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import Popover from '$lib/ui/Popover.svelte';

	/** The numbers of one's own of a part: what they are called, counted in, and between what they go. */
	let { part }: { part: Part } = $props();
	const session = useSession();
	const numbers = $derived(part.numbers ?? []);
	const free = $derived(freeNumberKey(part));

	function change(own: OwnNumber, changed: Partial<OwnNumber>) {
		session.edit(`Change ${own.name} of ${part.name}`, (doc) =>
			putNumber(doc, part.id, { ...own, ...changed }),
		);
	}
	function rename(own: OwnNumber, field: HTMLInputElement) {
		const name = field.value.trim();
		if (name && name !== own.name) change(own, { name });
		else field.value = own.name;
	}
</script>

<div class="flex flex-wrap items-center gap-1.5">
	{#each numbers as own (own.key)}
		<Popover
			label="settings of {own.name}"
			title="Name, unit and range"
			class="btn max-w-[160px] truncate"
			contentClass="flex w-[250px] flex-col gap-2 p-3"
			align="start"
		>
			{#snippet trigger()}{own.name}{own.unit ? `, ${own.unit}` : ''} …{/snippet}
			<Labelled text="name">
				<input
					class="field w-full"
					maxlength="120"
					value={own.name}
					onchange={(event) => rename(own, event.currentTarget)}
				/>
			</Labelled>
			<Labelled text="unit">
				<input
					class="field w-[90px]"
					maxlength="12"
					placeholder="none"
					value={own.unit}
					onchange={(event) => change(own, { unit: event.currentTarget.value.trim() })}
				/>
			</Labelled>
			<div class="flex gap-2">
				<Labelled text="from">
					<NumberField
						label="lowest {own.name}"
						value={own.low}
						digits={3}
						max={own.high - 1e-6}
						class="w-[80px]"
						oncommit={(low) => change(own, { low })}
					/>
				</Labelled>
				<Labelled text="to">
					<NumberField
						label="highest {own.name}"
						value={own.high}
						digits={3}
						min={own.low + 1e-6}
						class="w-[80px]"
						oncommit={(high) => change(own, { high })}
					/>
				</Labelled>
			</div>
			<button
				type="button"
				class="btn"
				title="With its keys and formulas in all clips"
				onclick={() =>
					session.edit(`Remove ${own.name} of ${part.name}`, (doc) => removeNumber(doc, part.id, own.key))}
				>Remove this number</button
			>
		</Popover>
	{/each}
	<button
		type="button"
		class="btn flex items-center gap-1"
		data-field={'part-numbers' satisfies Field}
		title={free
			? 'A number of your own that clips move and code reads: a volume, a blur'
			: 'A part has at most eight'}
		disabled={!free}
		onclick={() => addNumber(session, part)}><Plus size={13} /> Own number</button
	>
</div>
