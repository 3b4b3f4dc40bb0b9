/** What elements of SVG draw, as drawings of parts. Source: SVG 2, 9 (basic shapes), 11 (text). */
import type { Drawing, Stroke } from '../../document/drawing';
import { shapePath } from '../../drawing/svg-shapes';
import { writeHex } from '../../pose/hex';
import { colourOf, lengthOf } from '../web/incoming/values';
import type { Element } from '../xml';

/** What is inherited. */
export interface Style {
	fill: string;
	stroke: string;
	width: string;
}

export const GROUPS = new Set(['g', 'a', 'svg', 'switch']);
export const SHAPES = new Set(['rect', 'circle', 'ellipse', 'path', 'line', 'polyline', 'polygon']);
export const SILENT = new Set([
	'defs',
	'title',
	'desc',
	'metadata',
	'clipPath',
	'mask',
	'marker',
	'linearGradient',
	'radialGradient',
	'pattern',
	'symbol',
	'filter',
]);
/** Of letters, how wide they are as a share of how high. */
const LETTER = 0.6;
const LAYER = 0.01;

/** Attributes, with those that a style says. */
export function lookOf({ attributes }: Element): Record<string, string> {
	const own = (attributes.style ?? '').split(';').flatMap((item) => {
		const at = item.indexOf(':');
		return at < 0 ? [] : [[item.slice(0, at).trim(), item.slice(at + 1).trim()]];
	});
	return { ...attributes, ...(Object.fromEntries(own) as Record<string, string>) };
}

function hexOf(colour: string): string | null {
	const read = colour === 'none' ? null : colourOf(colour === 'currentColor' ? '#22303a' : colour);
	return read && read[3] > 0 ? writeHex(read) : null;
}

export interface Shape {
	drawing: Drawing;
	colour: string;
}

/** A length in pixels, or a plain number. */
export const at = (attributes: Readonly<Record<string, string>>, name: string, without = 0) =>
	lengthOf(attributes[name] ?? '') ?? (Number(attributes[name]) || without);

/** What an element draws; null where that is nothing. */
export function shapeOf(element: Element, { fill, stroke, width }: Style, layer: number): Shape | null {
	const { tag, attributes: own } = element;
	const line = hexOf(stroke);
	const body = hexOf(fill) ?? (fill.startsWith('url(') ? '#8a8f94' : null);
	if (!body && !line) return null;
	const outlined = {
		...(line
			? { stroke: { width: at({ width }, 'width', 1), colour: line, start: 0, end: 1 } satisfies Stroke }
			: {}),
		...(body ? {} : { filled: false }),
	};
	const colour = body ?? line!;
	const z = layer * LAYER;
	if (tag === 'rect') {
		const [x, y, w, h] = ['x', 'y', 'width', 'height'].map((name) => at(own, name));
		if (!(w > 0 && h > 0)) return null;
		const radius = Math.min(at(own, own.rx === undefined ? 'ry' : 'rx'), w / 2, h / 2);
		return {
			colour,
			drawing: { kind: 'card', size: [w, h, 0], radius, offset: [x + w / 2, y + h / 2, z], ...outlined },
		};
	}
	if (tag === 'circle' || tag === 'ellipse') {
		const [rx, ry] = tag === 'circle' ? [at(own, 'r'), at(own, 'r')] : [at(own, 'rx'), at(own, 'ry')];
		if (!(rx > 0 && ry > 0)) return null;
		return {
			colour,
			drawing: {
				kind: 'ellipse',
				size: [2 * rx, 2 * ry, 0],
				offset: [at(own, 'cx'), at(own, 'cy'), z],
				...outlined,
			},
		};
	}
	const d = shapePath(tag, own);
	return d === '' ? null : { colour, drawing: { kind: 'path', d, depth: 0, offset: [0, 0, z], ...outlined } };
}

export function labelOf({ attributes, text, children }: Element, fill: string, layer: number): Shape | null {
	const words = [text, ...children.map((child) => child.text)]
		.join(' ')
		.replace(/\s+/g, ' ')
		.trim()
		.slice(0, 200);
	if (words === '') return null;
	const high = at(lookOf({ attributes } as Element), 'font-size', 16);
	const wide = words.length * high * LETTER;
	const anchor = attributes['text-anchor'] ?? 'start';
	const shift = { start: wide / 2, middle: 0, end: -wide / 2 }[anchor] ?? wide / 2;
	const offset: [number, number, number] = [
		at(attributes, 'x') + shift,
		at(attributes, 'y') - high * 0.35,
		layer * LAYER,
	];
	return {
		colour: hexOf(fill) ?? '#22303a',
		drawing: { kind: 'label', text: words, size: [wide, high * 1.4, 0], offset },
	};
}
