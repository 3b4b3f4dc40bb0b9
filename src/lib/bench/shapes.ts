/** The sheet of shapes: what can be chosen, with a profile to show each. */
import { compileCurve } from '$core/curve/compile';
import { evaluateCurve } from '$player/curve/evaluate';
import { PLAYS_ONCE } from '$core/curve/handles';
import { EASING_FAMILIES, EASING_WAYS, type Shape } from '$player/easing/shape';
import type { Key } from '$core/curve/types';

export interface ShapeChoice {
	name: string;
	/** What CSS calls it, where that is another word. */
	note?: string;
	shape: Shape;
	/** Number key that sets it, where it has one. */
	shortcut?: string;
}

const eased = (start: number, finish: number): Shape => ({ kind: 'eased', start, finish });

export const SHAPE_SHEET: readonly ShapeChoice[] = [
	{ name: 'Hold', shape: { kind: 'hold' }, shortcut: '1' },
	{ name: 'Linear', shape: { kind: 'linear' }, shortcut: '2' },
	{ name: 'Slow start', note: 'ease-in', shape: eased(0.6, 0) },
	{ name: 'Slow finish', note: 'ease-out', shape: eased(0, 0.6) },
	{ name: 'Slow ends', note: 'ease-in-out', shape: eased(0.42, 0.42), shortcut: '3' },
	{ name: 'Fall', shape: { kind: 'fall' }, shortcut: '4' },
	{ name: 'Rise', shape: { kind: 'rise' }, shortcut: '5' },
	{ name: 'Handles', shape: { kind: 'handles' } },
	{
		name: 'Spring',
		shape: { kind: 'spring', mass: 1, stiffness: 170, damping: 14, velocity: 0, time: 'fitted' },
		shortcut: '6',
	},
	{ name: 'Bounce', shape: { kind: 'bounce', restitution: 0.55, count: 3 } },
	{ name: 'Back', shape: { kind: 'family', family: 'back', way: 'out' } },
	{ name: 'Steps', shape: { kind: 'steps', count: 4, jump: 'jump-end' } },
	{ name: 'CSS', shape: { kind: 'bezier', x1: 0.3, y1: -0.3, x2: 0.6, y2: 1.2 } },
];

/** One tile for each family that has none above; its numbers say in which way it is slow. */
export const MORE_EASINGS: readonly ShapeChoice[] = EASING_FAMILIES.filter((family) => family !== 'back').map(
	(family) => ({
		name: family[0].toUpperCase() + family.slice(1),
		shape: { kind: 'family', family, way: 'out' },
	}),
);

/** Every easing family in every way; found by name, since the sheet would be too long with them. */
export const FAMILY_SHEET: readonly ShapeChoice[] = EASING_FAMILIES.flatMap((family) =>
	EASING_WAYS.map((way): ShapeChoice => ({
		name: `${family[0].toUpperCase()}${family.slice(1)} ${way}`,
		note: `ease-${way}`,
		shape: { kind: 'family', family, way },
	})),
);

/** Whether a choice is what a span has: the same kind; families by name, eased by slow ends. */
export function isChosen(choice: ShapeChoice, shape: Shape): boolean {
	const own = choice.shape;
	if (own.kind !== shape.kind) return false;
	if (own.kind === 'family' && shape.kind === 'family') return shape.family === own.family;
	if (own.kind === 'eased' && shape.kind === 'eased') {
		return own.start > 0 === shape.start > 0 && own.finish > 0 === shape.finish > 0;
	}
	return true;
}

/** An SVG path of the curve of some keys over [from, to] (ticks), in a box of the given size, with its range. */
export function profilePath(
	evaluate: (t: number) => number,
	from: number,
	to: number,
	size: { width: number; height: number; pad: number },
	range?: { low: number; high: number },
): { line: string; area: string; low: number; high: number } {
	const count = Math.max(24, Math.round(size.width / 2));
	const values = Array.from({ length: count + 1 }, (_, i) => evaluate(from + ((to - from) * i) / count));
	const low = range?.low ?? Math.min(...values);
	const high = range?.high ?? Math.max(...values);
	const span = high - low || 1;
	const points = values.map((v, i) => {
		const x = (size.width * i) / count;
		const y = size.pad + (size.height - 2 * size.pad) * (1 - (v - low) / span);
		return `${x.toFixed(1)} ${y.toFixed(1)}`;
	});
	const line = `M ${points.join(' L ')}`;
	return { line, area: `${line} L ${size.width} ${size.height} L 0 ${size.height} Z`, low, high };
}

export const THUMB = { width: 56, height: 30, pad: 4 };

export interface Thumbnail {
	line: string;
	area: string;
	/** Height in the picture at a share of the time. */
	heightAt: (share: number) => number;
}

/** The small profile of a shape on its own. Just before the end, since a hold only jumps there. */
export function thumbnail(shape: Shape): Thumbnail {
	const keys: Key[] = [
		{ t: 0, v: 0, shape, right: { mode: 'flat' } },
		{ t: 1000, v: 1, shape: { kind: 'linear' }, left: { mode: 'flat' } },
	];
	const curve = compileCurve(keys, { before: 'hold', after: 'hold' }, PLAYS_ONCE);
	const range = shape.kind === 'hold' || shape.kind === 'steps' ? { low: 0, high: 1 } : undefined;
	const value = (t: number) => evaluateCurve(curve, t);
	const { line, area, low, high } = profilePath(value, 0, 1000, THUMB, range);
	const heightAt = (share: number) =>
		THUMB.pad + (THUMB.height - 2 * THUMB.pad) * (1 - (value(1000 * share) - low) / (high - low || 1));
	return { line, area, heightAt };
}
