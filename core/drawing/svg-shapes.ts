/** SVG's basic shapes as path data, and path data moved and scaled. */
import { SVGPathData } from 'svg-pathdata';

type Attributes = Readonly<Record<string, string | number | undefined>>;

function number(attributes: Attributes, name: string): number {
	const value = Number(attributes[name] ?? 0);
	return Number.isFinite(value) ? value : 0;
}

function ellipse(cx: number, cy: number, rx: number, ry: number): string {
	if (!(rx > 0) || !(ry > 0)) return '';
	const arc = (x: number) => `A ${rx} ${ry} 0 0 1 ${x} ${cy}`;
	return `M ${cx + rx} ${cy} ${arc(cx - rx)} ${arc(cx + rx)} Z`;
}

function rectangle(attributes: Attributes): string {
	const [x, y, w, h] = ['x', 'y', 'width', 'height'].map((name) => number(attributes, name));
	if (!(w > 0) || !(h > 0)) return '';
	// One radius that is not given is as large as the other one.
	const rx = Math.min(number(attributes, attributes.rx === undefined ? 'ry' : 'rx'), w / 2);
	const ry = Math.min(number(attributes, attributes.ry === undefined ? 'rx' : 'ry'), h / 2);
	if (!(rx > 0) || !(ry > 0)) return `M ${x} ${y} H ${x + w} V ${y + h} H ${x} Z`;
	const corner = (toX: number, toY: number) => `A ${rx} ${ry} 0 0 1 ${toX} ${toY}`;
	return [
		`M ${x + rx} ${y} H ${x + w - rx} ${corner(x + w, y + ry)}`,
		`V ${y + h - ry} ${corner(x + w - rx, y + h)}`,
		`H ${x + rx} ${corner(x, y + h - ry)}`,
		`V ${y + ry} ${corner(x + rx, y)} Z`,
	].join(' ');
}

/**
 * The path of a basic shape; empty for one that draws nothing.
 * Source: SVG 2, 9.2 to 9.7 (equivalent paths of the basic shapes).
 */
export function shapePath(tag: string, attributes: Attributes): string {
	const at = (name: string) => number(attributes, name);
	switch (tag) {
		case 'path':
			return String(attributes.d ?? '');
		case 'rect':
			return rectangle(attributes);
		case 'circle':
			return ellipse(at('cx'), at('cy'), at('r'), at('r'));
		case 'ellipse':
			return ellipse(at('cx'), at('cy'), at('rx'), at('ry'));
		case 'line':
			return `M ${at('x1')} ${at('y1')} L ${at('x2')} ${at('y2')}`;
		case 'polyline':
		case 'polygon': {
			const points = String(attributes.points ?? '')
				.trim()
				.split(/[\s,]+/);
			return points.length < 4 ? '' : `M ${points.join(' ')}${tag === 'polygon' ? ' Z' : ''}`;
		}
		default:
			return '';
	}
}

/** Path data moved by (x, y), then scaled, with numbers short enough to read. Throws on what is no path. */
export function placedPath(d: string, x: number, y: number, scale: number): string {
	return new SVGPathData(d).toAbs().translate(x, y).scale(scale, scale).round(1e5).encode();
}
