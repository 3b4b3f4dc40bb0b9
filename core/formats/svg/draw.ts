/** Parts as elements of SVG, nested as they are, each with what moves it. */
import { cardPath } from '../../../player/page/card-path';
import { fromEuler, toEuler } from '../../../player/maths/quaternion';
import type { Clip, Part } from '../../document/types';
import { EDGES, type Drawing, type Reveal } from '../../document/drawing';
import { boxOf } from '../../drawing/box';
import { strokeColour } from '../../drawing/mesh';
import type { WrittenStrip } from '../web/prepare';
import { courseOf, timingOf } from './animate';

/** Digits of what stands still: a ten-thousandth of a pixel. */
const DIGITS = 4;
const n = (v: number) => String(Number(v.toFixed(DIGITS)) + 0);
/** What moves has the digits that it was measured with. */
const moving = (v: number) => String(Number(v.toFixed(12)) + 0);
const escaped = (text: string) =>
	text.replace(/[&<>"]/g, (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[sign]!);

/** Of a label's box, what its letters are high. */
const LETTERS = 0.72;
const ANCHORS = { left: 'start', center: 'middle', right: 'end' } as const;

/** A colour and its alpha from numbers of a strip, which have the alpha multiplied in. */
function rgb([r, g, b, alpha]: readonly number[]): string {
	const own = [r, g, b].map((v) => (alpha > 0 ? n((255 * v) / alpha) : '0'));
	return `rgb(${own.join(',')})`;
}

interface Box {
	x: number;
	y: number;
	width: number;
	height: number;
}

/** The box of a drawing about its pivot; null for what has none. */
function boxIn(drawing: Drawing): Box | null {
	const [cx, cy] = drawing.offset;
	if ('size' in drawing) {
		const [width, height] = drawing.size;
		return { x: cx - width / 2, y: cy - height / 2, width, height };
	}
	const box = boxOf(drawing, 'interface');
	if (!box) return null;
	const [width, height] = [box.high[0] - box.low[0], box.high[1] - box.low[1]];
	return { x: box.low[0], y: box.low[1], width, height };
}

export class PartDrawer {
	private readonly timing: string;
	private windows = 0;

	constructor(
		private readonly clip: Clip,
		private readonly strips: readonly WrittenStrip[],
		private readonly names: ReadonlyMap<string, string>,
	) {
		this.timing = timingOf(clip);
	}

	private stripOf(part: string, name: string): WrittenStrip | undefined {
		return this.strips.find(({ strip }) => strip.part.id === part && strip.name === name);
	}

	private animate(attribute: string, own: WrittenStrip, text: (values: readonly number[]) => string): string {
		const course = courseOf(own.frames, this.clip, text, own.strip.path === 'visible');
		return `<animate attributeName="${attribute}" ${course} ${this.timing}/>`;
	}

	private turn(type: string, own: WrittenStrip, text: (values: readonly number[]) => string): string {
		const course = courseOf(own.frames, this.clip, text);
		return `<animateTransform attributeName="transform" type="${type}" ${course} ${this.timing}/>`;
	}

	/** Groups about what a part holds: where it stands, how it turns and grows, how much of it is seen. */
	private groups(part: Part): { open: string[]; animations: string[] } {
		const { id, rest } = part;
		const [x, y] = rest.translation;
		const moved = this.stripOf(id, 'translate');
		const turned = this.stripOf(id, 'rotate');
		const grown = this.stripOf(id, 'scale');
		const faded = this.stripOf(id, 'opacity');
		const shown = this.stripOf(id, 'visible');
		const open = [
			`<g data-part="${escaped(this.names.get(id)!)}" transform="translate(${n(x)} ${n(y)})"${rest.opacity === 1 ? '' : ` opacity="${n(rest.opacity)}"`}${part.visible ? '' : ' visibility="hidden"'}>`,
		];
		const animations = [
			(moved ? this.turn('translate', moved, ([dx, dy]) => `${moving(x + dx)} ${moving(y + dy)}`) : '') +
				(faded ? this.animate('opacity', faded, ([v]) => String(v)) : '') +
				(shown ? this.animate('visibility', shown, ([v]) => (v < 0.5 ? 'hidden' : 'visible')) : ''),
		];
		const angle = toEuler(fromEuler(rest.rotation, part.eulerOrder), 'XYZ')[2];
		if (turned || angle !== 0) {
			open.push(`<g transform="rotate(${n(angle)})">`);
			animations.push(turned ? this.turn('rotate', turned, ([z]) => String(z)) : '');
		}
		if (grown || rest.scale[0] !== 1 || rest.scale[1] !== 1) {
			open.push(`<g transform="scale(${n(rest.scale[0])} ${n(rest.scale[1])})">`);
			animations.push(grown ? this.turn('scale', grown, ([sx, sy]) => `${sx} ${sy}`) : '');
		}
		return { open, animations };
	}

	/** A part with what hangs on it. */
	part(part: Part, children: string): string {
		const { open, animations } = this.groups(part);
		const inner = `${this.drawing(part)}${children}`;
		const window = this.window(part, inner);
		const groups = open.map((tag, i) => `${tag}${animations[i]}`).join('');
		return `${groups}${window}${'</g>'.repeat(open.length)}\n`;
	}

	/** What is seen of a part and of all that hangs on it. */
	private window({ id, drawing }: Part, inner: string): string {
		const own = this.stripOf(id, 'reveal');
		const box = boxIn(drawing);
		if (!box || (!own && !drawing.reveal)) return inner;
		const at = ({ top, right, bottom, left }: Reveal): Box => ({
			x: box.x + left * box.width,
			y: box.y + top * box.height,
			width: Math.max(0, box.width * (1 - left - right)),
			height: Math.max(0, box.height * (1 - top - bottom)),
		});
		const still = at(drawing.reveal ?? { top: 0, right: 0, bottom: 0, left: 0 });
		const members = ['x', 'y', 'width', 'height'] as const;
		const name = `window-${++this.windows}`;
		const animations = own
			? members.map((member) =>
					this.animate(member, own, (v) =>
						moving(at(Object.fromEntries(EDGES.map((edge, k) => [edge, v[k]])) as unknown as Reveal)[member]),
					),
				)
			: [];
		const attributes = members.map((member) => `${member}="${n(still[member])}"`).join(' ');
		return `<clipPath id="${name}"><rect ${attributes}>${animations.join('')}</rect></clipPath><g clip-path="url(#${name})">${inner}</g>`;
	}

	private drawing(part: Part): string {
		const { drawing, colour, id } = part;
		const box = boxIn(drawing);
		if (!box) return '';
		const isHollow = 'filled' in drawing && drawing.filled === false;
		const tinted = this.stripOf(id, 'colour');
		const animations: string[] = [];
		if (tinted) animations.push(this.animate(isHollow ? 'stroke' : 'fill', tinted, rgb));
		let line = '';
		if ('stroke' in drawing && drawing.stroke && drawing.stroke.width > 0) {
			const { width, start, end } = drawing.stroke;
			const trimmed = this.stripOf(id, 'trim');
			line = ` stroke="${strokeColour(part)}" stroke-width="${n(width)}"`;
			if (trimmed || start > 0 || end < 1)
				line += ` pathLength="1" stroke-dasharray="${n(Math.max(0, end - start))} 2" stroke-dashoffset="${n(-start)}"`;
			if (trimmed)
				animations.push(
					this.animate(
						'stroke-dasharray',
						trimmed,
						([from, to]) => `${Number(Math.max(0, to - from).toFixed(9))} 2`,
					),
					this.animate('stroke-dashoffset', trimmed, ([from]) => String(0 - from)),
				);
		}
		const fill = ` fill="${isHollow ? 'none' : colour}"${line}`;
		return this.shape(part, box, fill, animations);
	}

	/** How a drawing's own attributes follow its sizes: each by a factor of one of them. */
	private sized(
		part: string,
		attributes: Readonly<Record<string, [of: 'width' | 'height', factor: number]>>,
	): string {
		return Object.entries(attributes)
			.map(([attribute, [of, factor]]) => {
				const own = this.stripOf(part, of);
				return own ? this.animate(attribute, own, ([v]) => moving(factor * v)) : '';
			})
			.join('');
	}

	private shape({ drawing, id }: Part, box: Box, fill: string, animations: readonly string[]): string {
		const inside = animations.join('');
		const { x, y, width, height } = box;
		if (drawing.kind === 'path')
			return `<path d="${escaped(drawing.d)}" fill-rule="evenodd"${fill}>${inside}</path>`;
		if (drawing.kind === 'label') {
			const align = drawing.align ?? 'center';
			const at = { left: x, center: x + width / 2, right: x + width }[align];
			const size = LETTERS * height;
			return `<text x="${n(at)}" y="${n(y + height / 2)}" font-family="Overpass, system-ui, sans-serif" font-weight="600" font-size="${n(size)}" text-anchor="${ANCHORS[align]}" dominant-baseline="central"${fill}>${inside}${escaped(drawing.text)}</text>`;
		}
		const share = (at: number, whole: number) => (whole > 0 ? at / whole : 0);
		if (drawing.kind === 'ellipse' || drawing.kind === 'ball') {
			const [rx, ry] = [width / 2, height / 2];
			const sizes = this.sized(id, {
				cx: ['width', share(x + rx, width)],
				cy: ['height', share(y + ry, height)],
				rx: ['width', 0.5],
				ry: ['height', 0.5],
			});
			return `<ellipse cx="${n(x + rx)}" cy="${n(y + ry)}" rx="${n(rx)}" ry="${n(ry)}"${fill}>${inside}${sizes}</ellipse>`;
		}
		const radius = drawing.kind === 'card' ? Math.min(drawing.radius, width / 2, height / 2) : 0;
		// Where a line is drawn in part it begins where Hillock's does.
		if (fill.includes('pathLength'))
			return `<path d="${cardPath(width / 2, height / 2, radius, [x + width / 2, y + height / 2])}"${fill}>${inside}</path>`;
		const sizes = this.sized(id, {
			x: ['width', share(x, width)],
			y: ['height', share(y, height)],
			width: ['width', 1],
			height: ['height', 1],
		});
		const rounded = this.stripOf(id, 'radius');
		const corners = rounded ? this.animate('rx', rounded, ([v]) => moving(Math.max(0, v))) : '';
		return `<rect x="${n(x)}" y="${n(y)}" width="${n(width)}" height="${n(height)}"${radius > 0 || rounded ? ` rx="${n(radius)}"` : ''}${fill}>${inside}${sizes}${corners}</rect>`;
	}
}
