/** What parts look like, as the page that plays them draws them. */
import type { Face, Look, Solid } from '../../../player/page/looks';
import type { Part } from '../../document/types';
import { EDGES, type Drawing } from '../../document/drawing';
import { boxOf } from '../../drawing/box';
import { meshOf, strokeColour, strokeMeshOf } from '../../drawing/mesh';
import type { Mesh } from '../../drawing/triangles';
import type { Space } from '../../pose/space';

/** Digits after the point in metres: a tenth of a millimetre. */
const DIGITS = 4;
const rounded = (numbers: ArrayLike<number>) => Array.from(numbers, (v) => Number(v.toFixed(DIGITS)));

function solidOf({ positions, normals, indices, shades }: Mesh, colour: string): Solid {
	const solid: Solid = {
		positions: rounded(positions),
		normals: rounded(normals),
		indices: [...indices],
		colour,
	};
	if (shades) solid.shades = rounded(shades);
	return solid;
}

function solidsOf({ drawing, colour }: Part): Solid[] {
	const body = meshOf(drawing, 'world');
	const line = strokeMeshOf(drawing, 'world');
	return [
		...(body ? [solidOf(body, colour)] : []),
		...(line ? [solidOf(line, strokeColour({ drawing, colour }))] : []),
	];
}

/** What a drawing is beside its box. */
function shapeOf(drawing: Drawing): Partial<Face> {
	switch (drawing.kind) {
		case 'card':
			return { radius: drawing.radius };
		case 'ellipse':
		case 'ball':
			return { isRound: true };
		case 'path':
			return { d: drawing.d };
		case 'label':
			return { text: drawing.text, align: drawing.align ?? 'center' };
		default:
			return {};
	}
}

function faceOf({ drawing, colour }: Part): Face | null {
	const bounds = 'size' in drawing ? drawing.size : null;
	const drawn = bounds ? null : boxOf(drawing, 'interface');
	const [x, y] = drawing.offset;
	const box: Face['box'] | null = bounds
		? [x, y, bounds[0], bounds[1]]
		: drawn && [
				(drawn.low[0] + drawn.high[0]) / 2,
				(drawn.low[1] + drawn.high[1]) / 2,
				drawn.high[0] - drawn.low[0],
				drawn.high[1] - drawn.low[1],
			];
	if (!box) return null;
	const face: Face = { box, ...shapeOf(drawing) };
	if ('filled' in drawing && drawing.filled === false) face.hollow = true;
	if ('stroke' in drawing && drawing.stroke) {
		const { width, start, end } = drawing.stroke;
		face.line = { width, colour: strokeColour({ drawing, colour }), trim: [start, end] };
	}
	const { reveal } = drawing;
	if (reveal) face.reveal = EDGES.map((edge) => reveal[edge]);
	return face;
}

export function lookOf(part: Part, space: Space): Look {
	const look: Look = { colour: part.colour };
	if (part.rest.opacity !== 1) look.opacity = part.rest.opacity;
	if (!part.visible) look.hidden = true;
	if (space === 'world') {
		const solids = solidsOf(part);
		if (solids.length > 0) look.solids = solids;
	} else {
		const face = faceOf(part);
		if (face) look.face = face;
	}
	return look;
}

/** What the page draws plainer than it is, in words. */
export function plainerOn(parts: readonly Part[], space: Space): string[] {
	return parts.flatMap(({ name, drawing }) => {
		if (drawing.kind === 'model') return [`${name}: its model is a box of the same size`];
		if (drawing.kind === 'image') return [`${name}: its picture is a plain card`];
		if (space === 'world') {
			if (drawing.kind === 'label') return [`${name}: its label is a plain card`];
			return drawing.reveal ? [`${name}: it is revealed in part, here whole`] : [];
		}
		return ['box', 'cylinder', 'cone'].includes(drawing.kind)
			? [`${name}: its ${drawing.kind} is a flat card`]
			: [];
	});
}
