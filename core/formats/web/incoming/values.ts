/** Values of CSS properties as numbers of parts. Source: CSS Transforms 2, CSS Color 4, CSS Masking 1. */
import { converter, parse } from 'culori';
import type { Four, Vec3 } from '../../../../player/maths/vector';
import { EDGES } from '../../../document/drawing';
import type { Component, Property } from '../../../document/types';

/** Declarations by the properties' names in style sheets. */
export type Declared = Readonly<Record<string, string>>;

/** One number of a part, a colour, or a turn about an axis. */
export type Said =
	| { property: Property; component: Component; value: number; isAdded?: boolean }
	| { property: 'colour'; colour: Four }
	| { property: 'orientation'; axis: Vec3; degrees: number };

/** The box that shares of an element's own size are of. */
export interface Size {
	width: number | null;
	height: number | null;
}

const NUMBER = String.raw`[+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?`;
const LENGTH = new RegExp(`^(${NUMBER})(px|em|rem|pt|in|cm|mm|%)?$`, 'i');
const ANGLE = new RegExp(`^(${NUMBER})(deg|rad|grad|turn)?$`, 'i');
const PIXELS: Readonly<Record<string, number>> = {
	px: 1,
	em: 16,
	rem: 16,
	pt: 4 / 3,
	in: 96,
	cm: 96 / 2.54,
	mm: 9.6 / 2.54,
};
const DEGREES: Readonly<Record<string, number>> = { deg: 1, rad: 180 / Math.PI, grad: 0.9, turn: 360 };

/** Pixels of a length; null for what is none, or hangs on what is not known. */
export function lengthOf(text: string, whole: number | null = null): number | null {
	const [, value, unit] = LENGTH.exec(text.trim()) ?? [];
	if (value === undefined) return null;
	if (unit === '%') return whole === null ? null : (Number(value) / 100) * whole;
	if (unit === undefined) return Number(value) === 0 ? 0 : null;
	return Number(value) * PIXELS[unit.toLowerCase()];
}

function angleOf(text: string): number | null {
	const [, value, unit] = ANGLE.exec(text.trim()) ?? [];
	if (value === undefined || (unit === undefined && Number(value) !== 0)) return null;
	return Number(value) * DEGREES[(unit ?? 'deg').toLowerCase()];
}

function numberOf(text: string): number | null {
	const [, value, unit] = LENGTH.exec(text.trim()) ?? [];
	if (value === undefined || (unit !== undefined && unit !== '%')) return null;
	return unit === '%' ? Number(value) / 100 : Number(value);
}

const toRgb = converter('rgb');

/** sRGB and alpha, 0…1; null for what is no colour. */
export function colourOf(text: string): Four | null {
	const read = toRgb(parse(text.trim()));
	if (!read) return text.trim() === 'transparent' ? [0, 0, 0, 0] : null;
	const own = [read.r, read.g, read.b, read.alpha ?? 1].map((v) => Math.min(1, Math.max(0, v || 0)));
	return own as unknown as Four;
}

/** Words of a value, those in brackets together. */
const wordsOf = (text: string): string[] => text.trim().match(/[^\s(]+\([^)]*\)|[^\s]+/g) ?? [];
const AXES = ['x', 'y', 'z'] as const;

function numbers(property: Property, all: readonly (number | null)[]): Said[] | null {
	if (all.some((v) => v === null)) return null;
	return all.map((value, k): Said => ({ property, component: AXES[k], value: value! }));
}

function translation(words: readonly string[], { width, height }: Size): Said[] | null {
	if (words.length === 0 || words.length > 3) return null;
	const [x, y = '0', z] = words;
	const all = [lengthOf(x, width), lengthOf(y, height), ...(z === undefined ? [] : [lengthOf(z)])];
	return numbers('translation', all)?.map((said) => ({ ...said, isAdded: true })) ?? null;
}

function scaling(words: readonly string[]): Said[] | null {
	if (words.length === 0 || words.length > 3) return null;
	const all = words.map(numberOf);
	return numbers('scale', all.length === 1 ? [all[0], all[0]] : all);
}

const turn = (axis: number, degrees: number | null): Said[] | null =>
	degrees === null ? null : [{ property: 'rotation', component: AXES[axis], value: degrees }];

/** A turn about an axis of space, or about any. */
function turning(words: readonly string[]): Said[] | null {
	if (words.length === 1) return turn(2, angleOf(words[0]));
	const degrees = angleOf(words.at(-1)!) ?? angleOf(words[0]);
	if (degrees === null) return null;
	const axisWords =
		angleOf(words.at(-1)!) === null || words.length === 1 ? words.slice(1) : words.slice(0, -1);
	if (axisWords.length === 1) {
		const named = AXES.findIndex((own) => own === axisWords[0].toLowerCase());
		return named < 0 ? null : turn(named, degrees);
	}
	const axis = axisWords.map(Number);
	if (axis.length !== 3 || axis.some((v) => !Number.isFinite(v)) || axis.every((v) => v === 0)) return null;
	const along = axis.findIndex((v, k) => v !== 0 && axis.every((other, j) => j === k || other === 0));
	if (along >= 0) return turn(along, Math.sign(axis[along]) * degrees);
	return [{ property: 'orientation', axis: axis as unknown as Vec3, degrees }];
}

