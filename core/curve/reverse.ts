/** Playing keys backwards: shapes and handles turned about, so that the motion is the same in reverse. */
import { indexAt } from './edit';
import { expandSpan } from './split';
import type { CurveContext } from './handles';
import type { Four } from '../../player/maths/vector';
import type { Key } from './types';
import type { Shape, StepJump } from '../../player/easing/shape';

const TURNED_JUMPS: Record<StepJump, StepJump> = {
	'jump-start': 'jump-end',
	'jump-end': 'jump-start',
	'jump-none': 'jump-none',
	'jump-both': 'jump-both',
};

/** A shape in reverse, or null where the reverse is no shape of its own (springs, bounces). */
export function reversedShape(shape: Shape): Shape | null {
	switch (shape.kind) {
		case 'hold':
			// Backwards, the jump at the end comes first.
			return { kind: 'steps', count: 1, jump: 'jump-start' };
		case 'linear':
		case 'handles':
		case 'tangents':
			return shape;
		case 'eased':
			return { kind: 'eased', start: shape.finish, finish: shape.start };
		case 'fall':
			return { kind: 'rise' };
		case 'rise':
			return { kind: 'fall' };
		case 'bezier':
			return { kind: 'bezier', x1: 1 - shape.x2, y1: 1 - shape.y2, x2: 1 - shape.x1, y2: 1 - shape.y1 };
		case 'family':
			return { ...shape, way: shape.way === 'in' ? 'out' : shape.way === 'out' ? 'in' : 'in-out' };
		case 'steps':
			if (shape.count === 1 && shape.jump === 'jump-start') return { kind: 'hold' };
			return { ...shape, jump: TURNED_JUMPS[shape.jump] };
		case 'stops':
			return { kind: 'stops', stops: shape.stops.map(({ x, y }) => ({ x: 1 - x, y: 1 - y })).reverse() };
		case 'spring':
		case 'bounce':
			return null;
	}
}

const negated = ([x, y, z, w]: Four): Four => [-x, -y, -z, -w];

function withoutSides(key: Key): Key {
	const bare = { ...key };
	delete bare.left;
	delete bare.right;
	return bare;
}

/**
 * Reverses the stretch from the first to the last of the given ticks, all keys between included. Springs and bounces
 * in it become keys with simple shapes first.
 */
export function reverseKeys(keys: readonly Key[], times: ReadonlySet<number>, context: CurveContext): Key[] {
	const first = Math.min(...times);
	const last = Math.max(...times);
	if (!(first < last)) return keys as Key[];
	let list = keys as Key[];
	for (let i = 0; i < list.length - 1; i++) {
		if (list[i].t >= first && list[i].t < last && reversedShape(list[i].shape) === null)
			list = expandSpan(list, i, context);
	}
	const from = indexAt(list, first);
	const to = indexAt(list, last);
	const inside = list.slice(from, to + 1);
	const turned = inside.map((key, i): Key => {
		// The span after a turned key is the span that was before it.
		const before = inside[i - 1];
		const shape = before ? reversedShape(before.shape)! : inside.at(-1)!.shape;
		const next: Key = { ...withoutSides(key), t: first + last - key.t, shape };
		// At the ends of the stretch the outer sides stay where they are.
		const left = i === inside.length - 1 ? inside[0].left : key.right;
		const right = i === 0 ? inside.at(-1)!.right : key.left;
		if (left) next.left = left;
		if (right) next.right = right;
		if (key.tangents)
			next.tangents = { left: negated(key.tangents.right), right: negated(key.tangents.left) };
		return next;
	});
	return [...list.slice(0, from), ...turned.reverse(), ...list.slice(to + 1)];
}

/** Reverses a stretch of a switch: what was held until a key is held from it on. */
export function reverseSwitch(keys: readonly Key[], times: ReadonlySet<number>): Key[] {
	const [first, last] = [Math.min(...times), Math.max(...times)];
	const inside = keys.filter((key) => key.t >= first && key.t <= last);
	const turned = inside.map((key, i) => ({ ...key, t: first + last - key.t, v: (inside[i - 1] ?? key).v }));
	return [...keys.filter((key) => key.t < first), ...turned.reverse(), ...keys.filter((key) => key.t > last)];
}
