/** What a name that is being typed into a formula may become. */
import { BUILT_IN_NAMES, CONSTANTS } from './expression';
import { FUNCTIONS } from './functions';

export interface Completion {
	name: string;
	/** The arguments of a function in words; null for the name of a number. */
	words: string | null;
}

export interface Completing {
	/** The stretch of text that a completion takes the place of. */
	from: number;
	to: number;
	/** Those that begin with what is typed, then those that contain it; never none. */
	options: readonly Completion[];
}

const WORD_BEFORE = /[A-Za-z_][\w]*$/;
const WORD_AFTER = /^\w*/;

/**
 * What the name at a place of a formula may become; null where no name is being typed there, or nothing else is called
 * like it. `inputs` are the names that the formula has of its own.
 */
export function completeAt(text: string, at: number, inputs: readonly string[]): Completing | null {
	const typed = WORD_BEFORE.exec(text.slice(0, at))?.[0];
	if (!typed) return null;
	const from = at - typed.length;
	// A number such as 1e3 holds no name.
	if (/[\d.]/.test(text[from - 1] ?? '')) return null;
	const all: Completion[] = [
		...[...inputs, ...BUILT_IN_NAMES, ...Object.keys(CONSTANTS)].map((name) => ({ name, words: null })),
		...Object.entries(FUNCTIONS).map(([name, { words }]) => ({ name, words })),
	];
	const wanted = typed.toLowerCase();
	const rank = ({ name }: Completion) => {
		const place = name.toLowerCase().indexOf(wanted);
		return place < 0 ? 2 : place === 0 ? 0 : 1;
	};
	const options = all
		.map((option) => ({ option, rank: rank(option) }))
		.filter((entry) => entry.rank < 2)
		.sort((a, b) => a.rank - b.rank)
		.map(({ option }) => option);
	const to = at + WORD_AFTER.exec(text.slice(at))![0].length;
	const isWhole = options.length === 1 && options[0].name === text.slice(from, to);
	return options.length === 0 || isWhole ? null : { from, to, options };
}

/** A text with a name put in the place of a stretch, and where the caret goes: between the brackets of a function. */
export function withName(
	text: string,
	{ from, to }: { from: number; to: number },
	{ name, words }: Completion,
): { text: string; caret: number } {
	const rest = text.slice(to);
	const opens = words !== null && !rest.trimStart().startsWith('(');
	const put = opens ? `${name}()` : name;
	return { text: text.slice(0, from) + put + rest, caret: from + name.length + (opens ? 1 : 0) };
}
