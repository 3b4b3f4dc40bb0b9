/**
 * `transition` and `animation` declarations of CSS (CSS Transitions 1 and 2, CSS Animations 1) read as what moves, when,
 * how long and how: shorthands, longhands, or a rule's worth of both, later ones over earlier ones.
 */
import type { Shape } from '../../player/easing/shape';
import { fail, ok, type Result } from '../result';
import { readCssEasing } from './css';

/** One item of such a list. */
export interface CssMotion {
	kind: 'transition' | 'animation';
	/** The property of a transition (`all` among them), or the name of an animation's keyframes; null where none is named. */
	name: string | null;
	/** Seconds. */
	duration: number;
	delay: number;
	easing: Shape;
	/** Of an animation; Infinity for `infinite`. */
	iterations: number;
	direction: (typeof DIRECTIONS)[number];
}

const DIRECTIONS = ['normal', 'reverse', 'alternate', 'alternate-reverse'] as const;
const FILLS = ['none', 'forwards', 'backwards', 'both'];
const STATES = ['running', 'paused'];
const BEHAVIOURS = ['normal', 'allow-discrete'];
const EASE = readCssEasing('ease') as { ok: true; value: Shape };
/** Longest item that is taken, in seconds: as long as a clip may be. */
const LONGEST = 600;
const MOST_ITEMS = 100;

type Kind = CssMotion['kind'];
type Item = Partial<Omit<CssMotion, 'kind'>>;

/** Splits text where a separator stands outside brackets and quotes. */
function split(text: string, separator: RegExp): string[] {
	const parts = [''];
	let depth = 0;
	let quote = '';
	for (const character of text) {
		if (quote !== '') quote = character === quote ? '' : quote;
		else if (character === '"' || character === "'") quote = character;
		else if (character === '(') depth++;
		else if (character === ')') depth--;
		if (depth === 0 && quote === '' && separator.test(character)) parts.push('');
		else parts[parts.length - 1] += character;
	}
	return parts.map((part) => part.trim());
}

