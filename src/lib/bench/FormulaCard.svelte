<script lang="ts">
	import Trash from '@lucide/svelte/icons/trash';
	import { BUILT_IN_NAMES, compileExpression, MAX_FORMULA_LENGTH } from '$core/formula/expression';
	import { FUNCTIONS } from '$core/formula/functions';
	import {
		formulaIntoKeys,
		putFormula,
		removeFormula,
		setFormulaInput,
		whyRefused,
	} from '$core/document/edits/formulas';
	import { numbersOf } from '$core/document/rest';
	import {
		channelLabel,
		isVector,
		type Component,
		type FormulaInput,
		type Property,
	} from '$core/document/types';
	import { useSession } from '$lib/session/session.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';

	const session = useSession();
	const formula = $derived(session.formula!);
	const part = $derived(session.doc.parts[formula.part]);
	const names = $derived(Object.keys(formula.inputs));
	let typed = $state<string | null>(null);
	let field = $state<HTMLTextAreaElement>();
	const text = $derived(typed ?? formula.text);
	const compiled = $derived(compileExpression(text, names));
	let refused = $state('');

	// Another formula begins with its own text.
	$effect(() => {
		void formula.id;
		typed = null;
		refused = '';
	});

	/** Everything that a formula may read, by what its parts are called. */
	const choices = $derived(
		session.tree.map(({ part: owner }) => ({
			part: owner,
			numbers: numbersOf(owner)
				.filter(({ property }) => !isVector(property))
				.map(({ property, component }) => ({
					value: [owner.id, property, component].join('/'),
					label: channelLabel(property, component),
				})),
		})),
	);

	function commit() {
		if (typed === null) return;
		const next = typed.trim();
		if (!compiled.ok) return;
		typed = null;
		refused = '';
		if (next !== formula.text)
			session.edit('Change formula', (doc) => putFormula(doc, { ...formula, text: next }));
	}
	function choose(name: string, input: FormulaInput) {
		const next = setFormulaInput(session.doc, formula.id, name, input);
		refused = whyRefused(next, formula.id) ?? '';
		if (refused === '') session.edit('Change what a formula reads', () => next);
	}
	function pick(name: string, value: string) {
		const [owner, property, component] = value.split('/') as [string, Property, Component];
		choose(name, value === '' ? { value: 0 } : { part: owner, property, component });
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
	/** Puts a name or a function where the caret is. */
	function insert(word: string) {
		const at = field?.selectionStart ?? text.length;
		const end = field?.selectionEnd ?? at;
		const call = Object.hasOwn(FUNCTIONS, word) ? `${word}()` : word;
		typed = text.slice(0, at) + call + text.slice(end);
		const caret = at + call.length - (call.endsWith('()') ? 1 : 0);
		requestAnimationFrame(() => {
			field?.focus();
			field?.setSelectionRange(caret, caret);
		});
	}
	function addressOf(input: FormulaInput): string {
		return 'value' in input ? '' : [input.part, input.property, input.component].join('/');
	}
</script>

<div class="flex flex-col gap-2">
	<div class="flex items-center gap-2">
		<h2 class="sheet-title">Formula</h2>
		<span class="min-w-0 flex-1 truncate text-muted"
			>{part.name} / {channelLabel(formula.property, formula.component)}</span
		>
		<button
			type="button"
			class="btn !min-h-[24px]"
			title="Replace by keys that draw the same, within a thousandth of its range"
			onclick={() => {
				const { id } = formula;
				session.pickPart(formula.part);
				session.edit('Formula into keys', (doc) => formulaIntoKeys(doc, id));
			}}>make keys</button
		>
		<button
			type="button"
			class="btn btn-square !min-h-[24px]"
			aria-label="delete the formula"
			title="Delete the formula: keys below it count again"
			onclick={() => {
				const { id } = formula;
				session.pickPart(formula.part);
				session.edit('Delete formula', (doc) => removeFormula(doc, id));
			}}><Trash size={14} /></button
		>
	</div>
	<label class="flex items-start gap-1.5">
		<span class="pt-1 font-mono text-muted">=</span>
		<textarea
			bind:this={field}
			class="field min-h-[30px] flex-1 py-1 font-mono aria-invalid:border-rust"
			rows="2"
			maxlength={MAX_FORMULA_LENGTH}
			spellcheck="false"
			aria-label="formula"
			aria-invalid={!compiled.ok}
			aria-describedby="formula-problem"
			value={text}
			oninput={(event) => (typed = event.currentTarget.value)}
			onblur={commit}
			onkeydown={(event) => {
				if (event.key === 'Enter' && !event.shiftKey) {
					event.preventDefault();
					commit();
				} else if (event.key === 'Escape') typed = null;
			}}></textarea>
	</label>
	<p id="formula-problem" class="min-h-[18px] text-rust" role="status">
		{#if !compiled.ok}
			{@const { index, message, suggestion } = compiled.problem}
			<span class="font-mono text-xs text-muted"
				>{text.slice(Math.max(0, index - 14), index)}<span class="text-rust">▸</span>{text.slice(
					index,
					index + 14,
				)}</span
			>
			{message}
			{#if suggestion}
				<button
					type="button"
					class="btn !min-h-[20px]"
					onclick={() => {
						const wrong = /^[A-Za-z_$][\w$]*/.exec(text.slice(index))?.[0] ?? '';
						typed = text.slice(0, index) + suggestion + text.slice(index + wrong.length);
					}}>use {suggestion}</button
				>
			{/if}
		{:else if refused}{refused}{/if}
	</p>
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
						<select
							class="field w-full !min-h-[24px]"
							aria-label="what {name} is"
							value={addressOf(input)}
							onchange={(event) => pick(name, event.currentTarget.value)}
						>
							<option value="">a fixed number</option>
							{#each choices as group (group.part.id)}
								<optgroup label={group.part.name}>
									{#each group.numbers as choice (choice.value)}
										<option value={choice.value}>{group.part.name} / {choice.label}</option>
									{/each}
								</optgroup>
							{/each}
						</select>
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
		<button type="button" class="btn !min-h-[24px]" onclick={addInput}>+ input</button>
		{#each [...names, ...BUILT_IN_NAMES] as name (name)}
			<button
				type="button"
				class="btn !min-h-[24px] font-mono"
				aria-label="put {name} into the formula"
				onclick={() => insert(name)}>{name}</button
			>
		{/each}
		<select
			class="field !min-h-[24px]"
			aria-label="put a function into the formula"
			value=""
			onchange={(event) => {
				insert(event.currentTarget.value);
				event.currentTarget.value = '';
			}}
		>
			<option value="" disabled>functions …</option>
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
