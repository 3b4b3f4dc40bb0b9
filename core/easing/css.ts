/** CSS easing functions as text (CSS Easing Level 2): shapes written where CSS can say them exactly, and read back. */
import { STEP_JUMPS, type Shape, type StepJump } from '../../player/easing/shape';
import { fail, ok, type Result } from '../result';

/** Digits after the point: what six leave of a Bezier is less than a millionth; stops can be steep. */
const DIGITS = 6;
const STOP_DIGITS = 9;

function number(value: number, digits = DIGITS): string {
	return String(Number(value.toFixed(digits)));
}

/** The CSS text of a shape, to a millionth; null where CSS needs an approximation. */
export function cssEasing(shape: Shape): string | null {
	switch (shape.kind) {
		case 'linear':
			return 'linear';
		case 'hold':
			return 'step-end';
		case 'eased':
			return `cubic-bezier(${number(shape.start)}, 0, ${number(1 - shape.finish)}, 1)`;
		case 'fall':
			return 'cubic-bezier(0.333333, 0, 0.666667, 0.333333)';
		case 'rise':
			return 'cubic-bezier(0.333333, 0.666667, 0.666667, 1)';
		case 'bezier':
			return `cubic-bezier(${[shape.x1, shape.y1, shape.x2, shape.y2].map((v) => number(v)).join(', ')})`;
		case 'steps':
			return `steps(${shape.count}, ${shape.jump})`;
		case 'stops':
			return `linear(${shape.stops.map(({ x, y }) => `${number(y, STOP_DIGITS)} ${number(100 * x, STOP_DIGITS)}%`).join(', ')})`;
		default:
			return null;
	}
}

const KEYWORDS: Record<string, Shape> = {
	linear: { kind: 'linear' },
	ease: { kind: 'bezier', x1: 0.25, y1: 0.1, x2: 0.25, y2: 1 },
	'ease-in': { kind: 'eased', start: 0.42, finish: 0 },
	'ease-out': { kind: 'eased', start: 0, finish: 0.42 },
	'ease-in-out': { kind: 'eased', start: 0.42, finish: 0.42 },
	'step-start': { kind: 'steps', count: 1, jump: 'jump-start' },
	'step-end': { kind: 'hold' },
};

const NUMBER = /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i;

function readBezier(words: readonly string[]): Result<Shape> {
	const values = words.map(Number);
	if (words.length !== 4 || words.some((word) => !NUMBER.test(word))) {
		return fail('', 'cubic-bezier() takes four numbers.');
	}
	const [x1, y1, x2, y2] = values;
	if (x1 < 0 || x1 > 1 || x2 < 0 || x2 > 1) {
		return fail('', 'The first and the third number of cubic-bezier() must be from 0 to 1.');
	}
	if (Math.abs(y1) > 100 || Math.abs(y2) > 100)
		return fail('', 'The numbers of cubic-bezier() are too large.');
	if (y1 === 0 && y2 === 1) return ok({ kind: 'eased', start: x1, finish: Number((1 - x2).toFixed(12)) });
	return ok({ kind: 'bezier', x1, y1, x2, y2 });
}

function readSteps(words: readonly string[]): Result<Shape> {
	const count = Number(words[0]);
	const word = words[1] ?? 'jump-end';
	const jump = word === 'start' ? 'jump-start' : word === 'end' ? 'jump-end' : word;
	if (!STEP_JUMPS.includes(jump as StepJump))
		return fail('', `steps() knows ${STEP_JUMPS.join(', ')}, not "${word}".`);
	const least = jump === 'jump-none' ? 2 : 1;
	if (words.length > 2 || !Number.isInteger(count) || count < least || count > 1000) {
		return fail('', `steps() takes a whole number from ${least} to 1000.`);
	}
	return ok({ kind: 'steps', count, jump: jump as StepJump });
}

/** Stops with their places filled in, as §2.5.2 says: ends at 0 and 1, never backwards, the others spread evenly. */
function readLinear(parts: readonly string[]): Result<Shape> {
	const stops: { x: number | null; y: number }[] = [];
	for (const part of parts) {
		const words = part.split(/\s+/).filter(Boolean);
		const places = words.filter((word) => word.endsWith('%')).map((word) => word.slice(0, -1));
		const values = words.filter((word) => !word.endsWith('%'));
		if (
			values.length !== 1 ||
			places.length > 2 ||
			[...values, ...places].some((word) => !NUMBER.test(word))
		) {
			return fail('', `"${part.trim()}" is no stop: write a number and up to two percentages.`);
		}
		const y = Number(values[0]);
		if (Math.abs(y) > 100) return fail('', `"${part.trim()}" is too large.`);
		if (places.length === 0) stops.push({ x: null, y });
		for (const place of places) stops.push({ x: Number(place) / 100, y });
	}
	if (stops.length < 2 || stops.length > 1000) return fail('', 'linear() takes 2 to 1000 stops.');
	stops[0].x ??= 0;
	stops.at(-1)!.x ??= 1;
	let highest = -Infinity;
	for (const stop of stops) if (stop.x !== null) highest = stop.x = Math.max(stop.x, highest);
	for (let i = 0; i < stops.length; i++) {
		if (stops[i].x !== null) continue;
		const next = stops.findIndex((stop, j) => j > i && stop.x !== null);
		const from = stops[i - 1].x!;
		stops[i].x = from + (stops[next].x! - from) / (next - i + 1);
	}
	if (stops.some((stop) => Math.abs(stop.x!) > 100))
		return fail('', 'A stop stands too far off: up to 10000%.');
	return ok({ kind: 'stops', stops: stops as { x: number; y: number }[] });
}

const shortened = (text: string) => (text.length > 40 ? `${text.slice(0, 39)}…` : text);

/** Reads a CSS easing function. */
export function readCssEasing(text: string): Result<Shape> {
	const clean = text.trim().toLowerCase().replace(/;$/, '');
	if (Object.hasOwn(KEYWORDS, clean)) return ok(KEYWORDS[clean]);
	const call = /^(cubic-bezier|steps|linear)\(([^()]*)\)$/.exec(clean);
	if (!call)
		return fail(
			'',
			`"${shortened(text.trim())}" is no CSS easing: try ease-out, cubic-bezier(), steps() or linear().`,
		);
	const parts = call[2].split(',');
	const words = parts.map((part) => part.trim());
	if (call[1] === 'cubic-bezier') return readBezier(words);
	return call[1] === 'steps' ? readSteps(words) : readLinear(parts);
}
