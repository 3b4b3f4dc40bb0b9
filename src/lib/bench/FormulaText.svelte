<script lang="ts">
	import { completeAt, withName, type Completion } from '$core/formula/complete';
	import { compileExpression, MAX_FORMULA_LENGTH } from '$core/formula/expression';
	import { FUNCTIONS } from '$core/formula/functions';

	interface Props {
		/** The formula as it is kept. */
		kept: string;
		/** Names of what it reads. */
		names: readonly string[];
		/** Why it was not kept, where it can be read but cannot be. */
		refused: string;
		oncommit: (text: string) => void;
	}
	/** The text of a formula: names are completed while they are typed, and what is wrong is told with its place. */
	let { kept, names, refused, oncommit }: Props = $props();

	let field: HTMLTextAreaElement;
	let typed = $state<string | null>(null);
	const text = $derived(typed ?? kept);
	const compiled = $derived(compileExpression(text, names));

	let caret = $state(0);
	/** The list was sent away, until something else is typed. */
	let isClosed = $state(true);
	/** The option that Enter takes; none until it was gone to. */
	let chosen = $state(-1);
	const completing = $derived(isClosed ? null : completeAt(text, caret, names));
	const SHOWN = 6;

	function commit() {
		if (typed === null || !compiled.ok) return;
		const next = typed.trim();
		typed = null;
		isClosed = true;
		if (next !== kept) oncommit(next);
	}
	function put(place: { from: number; to: number }, option: Completion) {
		const next = withName(text, place, option);
		typed = next.text;
		caret = next.caret;
		isClosed = true;
		requestAnimationFrame(() => {
			field.focus();
			field.setSelectionRange(caret, caret);
		});
	}
	/** Puts a name or a function where the caret is. */
	export function insert(name: string) {
		const from = field.selectionStart ?? text.length;
		const words = Object.hasOwn(FUNCTIONS, name) ? FUNCTIONS[name].words : null;
		put({ from, to: field.selectionEnd ?? from }, { name, words });
	}
	function oninput() {
		typed = field.value;
		caret = field.selectionStart;
		isClosed = false;
		chosen = -1;
	}
	function onkeydown(event: KeyboardEvent) {
		const { key } = event;
		const count = Math.min(SHOWN, completing?.options.length ?? 0);
		if (completing && (key === 'ArrowDown' || key === 'ArrowUp'))
			chosen = (chosen + (key === 'ArrowDown' ? 1 : chosen < 0 ? 0 : -1) + count) % count;
		else if (completing && ((key === 'Tab' && !event.shiftKey) || (key === 'Enter' && chosen >= 0)))
			put(completing, completing.options[Math.max(0, chosen)]);
		else if (key === 'Enter' && !event.shiftKey) commit();
		else if (key === 'Escape' && completing) isClosed = true;
		else if (key === 'Escape') typed = null;
		else {
			// The list belongs to the name at which it was typed.
			if (key.startsWith('Arrow') || key === 'Home' || key === 'End') isClosed = true;
			return;
		}
		event.preventDefault();
		event.stopPropagation();
	}
</script>

<div class="relative">
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
			aria-autocomplete="list"
			aria-controls="formula-names"
			aria-activedescendant={completing && chosen >= 0 ? `formula-name-${chosen}` : undefined}
			value={text}
			{oninput}
			{onkeydown}
			onblur={commit}></textarea>
	</label>
	<ul
		id="formula-names"
		class="menu absolute left-4 top-full !mt-0.5 {completing ? '' : 'hidden'}"
		role="listbox"
		aria-label="names that fit"
	>
		{#each completing?.options.slice(0, SHOWN) ?? [] as option, i (option.name)}
			<!-- The text keeps the focus and the keys: the list is gone through from there. -->
			<!-- svelte-ignore a11y_click_events_have_key_events -->
			<li
				id="formula-name-{i}"
				class="menu-item font-mono !min-h-[24px]"
				role="option"
				aria-selected={i === chosen}
				data-highlighted={i === chosen ? '' : undefined}
				onpointerdown={(event) => event.preventDefault()}
				onclick={() => completing && put(completing, option)}
			>
				<span>{option.name}{option.words === null ? '' : `(${option.words})`}</span>
				{#if i === Math.max(0, chosen)}<span class="shortcut">Tab</span>{/if}
			</li>
		{/each}
	</ul>
</div>
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