const CALL = /^([a-z0-9]+)\(([^()]*)\)$/i;

/** One function of a transform. */
function transformed(call: string, size: Size): Said[] | null {
	const [, name, inside] = CALL.exec(call) ?? [];
	if (name === undefined) return null;
	const words = inside.split(/\s*,\s*|\s+/).filter(Boolean);
	switch (name.toLowerCase()) {
		case 'translate':
		case 'translate3d':
			return translation(words, size);
		case 'translatex':
			return translation([words[0], '0'], size)?.slice(0, 1) ?? null;
		case 'translatey':
			return translation(['0', words[0]], size)?.slice(1) ?? null;
		case 'translatez':
			return translation(['0', '0', words[0]], size)?.slice(2) ?? null;
		case 'scale':
		case 'scale3d':
			return scaling(words);
		case 'scalex':
			return scaling([words[0], '1'])?.slice(0, 1) ?? null;
		case 'scaley':
			return scaling(['1', words[0]])?.slice(1) ?? null;
		case 'rotate':
		case 'rotatez':
			return turning(words);
		case 'rotatex':
			return turn(0, angleOf(words[0]));
		case 'rotatey':
			return turn(1, angleOf(words[0]));
		case 'rotate3d':
			return turning(words);
		default:
			return null;
	}
}

const ORDER: readonly Property[] = ['translation', 'rotation', 'scale'];

/** A list of functions: what is moved, then turned, then scaled, as parts are; null where the order is another one. */
function transform(text: string, size: Size): Said[] | null {
	if (text.trim() === 'none') return [...translation(['0', '0'], size)!, ...turn(2, 0)!, ...scaling(['1'])!];
	const said: Said[] = [];
	let last = 0;
	for (const call of wordsOf(text)) {
		const own = transformed(call, size);
		if (!own) return null;
		const place = ORDER.indexOf(own[0].property === 'orientation' ? 'rotation' : own[0].property);
		const isAgain = said.some(({ property, ...rest }) =>
			own.some(
				(other) =>
					other.property === property &&
					(other as { component?: string }).component === (rest as { component?: string }).component,
			),
		);
		if (place < last || isAgain) return null;
		last = place;
		said.push(...own);
	}
	return said;
}

function inset(text: string): Said[] | null {
	const [, inside] = /^inset\(([^()]*)\)$/i.exec(text.trim()) ?? [];
	const words =
		inside
			?.split(/\s+round\b/)[0]
			.trim()
			.split(/\s+/) ?? [];
	const all = words.map((word) => (word.endsWith('%') || Number(word) === 0 ? numberOf(word) : null));
	if (all.length === 0 || all.length > 4 || all.some((v) => v === null)) return null;
	const [top, right = top, bottom = top, left = right] = all as number[];
	return EDGES.map((edge, k): Said => ({
		property: 'reveal',
		component: edge,
		value: [top, right, bottom, left][k],
	}));
}

const one = (property: Property, component: Component, value: number | null): Said[] | null =>
	value === null ? null : [{ property, component, value }];

/** What a declaration says; null where a part has nothing like it. */
export function saidBy(property: string, value: string, size: Size): Said[] | null {
	const words = wordsOf(value);
	switch (property) {
		case 'translate':
			return translation(value.trim() === 'none' ? ['0'] : words, size);
		case 'rotate':
			return value.trim() === 'none' ? turn(2, 0) : turning(words);
		case 'scale':
			return scaling(value.trim() === 'none' ? ['1'] : words);
		case 'transform':
			return transform(value, size);
		case 'left':
		case 'top':
			return one('translation', property === 'left' ? 'x' : 'y', lengthOf(value));
		case 'opacity':
			return one('opacity', 'value', numberOf(value));
		case 'visibility':
			return one('visible', 'value', value.trim() === 'visible' ? 1 : 0);
		case 'width':
		case 'height':
			return one('size', property === 'width' ? 'x' : 'y', lengthOf(value));
		case 'border-radius':
			return one('radius', 'value', lengthOf(value));
		case 'clip-path':
			return inset(value);
		case 'background':
		case 'background-color':
		case 'color':
		case 'fill': {
			const colour = colourOf(value);
			return colour && [{ property: 'colour', colour }];
		}
		default:
			return null;
	}
}
