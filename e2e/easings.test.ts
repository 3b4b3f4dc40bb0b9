/** The shapes that CSS knows, against the browser's own easing functions. */
import { compileCurve } from '../core/curve/compile';
import { spanEasing } from '../core/fit/css-span';
import { evaluateCurve } from '../player/curve/evaluate';
import { PLAYS_ONCE } from '../core/curve/handles';
import { EASING_FAMILIES, EASING_WAYS, STEP_JUMPS, type Shape } from '../player/easing/shape';
import type { Key } from '../core/curve/types';
import { expect, test } from './server';

const spring: Shape = { kind: 'spring', mass: 1, stiffness: 140, damping: 9, velocity: 0, time: 'fitted' };
const SHAPES: Shape[] = [
	{ kind: 'linear' },
	{ kind: 'hold' },
	{ kind: 'fall' },
	{ kind: 'rise' },
	{ kind: 'eased', start: 0.42, finish: 0.58 },
	{ kind: 'eased', start: 1, finish: 1 },
	{ kind: 'bezier', x1: 0.3, y1: -0.4, x2: 0.2, y2: 1.6 },
	...STEP_JUMPS.map((jump): Shape => ({ kind: 'steps', count: 4, jump })),
	{
		kind: 'stops',
		stops: [
			{ x: 0, y: 0 },
			{ x: 0.3, y: 0.8 },
			{ x: 0.3, y: 0.2 },
			{ x: 1, y: 1 },
		],
	},
	// Before the first stop and after the last the lines go on; stops may stand outside the span.
	...[
		[0.2, 0, 0.5, 0.9, 0.8, 1],
		[-0.4, -1, 0.1, 0.2, 1.5, 2],
	].map(([x0, y0, x1, y1, x2, y2]): Shape => ({
		kind: 'stops',
		stops: [
			{ x: x0, y: y0 },
			{ x: x1, y: y1 },
			{ x: x2, y: y2 },
		],
	})),
	...EASING_FAMILIES.flatMap((family) => EASING_WAYS.map((way): Shape => ({ kind: 'family', family, way }))),
	spring,
	{ ...spring, damping: 60 },
	{ kind: 'bounce', restitution: 0.6, count: 4 },
];

test('every shape runs in the browser as it does here, as exactly as its CSS says', async ({ app }) => {
	await app.goto('data:text/html,<p>easings');
	for (const shape of SHAPES) {
		const keys: Key[] = [
			{ t: 0, v: 0, shape },
			{ t: 72_000, v: 1, shape: { kind: 'linear' } },
		];
		const easing = spanEasing(keys, 0, PLAYS_ONCE, 0.001)!;
		const theirs = await app.evaluate((text) => {
			const effect = new KeyframeEffect(null, [], { duration: 1000, easing: text, fill: 'both' });
			const animation = new Animation(effect, document.timeline);
			return Array.from({ length: 500 }, (_, i) => {
				// Every fourth place is one at which steps may jump.
				animation.currentTime = 2 * i + (i % 4 === 0 ? 0 : 0.7);
				return effect.getComputedTiming().progress!;
			});
		}, easing.text);
		const curve = compileCurve(keys, { before: 'hold', after: 'hold' }, PLAYS_ONCE);
		// The text has six digits; the browser solves Beziers to about a millionth of a second.
		const bound = easing.exact ? 1e-5 : 1e-3;
		const off = theirs.map((progress, i) =>
			Math.abs(progress - evaluateCurve(curve, 72 * (2 * i + (i % 4 === 0 ? 0 : 0.7)))),
		);
		expect(Math.max(...off), easing.text).toBeLessThan(bound);
	}
});
