<script lang="ts">
	import Trash from '@lucide/svelte/icons/trash';
	import { BUILT_IN_NAMES, compileExpression } from '$core/formula/expression';
	import { FUNCTIONS } from '$core/formula/functions';
	import { putFormula, setFormulaInput, whyRefused } from '$core/edits/formulas';
	import type { FormulaInput } from '$core/document/types';
	import { channelLabel } from '$core/document/labels';
	import { convertFormula, deleteFormula } from '$lib/acts/formula-acts';
	import { useSession } from '$lib/session/session.svelte';
	import ChannelPicker from './ChannelPicker.svelte';
	import FormulaText from './FormulaText.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';

	const session = useSession();
	const formula = $derived(session.selection.formula!);
	const part = $derived(session.doc.parts[formula.part]);
	const names = $derived(Object.keys(formula.inputs));
	let text = $state<ReturnType<typeof FormulaText>>();
	let refused = $state('');

	// Another formula has no refusal yet.
	$effect(() => {
		void formula.id;
		refused = '';
	});

	function choose(name: string, input: FormulaInput) {
		const next = setFormulaInput(session.doc, formula.id, name, input);
		refused = whyRefused(next, formula.id) ?? '';
		if (refused === '') session.edit('Change what a formula reads', () => next);
	}
	function addInput() {
		const letters = 'abcdefghijklmnopqrstuvwxyz'.split('');
		const name = letters.find((letter) => !names.includes(letter)) ?? `in${names.length}`;
		choose(name, { value: 1 });
	}
	function rename(from: string, to: string) {
		if (!/^[a-z][A-Za-z0-9]{0,31}$/.test(to) || names.includes(to)) return;
		if ((BUILT_IN_NAMES as readonly string[]).includes(to) || Object.hasOwn(FUNCTIONS, to)) return;
		const inputs = Object.fromEntries(
			Object.entries(formula.inputs).map(([name, input]) => [name === from ? to : name, input]),
		);
		const word = new RegExp(`(?<![\\w.])${from}(?!\\w)`, 'g');
		session.edit('Rename what a formula reads', (doc) =>
			putFormula(doc, { ...formula, inputs, text: formula.text.replace(word, to) }),
		);
	}
	function drop(name: string) {
		const inputs = Object.fromEntries(Object.entries(formula.inputs).filter(([own]) => own !== name));
		if (!compileExpression(formula.text, Object.keys(inputs)).ok) {
			refused = `The formula still uses "${name}".`;
			return;
		}
		session.edit('Drop what a formula reads', (doc) => putFormula(doc, { ...formula, inputs }));
	}
</script>

<div class="flex flex-col gap-2">
	<div class="flex items-center gap-2">
		<h2 class="sheet-title">Formula</h2>
		<span class="min-w-0 flex-1 truncate text-muted"
			>{part.name} / {channelLabel(formula.property, formula.component, part)}</span
		>
		<button
			type="button"
			class="btn !min-h-[24px]"
			title="Replace by keys that draw the same, within a thousandth of its range"
			onclick={() => convertFormula(session, formula)}>Convert to keys</button
		>
		<button
			type="button"
			class="btn btn-square !min-h-[24px]"
			aria-label="delete the formula"
			title="Delete the formula: keys below it count again"
			onclick={() => deleteFormula(session, formula)}><Trash size={14} /></button
		>
	</div>
	{#key formula.id}
		<FormulaText
			bind:this={text}
			kept={formula.text}
			{names}
			{refused}
			isNew={session.asks.formulaText === formula.id}
			onopen={() => (session.asks.formulaText = null)}
			oncommit={(next) => {
				refused = '';
				session.edit('Change formula', (doc) => putFormula(doc, { ...formula, text: next }));
			}}
		/>
	{/key}
	<table class="w-full border-separate border-spacing-y-0.5" aria-label="what the formula reads">
		<tbody>
			{#each Object.entries(formula.inputs) as [name, input] (name)}
				<tr>
					<td class="w-[96px] pr-2">
						<input
							class="field w-full font-mono !min-h-[24px]"
							aria-label="name of the input {name}"
							value={name}
							maxlength="32"
							onchange={(event) => {
								rename(name, event.currentTarget.value.trim());
								event.currentTarget.value = name;
							}}
						/>
					</td>
					<td class="pr-2">
						<ChannelPicker
							label="what {name} is"
							value={'value' in input ? null : input}
							onpick={(value) => choose(name, value ?? { value: 0 })}
						/>
					</td>
					<td class="w-[84px]">
						{#if 'value' in input}
							<NumberField
								label="value of {name}"
								value={input.value}
								step={0.05}
								class="w-full !min-h-[24px]"
								oncommit={(v) => choose(name, { value: v })}
							/>
						{/if}
					</td>
					<td class="w-7 text-right">
						<button
							type="button"
							class="btn btn-square btn-plain !min-h-[24px]"
							aria-label="drop {name}"
							onclick={() => drop(name)}><Trash size={13} /></button
						>
					</td>
				</tr>
			{/each}
		</tbody>
	</table>
	<div class="flex flex-wrap items-center gap-1">
		<button type="button" class="btn !min-h-[24px]" onclick={addInput}>Add input</button>
		{#each [...names, ...BUILT_IN_NAMES] as name (name)}
			<button
				type="button"
				class="btn !min-h-[24px] font-mono"
				aria-label="put {name} into the formula"
				onclick={() => text?.insert(name)}>{name}</button
			>
		{/each}
		<select
			class="field !min-h-[24px]"
			aria-label="put a function into the formula"
			value=""
			onchange={(event) => {
				text?.insert(event.currentTarget.value);
				event.currentTarget.value = '';
			}}
		>
			<option value="" disabled>Functions …</option>
			{#each Object.entries(FUNCTIONS) as [name, { words }] (name)}<option value={name}
					>{name}({words})</option
				>{/each}
		</select>
	</div>
	<p class="text-muted">
		Angles in degrees; <span class="font-mono">time</span> in seconds, <span class="font-mono">rest</span> is the
		part's own rest value.
	</p>
</div>