/** Seconds of a CSS time, or null. */
function readTime(word: string): number | null {
	const time = /^([+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?)(m?s)$/i.exec(word);
	return time && Number(time[1]) / (time[2].toLowerCase() === 'ms' ? 1000 : 1);
}

function readIterations(word: string): number | null {
	if (word === 'infinite') return Infinity;
	return /^\+?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(word) ? Number(word) : null;
}

const isDirection = (word: string): word is CssMotion['direction'] =>
	(DIRECTIONS as readonly string[]).includes(word);
const isName = (word: string) => /^(?:-?[_a-z][\w-]*|--[\w-]+|"[^"]*"|'[^']*')$/i.test(word);
const nameOf = (word: string) => word.replace(/^["']|["']$/g, '');

/** One item of a shorthand: each word goes to the first place that can have it and has none yet; a time below 0 can only be a delay. */
function readItem(kind: Kind, text: string): Result<Item> {
	const item: Item = {};
	const taken = new Set<string>();
	/** Whether the word is the first one for a place. */
	const takes = (place: string, fits: boolean) => fits && !taken.has(place) && Boolean(taken.add(place));
	for (const word of split(text, /\s/).filter((one) => one !== '')) {
		const low = word.toLowerCase();
		const time = readTime(low);
		const easing = readCssEasing(low);
		const iterations = kind === 'animation' ? readIterations(low) : null;
		if (takes('duration', time !== null && time >= 0)) item.duration = time!;
		else if (takes('delay', time !== null)) item.delay = time!;
		else if (takes('easing', easing.ok)) item.easing = (easing as { value: Shape }).value;
		else if (takes('iterations', iterations !== null)) item.iterations = iterations!;
		else if (takes('direction', kind === 'animation' && isDirection(low)))
			item.direction = low as CssMotion['direction'];
		else if (takes('fill', kind === 'animation' && FILLS.includes(low))) continue;
		else if (takes('state', kind === 'animation' && STATES.includes(low))) continue;
		else if (takes('behaviour', kind === 'transition' && BEHAVIOURS.includes(low))) continue;
		else if (takes('name', isName(word))) item.name = low === 'none' ? null : nameOf(word);
		else if (!easing.ok && /\(/.test(word)) return fail('', easing.problems[0].message);
		else return fail('', `"${word}" has no place in “${text}”.`);
	}
	return ok(item);
}

type Reader = (word: string) => Result<Item>;
const timeReader =
	(name: 'duration' | 'delay'): Reader =>
	(word) => {
		const seconds = readTime(word.toLowerCase());
		return seconds === null
			? fail('', `"${word}" is no time: write 0.3s or 300ms.`)
			: ok({ [name]: seconds });
	};
const nameReader: Reader = (word) =>
	isName(word) ? ok({ name: word === 'none' ? null : nameOf(word) }) : fail('', `"${word}" is no name.`);
const easingReader: Reader = (word) => {
	const easing = readCssEasing(word);
	return easing.ok ? ok({ easing: easing.value }) : easing;
};
const READERS: Readonly<Record<string, Reader>> = {
	property: nameReader,
	name: nameReader,
	duration: timeReader('duration'),
	delay: timeReader('delay'),
	'timing-function': easingReader,
	'iteration-count': (word) => {
		const iterations = readIterations(word.toLowerCase());
		return iterations === null ? fail('', `"${word}" is no number of iterations.`) : ok({ iterations });
	},
	direction: (word) => {
		const direction = word.toLowerCase();
		return isDirection(direction) ? ok({ direction }) : fail('', `"${word}" is no direction.`);
	},
};

function whole(kind: Kind, item: Item): Result<CssMotion> {
	const { name = kind === 'transition' ? 'all' : null, duration = 0, delay = 0 } = item;
	if (duration < 0) return fail('', 'A duration cannot be below 0.');
	if (!(duration + Math.abs(delay) <= LONGEST)) return fail('', `It lasts longer than ${LONGEST} s.`);
	const { easing = EASE.value, iterations = 1, direction = 'normal' } = item;
	return ok({ kind, name, duration, delay, easing, iterations, direction });
}

/** The items that some declarations of one kind say together: lists of longhands are repeated to the length of the first. */
function together(kind: Kind, declarations: readonly { name: string; value: string }[]): Result<CssMotion[]> {
	let items: Item[] = [];
	const lists = new Map<string, Item[]>();
	for (const { name, value } of declarations) {
		const read =
			name === kind ? (text: string) => readItem(kind, text) : READERS[name.slice(kind.length + 1)];
		if (!read) continue;
		const own: Item[] = [];
		for (const part of split(value, /,/)) {
			const item = part === '' ? fail('', `Something is missing in “${value}”.`) : read(part);
			if (!item.ok) return item;
			own.push(item.value);
		}
		if (name !== kind) lists.set(name, own);
		else {
			items = own;
			lists.clear();
		}
	}
	const names = lists.get(kind === 'transition' ? 'transition-property' : 'animation-name');
	const count =
		names?.length ?? (items.length || Math.max(...[...lists.values()].map(({ length }) => length)));
	if (count > MOST_ITEMS) return fail('', `That is more than ${MOST_ITEMS} motions.`);
	const made: CssMotion[] = [];
	for (let i = 0; i < count; i++) {
		const parts = [...lists.values()].map((list) => list[i % list.length]);
		const item = whole(kind, Object.assign({}, items[i % Math.max(1, items.length)], ...parts) as Item);
		if (!item.ok) return item;
		made.push(item.value);
	}
	return ok(made);
}

/**
 * Reads declarations of `transition` and `animation` and their longhands; others beside them are passed over, as are the
 * braces of a rule. Problems say which word is not understood.
 */
export function readCssMotions(text: string): Result<CssMotion[]> {
	const body = text.replace(/\/\*[^]*?\*\//g, ' ').replace(/^[^{]*\{([^}]*)\}\s*$/, '$1');
	const declarations = split(body, /;/).flatMap((declaration) => {
		const match = /^(?:-\w+-)?((?:transition|animation)(?:-[a-z-]+)?)\s*:\s*([^]+)$/i.exec(declaration);
		return match
			? [{ name: match[1].toLowerCase(), value: match[2].replace(/!important\s*$/i, '').trim() }]
			: [];
	});
	const made: CssMotion[] = [];
	for (const kind of ['transition', 'animation'] as const) {
		const own = declarations.filter(({ name }) => name.startsWith(kind));
		if (own.length === 0) continue;
		const read = together(kind, own);
		if (!read.ok) return read;
		made.push(...read.value);
	}
	return made.length > 0
		? ok(made)
		: fail('', 'There is no transition or animation in it: “transition: opacity 0.3s ease-out” is one.');
}

/** Reads an easing by itself, or the first one of a whole declaration, of which nothing else is taken. */
export function readCssEasingOrDeclaration(text: string): Result<{ easing: Shape; isDeclaration: boolean }> {
	if (!/^[^(]*:/.test(text)) {
		const easing = readCssEasing(text);
		return easing.ok ? ok({ easing: easing.value, isDeclaration: false }) : easing;
	}
	const motions = readCssMotions(text);
	return motions.ok ? ok({ easing: motions.value[0].easing, isDeclaration: true }) : motions;
}
