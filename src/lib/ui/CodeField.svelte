<script lang="ts">
	import { onMount } from 'svelte';
	import type { EditorView } from '@codemirror/view';
	import type { CodeName, CodeProblem } from './code';

	interface Props {
		label: string;
		value: string;
		/** Id of the element that tells what is wrong. */
		describedBy: string;
		language?: 'json';
		/** Whether it is in hand, all of it picked, as soon as it is there; then it says so. */
		takesFocus?: boolean;
		onopen?: () => void;
		/** What it says while it is empty. */
		hint?: string;
		/** What can be completed. */
		names?: readonly CodeName[];
		check: (text: string) => CodeProblem | null;
		class?: string;
		oninput: (text: string) => void;
		/** Enter, or Mod+Enter where Enter breaks lines. */
		onenter?: () => void;
		/** Escape, while there is something to give up; false leaves it to what is around. */
		onescape?: () => boolean;
		onblur?: () => void;
	}
	/** A field for code: brackets that match, names that are completed, what is wrong underlined. */
	let props: Props = $props();

	let place: HTMLDivElement;
	let view = $state.raw<EditorView | null>(null);
	let put: typeof import('./code-editor').putName;

	const attributes = $derived.by(() => ({
		'aria-label': props.label,
		'aria-describedby': props.describedBy,
		'aria-invalid': String(props.check(props.value) !== null),
		spellcheck: 'false',
	}));

	onMount(() => {
		let isGone = false;
		void import('./code-editor').then(({ openEditor, putName }) => {
			if (isGone) return;
			put = putName;
			view = openEditor(place, {
				text: props.value,
				attributes: () => attributes,
				language: props.language,
				hint: props.hint,
				names: props.names && (() => props.names ?? []),
				check: (text) => props.check(text),
				onchange: (text) => {
					if (text !== props.value) props.oninput(text);
				},
				onenter: () => {
					props.onenter?.();
					return props.onenter !== undefined;
				},
				onescape: () => props.onescape?.() ?? false,
				onblur: () => props.onblur?.(),
			});
			if (props.takesFocus) {
				view.dispatch({ selection: { anchor: 0, head: view.state.doc.length } });
				view.focus();
			}
			props.onopen?.();
		});
		return () => {
			isGone = true;
			view?.destroy();
		};
	});
	// What the text is elsewhere; the editor draws itself anew for its attributes, too.
	$effect(() => {
		const { value } = props;
		void attributes;
		if (!view) return;
		const { doc } = view.state;
		view.dispatch(doc.toString() === value ? {} : { changes: { from: 0, to: doc.length, insert: value } });
	});

	/** Puts a name where the caret is. */
	export function insert(name: CodeName): void {
		if (!view) return;
		const { from, to } = view.state.selection.main;
		put(view, name, from, to);
		view.focus();
	}
</script>

<div
	bind:this={place}
	class="field min-w-0 flex-1 font-mono {attributes['aria-invalid'] === 'true'
		? '!border-rust'
		: ''} {props.class}"
>
	{#if !view}<span class="whitespace-pre-wrap leading-[28px]">{props.value}</span>{/if}
</div>
