<script lang="ts">
	import { compileExpression } from '$core/formula/expression';
	import { FUNCTIONS } from '$core/formula/functions';
	import { namesOf } from '$core/formula/names';
	import CodeField from '$lib/ui/CodeField.svelte';

	interface Props {
		/** The formula as it is kept. */
		kept: string;
		/** Names of what it reads. */
		names: readonly string[];
		/** Why it was not kept, where it can be read but cannot be. */
		refused: string;
		/** Whether it is to be written at once; told when it is in hand. */
		isNew: boolean;
		onopen: () => void;
		oncommit: (text: string) => void;
	}
	/** The text of a formula: names are completed while they are typed, and what is wrong is told with its place. */
	let { kept, names, refused, isNew, onopen, oncommit }: Props = $props();

	let field = $state<ReturnType<typeof CodeField>>();
	let typed = $state<string | null>(null);
	const text = $derived(typed ?? kept);
	const compiled = $derived(compileExpression(text, names));

	function check(text: string) {
		const told = compileExpression(text, names);
		return told.ok ? null : told.problem;
	}
	function commit() {
		if (typed === null || !compiled.ok) return;
		const next = typed.trim();
		typed = null;
		if (next !== kept) oncommit(next);
	}
	/** Puts a name or a function where the caret is. */
	export function insert(name: string) {
		field?.insert({ name, words: Object.hasOwn(FUNCTIONS, name) ? FUNCTIONS[name].words : null });
	}
	function giveUp(): boolean {
		const hasTyped = typed !== null;
		typed = null;
		return hasTyped;
	}
</script>

<div class="flex items-start gap-1.5">
	<span class="pt-1 font-mono text-muted">=</span>
	<CodeField
		bind:this={field}
		label="formula"
		value={text}
		takesFocus={isNew}
		{onopen}
		describedBy="formula-problem"
		names={namesOf(names)}
		{check}
		oninput={(next) => (typed = next)}
		onenter={commit}
		onescape={giveUp}
		onblur={commit}
	/>
</div>
<p id="formula-problem" class="min-h-[18px] text-rust" role="status">
	{#if !compiled.ok}
		{@const { index, message, suggestion } = compiled.problem}
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
