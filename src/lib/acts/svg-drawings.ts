/** An SVG file as drawings: one path for each of its shapes, with its colours, all about the middle of the picture. */
import { shortName } from '$core/text';
import { Box2, Color, Vector2, type CubicBezierCurve, type Curve, type QuadraticBezierCurve } from 'three';
import { SVGLoader } from 'three/addons/loaders/SVGLoader.js';
import type { Drawing } from '$core/document/types';
import type { Space } from '$core/pose/space';
import { placedPath } from '$core/drawing/svg-shapes';
import { expandedSize } from './svg-size';

export interface NamedDrawing {
	name: string;
	colour: string;
	drawing: Drawing;
}

const MOST_SHAPES = 60;
const MOST_ELEMENTS = 5000;
/** The longer side of what is made, in units of the project. */
const LENGTH: Record<Space, number> = { world: 2, interface: 200 };
const ARC_STEPS = 24;
/** What stands for a colour that is none. */
const UNTOLD = '#8a8f94';

const point = ({ x, y }: Vector2) => `${x} ${y}`;

function curveText(curve: Curve<Vector2>): string {
	if (curve.type === 'LineCurve') return `L ${point(curve.getPoint(1))}`;
	if (curve.type === 'CubicBezierCurve') {
		const { v1, v2, v3 } = curve as CubicBezierCurve;
		return `C ${point(v1)} ${point(v2)} ${point(v3)}`;
	}
	if (curve.type === 'QuadraticBezierCurve') {
		const { v1, v2 } = curve as QuadraticBezierCurve;
		return `Q ${point(v1)} ${point(v2)}`;
	}
	return curve
		.getPoints(ARC_STEPS)
		.slice(1)
		.map((p) => `L ${point(p)}`)
		.join(' ');
}

interface Style {
	fill?: string;
	stroke?: string;
	strokeWidth?: number;
}

function hexOf(colour: string | undefined): string | null {
	if (!colour || colour === 'none' || colour === 'transparent') return null;
	// A gradient or a pattern: parts have one colour.
	if (colour.startsWith('url(')) return UNTOLD;
	return `#${new Color(colour === 'currentColor' ? '#22303a' : colour).getHexString()}`;
}

/** Throws where there is nothing to draw, or too much. */
export function drawingsFromSvg(text: string, space: Space): NamedDrawing[] {
	// A few lines can use one another so often that no browser comes to an end.
	if (expandedSize(text) > MOST_ELEMENTS)
		throw new Error(`It comes to more than ${MOST_ELEMENTS} elements: take it as a picture.`);
	const { paths } = new SVGLoader().parse(text);
	if (paths.length === 0) throw new Error('There are no shapes in it.');
	if (paths.length > MOST_SHAPES)
		throw new Error(
			`It has ${paths.length} shapes, ${MOST_SHAPES} at most can be parts: take it as a picture.`,
		);
	const box = new Box2().setFromPoints(
		paths.flatMap((path) => path.subPaths.flatMap((line) => line.getPoints())),
	);
	const { x: width, y: height } = box.getSize(new Vector2());
	const middle = box.getCenter(new Vector2());
	const scale = LENGTH[space] / Math.max(width, height, 1e-9);
	const drawn = paths.flatMap((path, i): NamedDrawing[] => {
		const d = path.subPaths
			.filter((line) => line.curves.length > 0)
			.map((line) => {
				const closed = line.autoClose || line.getPoint(0).distanceTo(line.getPoint(1)) < 1e-6;
				const curves = line.curves.map((curve) => curveText(curve as Curve<Vector2>)).join(' ');
				return `M ${point(line.curves[0].getPoint(0) as Vector2)} ${curves}${closed ? ' Z' : ''}`;
			})
			.join(' ');
		if (d === '') return [];
		const { node, style } = path.userData as { node?: Element; style: Style };
		const fill = hexOf(style.fill);
		const line = hexOf(style.stroke);
		if (!fill && !line) return [];
		return [
			{
				name: shortName(node?.id, 100, `shape ${i + 1}`),
				colour: fill ?? line!,
				drawing: {
					kind: 'path',
					d: placedPath(d, -middle.x, -middle.y, scale),
					depth: 0,
					...(fill ? {} : { filled: false }),
					...(line
						? { stroke: { width: (style.strokeWidth ?? 1) * scale, colour: line, start: 0, end: 1 } }
						: {}),
					// Later shapes lie on earlier ones.
					offset: [0, 0, (i * LENGTH[space]) / 1000],
				},
			},
		];
	});
	if (drawn.length === 0) throw new Error('No shape in it has a colour.');
	return drawn;
}
