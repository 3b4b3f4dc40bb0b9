/** The shapes that CSS knows, against the browser's own easing functions. */
import { compileCurve } from '../core/curve/compile';
import { readCssEasing } from '../core/easing/css';
import { readCssMotions } from '../core/easing/css-declaration';
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

const DECLARATIONS = [
	'transition: opacity 0.3s ease-out 100ms, 2s rotate linear',
	'transition: 1s',
	'transition: all 9s linear; transition-property: opacity, translate, scale; transition-duration: 100ms, 200ms',
	'transition-duration: 1s; transition: scale 2s steps(3, jump-both) -0.5s',
	'animation: 3s cubic-bezier(0.3, -0.4, 0.2, 1.6) 1s infinite alternate both paused sway',
	'animation: alternate alternate 1s 2.5, fade 200ms reverse',
	'animation: 1e3ms linear(0, 0.5 25%, 1) wave',
	'transition: opacity fast',
	'transition: opacity 0.3s 0.1s 0.2s',
	'transition: opacity -1s',
	'transition: opacity 1s, , scale 1s',
	'animation: sway 1s -2',
];

test('declarations of transitions and animations are read as the browser reads them', async ({ app }) => {
	await app.goto('data:text/html,<p>declarations');
	for (const text of DECLARATIONS) {
		const read = readCssMotions(text);
		const ours = read.ok ? read.value : [];
		const theirs = await app.evaluate((own) => {
			const element = document.createElement('p');
			element.style.cssText = own;
			document.body.append(element);
			if (element.style.length === 0) return [];
			const style = getComputedStyle(element);
			const kind = own.startsWith('animation') ? 'animation' : 'transition';
			const list = (name: string) => style.getPropertyValue(`${kind}-${name}`).split(/, (?![^(]*\))/);
			const names = list(kind === 'transition' ? 'property' : 'name');
			const at = (name: string, i: number) => list(name)[i % list(name).length];
			return names.map((name, i) => ({
				name,
				duration: parseFloat(at('duration', i)),
				delay: parseFloat(at('delay', i)),
				...(kind === 'animation'
					? { iterations: at('iteration-count', i), direction: at('direction', i) }
					: {}),
				easing: at('timing-function', i),
			}));
		}, text);
		const expected = theirs.map(({ iterations = '1', direction = 'normal', easing, ...own }) => {
			const shape = readCssEasing(easing);
			return {
				kind: text.slice(0, text.search(/[-:]/)),
				...own,
				easing: shape.ok ? shape.value : easing,
				iterations: iterations === 'infinite' ? Infinity : Number(iterations),
				direction,
			};
		});
		expect(ours, text).toEqual(expected);
	}
});
