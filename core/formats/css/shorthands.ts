/** `animation` and `transition` with their longhands, as lists. Source: CSS Animations 1, 4; CSS Transitions 1, 2. */
import { DIRECTIONS, type Direction } from '../web/incoming/animations';

/** One item: seconds, rounds. */
export interface Timed {
	/** Of the keyframes, or of the property. */
	name: string;
	duration: number;
	delay: number;
	easing: string;
	iterations: number;
	direction: Direction;
}

type Declared = Readonly<Record<string, string>>;

/** Parts of a list at its commas, those in brackets left whole. */
function listOf(text: string): string[] {
	const items: string[] = [];
	let depth = 0;
	let from = 0;
	for (let i = 0; i < text.length; i++) {
		if (text[i] === '(') depth++;
		else if (text[i] === ')') depth--;
		else if (text[i] === ',' && depth === 0) {
			items.push(text.slice(from, i));
			from = i + 1;
		}
	}
	return [...items, text.slice(from)].map((item) => item.trim()).filter((item) => item !== '');
}

const TIME = /^([+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?)(m?s)$/i;

/** Seconds of a time, or of a sum of times; null for what is none. */
export function secondsOf(text: string): number | null {
	const [, value, unit] = TIME.exec(text.trim()) ?? [];
	if (value !== undefined) return Number(value) / (unit.toLowerCase() === 'ms' ? 1000 : 1);
	const [, inside] = /^calc\((.*)\)$/i.exec(text.trim()) ?? [];
	if (inside === undefined) return null;
	// In a sum the signs stand alone.
	const words = inside.trim().split(/\s+/);
	let sum = secondsOf(words[0]);
	for (let i = 1; i + 1 < words.length; i += 2) {
		const next = secondsOf(words[i + 1]);
		if (sum === null || next === null || !['+', '-'].includes(words[i])) return null;
		sum += words[i] === '-' ? -next : next;
	}
	return sum;
}

const EASING = /^(linear|ease(-in|-out|-in-out)?|step-(start|end)|(cubic-bezier|steps|linear)\(.*\))$/i;
const FILLS = ['none', 'forwards', 'backwards', 'both'];
const STATES = ['running', 'paused'];

const blank = (): Timed => ({
	name: 'none',
	duration: 0,
	delay: 0,
	easing: 'ease',
	iterations: 1,
	direction: 'normal',
});

/** One item of a shorthand: the first time lasts, the second waits. */
function itemOf(text: string): Timed {
	const item = blank();
	let times = 0;
	for (const word of text.match(/[^\s(]+\([^)]*\)|[^\s]+/g) ?? []) {
		const seconds = secondsOf(word);
		if (seconds !== null) {
			if (times++ === 0) item.duration = seconds;
			else item.delay = seconds;
		} else if (EASING.test(word)) item.easing = word;
		else if (word === 'infinite') item.iterations = Infinity;
		else if (/^\d*\.?\d+$/.test(word)) item.iterations = Number(word);
		else if (DIRECTIONS.includes(word as Direction)) item.direction = word as Direction;
		else if (!FILLS.includes(word) && !STATES.includes(word)) item.name = word.replace(/^["']|["']$/g, '');
	}
	return item;
}

/** Lists of longhands over those of the shorthand; shorter lists begin again. */
function withLonghands(
	shorthand: string | undefined,
	name: string | undefined,
	longhands: readonly [keyof Timed, string | undefined, (text: string) => unknown][],
): Timed[] {
	const items = shorthand ? listOf(shorthand).map(itemOf) : [];
	const names = name === undefined ? null : listOf(name);
	const all = names
		? names.map((own, i) => ({ ...(items[i % (items.length || 1)] ?? blank()), name: own }))
		: items;
	return all.map((item, i) => {
		const own: Record<string, unknown> = { ...item };
		for (const [key, text, read] of longhands) {
			const list = text === undefined ? [] : listOf(text);
			if (list.length > 0) own[key] = read(list[i % list.length]);
		}
		return own as unknown as Timed;
	});
}

/** The animations that declarations play. */
export function animationsIn(declared: Declared): Timed[] {
	return withLonghands(declared.animation, declared['animation-name'], [
		['duration', declared['animation-duration'], (text) => secondsOf(text) ?? 0],
		['delay', declared['animation-delay'], (text) => secondsOf(text) ?? 0],
		['easing', declared['animation-timing-function'], (text) => text],
		[
			'iterations',
			declared['animation-iteration-count'],
			(text) => (text === 'infinite' ? Infinity : Number(text)),
		],
		['direction', declared['animation-direction'], (text) => text],
	]);
}

/** The transitions that declarations make. */
export function transitionsIn(declared: Declared): Timed[] {
	return withLonghands(declared.transition, declared['transition-property'], [
		['duration', declared['transition-duration'], (text) => secondsOf(text) ?? 0],
		['delay', declared['transition-delay'], (text) => secondsOf(text) ?? 0],
		['easing', declared['transition-timing-function'], (text) => text],
	]).map((own) => ({ ...own, name: own.name === 'none' && declared.transition ? 'all' : own.name }));
}
