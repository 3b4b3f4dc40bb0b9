/** The editor behind a CodeField: loaded when one is first seen. */
import {
	acceptCompletion,
	autocompletion,
	closeBrackets,
	closeBracketsKeymap,
	closeCompletion,
	completionStatus,
	moveCompletionSelection,
	type Completion,
	type CompletionContext,
	type CompletionResult,
} from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { json, jsonParseLinter } from '@codemirror/lang-json';
import { bracketMatching, HighlightStyle, syntaxHighlighting } from '@codemirror/language';
import { linter } from '@codemirror/lint';
import { EditorState, Prec } from '@codemirror/state';
import { drawSelection, EditorView, keymap, placeholder } from '@codemirror/view';
import { tags } from '@lezer/highlight';
import type { CodeName, CodeProblem } from './code';

export interface CodeEvents {
	onchange: (text: string) => void;
	/** Enter, or Mod+Enter where lines are broken by Enter; false leaves the key to the text. */
	onenter: () => boolean;
	/** False leaves the key to what is around. */
	onescape: () => boolean;
	onblur: () => void;
}

export interface CodeOptions extends CodeEvents {
	text: string;
	attributes: () => Record<string, string>;
	language?: 'json';
	hint?: string;
	names?: () => readonly CodeName[];
	check: (text: string) => CodeProblem | null;
}

const highlights = HighlightStyle.define([
	{ tag: tags.propertyName, color: 'var(--lake)' },
	{ tag: tags.string, color: 'var(--moss)' },
	{ tag: [tags.number, tags.bool, tags.null], color: 'var(--clay)' },
]);

const theme = EditorView.theme({
	'&': { minHeight: '28px', fontSize: 'inherit' },
	'&.cm-focused': { outline: 'none' },
	'.cm-scroller': { fontFamily: 'inherit', lineHeight: '20px' },
	'.cm-content': { padding: '4px 0', caretColor: 'var(--ink)' },
	'.cm-line': { padding: '0' },
	'.cm-cursor': { borderLeftColor: 'var(--ink)' },
	'&.cm-focused .cm-selectionBackground, .cm-selectionBackground': { background: 'var(--rule) !important' },
	'.cm-matchingBracket': { background: 'var(--rule) !important' },
	'.cm-placeholder': { color: 'var(--muted)' },
	'.cm-lintRange-error': {
		backgroundImage: 'none',
		textDecoration: 'underline wavy var(--rust) 1px',
		textUnderlineOffset: '3px',
	},
	'.cm-lintPoint-error:after': { borderBottomColor: 'var(--rust)' },
	'.cm-tooltip': {
		border: '1px solid var(--rule)',
		borderRadius: '8px',
		background: 'var(--sheet)',
		color: 'var(--ink)',
		overflow: 'hidden',
	},
	'.cm-tooltip.cm-tooltip-autocomplete > ul': { fontFamily: 'var(--font-mono)', padding: '4px' },
	'.cm-tooltip.cm-tooltip-autocomplete > ul > li': { padding: '2px 8px', borderRadius: '5px' },
	'.cm-tooltip-autocomplete ul li[aria-selected]': { background: 'var(--band)', color: 'var(--ink)' },
	'.cm-completionMatchedText': { textDecoration: 'none', fontWeight: '700' },
	'.cm-completionDetail': { color: 'var(--muted)', fontStyle: 'normal', marginLeft: '2px' },
	'.cm-diagnostic-error': { borderLeft: '0', padding: '4px 8px', fontFamily: 'var(--font-sans)' },
});

function optionOf({ name, words }: CodeName): Completion {
	if (words === null) return { label: name };
	return {
		label: name,
		detail: `(${words})`,
		apply: (view, _, from, to) => putName(view, { name, words }, from, to),
	};
}

/** Puts a name in the place of a stretch; of a function, the caret goes between its brackets. */
export function putName(view: EditorView, { name, words }: CodeName, from: number, to: number): void {
	const opens = words !== null && !/^\s*\(/.test(view.state.sliceDoc(to));
	view.dispatch({
		changes: { from, to, insert: opens ? `${name}()` : name },
		selection: { anchor: from + name.length + (opens ? 1 : 0) },
		userEvent: 'input.complete',
	});
}

const WORD = /[A-Za-z_]\w*$/;

/** Names that fit the word before the caret. */
export function completing(names: () => readonly CodeName[]) {
	return (context: CompletionContext): CompletionResult | null => {
		const word = context.matchBefore(WORD);
		// A number such as 1e3 holds no name.
		const inNumber = word && /[\d.]/.test(context.state.sliceDoc(word.from - 1, word.from));
		if (!word || inNumber) return null;
		return { from: word.from, options: names().map(optionOf), validFor: /^\w*$/ };
	};
}

/** Takes the option that is chosen, or the first one. */
function takeOption(view: EditorView): boolean {
	if (completionStatus(view.state) !== 'active') return false;
	if (acceptCompletion(view)) return true;
	moveCompletionSelection(true)(view);
	return acceptCompletion(view);
}

export function openEditor(parent: HTMLElement, options: CodeOptions): EditorView {
	const { text, language, hint, names, check, onchange, onenter, onescape, onblur } = options;
	// The list of names lies over what tells what is wrong.
	const enter = (view: EditorView) => {
		closeCompletion(view);
		return onenter();
	};
	const own = [
		{ key: 'Tab', run: takeOption },
		{ key: 'Enter', run: (view: EditorView) => language === undefined && enter(view) },
		{ key: 'Mod-Enter', run: enter },
		{ key: 'Escape', run: onescape, stopPropagation: true },
	];
	return new EditorView({
		parent,
		state: EditorState.create({
			doc: text,
			extensions: [
				history(),
				drawSelection(),
				bracketMatching(),
				closeBrackets(),
				autocompletion({
					override: names ? [completing(names)] : null,
					icons: false,
					selectOnOpen: false,
					interactionDelay: 0,
				}),
				Prec.high(keymap.of(own)),
				keymap.of([...closeBracketsKeymap, ...historyKeymap, ...defaultKeymap]),
				language === 'json' ? json() : [],
				syntaxHighlighting(highlights),
				linter(language === 'json' ? diagnoseJson : (view) => diagnose(view, check), { delay: 0 }),
				EditorState.phrases.of({ Completions: 'names that fit' }),
				EditorView.lineWrapping,
				EditorView.contentAttributes.of(options.attributes),
				EditorView.updateListener.of((update) => {
					if (update.docChanged) onchange(update.state.doc.toString());
				}),
				EditorView.domEventHandlers({ blur: onblur }),
				hint ? placeholder(hint) : [],
				theme,
			],
		}),
	});
}

const jsonProblems = jsonParseLinter();
const diagnoseJson = (view: EditorView) =>
	view.state.doc.toString().trim() === '' ? [] : jsonProblems(view);

/** What is wrong with the text, beneath the word or the sign where it is. */
export function diagnose(view: EditorView, check: (text: string) => CodeProblem | null) {
	const problem = check(view.state.doc.toString());
	if (problem?.index === undefined) return [];
	const from = Math.min(problem.index, view.state.doc.length);
	const word = view.state.wordAt(from);
	return [
		{
			from,
			to: word?.from === from ? word.to : Math.min(from + 1, view.state.doc.length),
			severity: 'error' as const,
			message: problem.message,
		},
	];
}
