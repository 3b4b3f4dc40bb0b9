import { CompletionContext } from '@codemirror/autocomplete';
import { EditorState } from '@codemirror/state';
import { expect, it } from 'vitest';
import { completing, diagnose, putName } from './code-editor';

const NAMES = [
	{ name: 'sin', words: 'turns' },
	{ name: 'frame', words: null },
];

it('names are offered for the word before the caret, and not within a number', () => {
	const source = completing(() => NAMES);
	const at = (doc: string) => source(new CompletionContext(EditorState.create({ doc }), doc.length, false));
	expect(at('2 * si')).toMatchObject({
		from: 4,
		options: [{ label: 'sin', detail: '(turns)' }, { label: 'frame' }],
	});
	// A number before the sign is none of the name's.
	expect(at('2+si')).toMatchObject({ from: 2 });
	for (const none of ['', '2 * ', '1e', '.e', '3']) expect(at(none)).toBeNull();
	expect(at('_a1')).toMatchObject({ from: 0 });
});

it('a name takes the place of what was typed; a function gets its brackets, and the caret between them', () => {
	const put = (doc: string, name: (typeof NAMES)[number], from: number, to: number) => {
		let state = EditorState.create({ doc });
		const view = { state, dispatch: (change: object) => (state = state.update(change).state) };
		putName(view as never, name, from, to);
		return [state.doc.toString(), state.selection.main.head];
	};
	expect(put('2 * si', NAMES[0], 4, 6)).toEqual(['2 * sin()', 8]);
	expect(put('2 * si (t)', NAMES[0], 4, 6)).toEqual(['2 * sin (t)', 7]);
	expect(put('fr + 1', NAMES[1], 0, 2)).toEqual(['frame + 1', 5]);
});

it('what is wrong is marked by its word, or by its sign; where nothing is, nothing is marked', () => {
	const marked = (doc: string, index?: number) => {
		const problem = index === undefined ? null : { index, message: 'no' };
		const found = diagnose({ state: EditorState.create({ doc }) } as never, () => problem);
		return found.map(({ from, to }) => [from, to]);
	};
	expect(marked('2 * fo + 1')).toEqual([]);
	expect(marked('2 * fo + 1', 4)).toEqual([[4, 6]]);
	expect(marked('2 * fo + 1', 5)).toEqual([[5, 6]]);
	expect(marked('2 * fo +', 99)).toEqual([[8, 8]]);
	expect(diagnose({ state: EditorState.create({ doc: '1' }) } as never, () => ({ message: 'no' }))).toEqual(
		[],
	);
});
