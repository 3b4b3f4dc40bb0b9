import { describe, expect, it } from 'vitest';
import { readCssEasingOrDeclaration, readCssMotions, type CssMotion } from './css-declaration';

const read = (text: string): CssMotion[] => {
	const motions = readCssMotions(text);
	if (!motions.ok) throw new Error(motions.problems[0].message);
	return motions.value;
};
const readEase = read('transition: all 1s ease')[0].easing;
const problem = (text: string) => {
	const motions = readCssMotions(text);
	return motions.ok ? '' : motions.problems[0].message;
};
const LINEAR = { kind: 'linear' };
const EASE = { kind: 'bezier', x1: 0.25, y1: 0.1, x2: 0.25, y2: 1 };

describe('CSS declarations', () => {
	it('of transitions: the first time is the duration, the second the delay, the rest in any order', () => {
		expect(read('transition: opacity 0.3s ease-out 100ms, 2s rotate linear;')).toEqual([
			{
				kind: 'transition',
				name: 'opacity',
				duration: 0.3,
				delay: 0.1,
				easing: { kind: 'eased', start: 0, finish: 0.42 },
				iterations: 1,
				direction: 'normal',
			},
			expect.objectContaining({ name: 'rotate', duration: 2, delay: 0, easing: LINEAR }),
		]);
		expect(read('transition: scale -1s 2s')).toMatchObject([{ duration: 2, delay: -1 }]);
		expect(read('transition: 1s')).toMatchObject([{ name: 'all', easing: EASE }]);
		expect(read('transition: none')).toMatchObject([{ name: null }]);
	});

	it('of animations: iterations, direction and a name, which may be a word that is taken', () => {
		expect(
			read('animation: 3s steps(4, jump-none) 1s infinite alternate both paused "my sway"'),
		).toMatchObject([
			{
				kind: 'animation',
				name: 'my sway',
				duration: 3,
				delay: 1,
				easing: { kind: 'steps', count: 4, jump: 'jump-none' },
				iterations: Infinity,
				direction: 'alternate',
			},
		]);
		expect(read('animation: alternate alternate 1s 2.5')).toMatchObject([
			{ direction: 'alternate', name: 'alternate', iterations: 2.5 },
		]);
	});

	it('in longhands: lists are repeated to the length of the first, and go over the shorthand before them', () => {
		const motions = read(`.slip {
			color: red; /* transition: none */
			transition: all 9s linear;
			transition-property: opacity, translate, scale;
			transition-duration: 100ms, 200ms;
			-webkit-transition-timing-function: linear(0, 0.5 25%, 1), ease;
		}`);
		expect(motions.map(({ name, duration }) => [name, duration])).toEqual([
			['opacity', 0.1],
			['translate', 0.2],
			['scale', 0.1],
		]);
		expect(motions.map(({ easing }) => easing.kind)).toEqual(['stops', 'bezier', 'stops']);
		expect(read('transition-delay: 1s; transition: opacity 2s')).toMatchObject([{ delay: 0, duration: 2 }]);
	});

	it.each<[string, string | RegExp]>([
		['color: red', /no transition or animation/],
		['', /no transition or animation/],
		['transition: opacity 0.3s 0.1s 0.2s', '"0.2s" has no place in “opacity 0.3s 0.1s 0.2s”.'],
		['transition: opacity fast', /"fast" has no place/],
		['transition: opacity 0.3s cubic-bezier(2, 0, 1, 1)', /from 0 to 1/],
		['transition: opacity var(--time)', /"var\(--time\)" is no CSS easing/],
		['transition: opacity 1s, , scale 1s', /Something is missing/],
		['transition-duration: -1s', /below 0/],
		['transition: opacity 601s', /longer than 600 s/],
		['transition-duration: 3', /"3" is no time/],
		['animation-direction: up', /"up" is no direction/],
		['animation-iteration-count: -1', /"-1" is no number of iterations/],
		[`transition: ${Array(101).fill('opacity 1s').join()}`, /more than 100/],
	])('that cannot be read say why: %s', (text, why) => {
		expect(problem(text)).toMatch(why);
	});

	it.each<[string, object]>([
		['cubic-bezier(0.3, 0.1, 0.2, 1)', { easing: { kind: 'bezier' }, isDeclaration: false }],
		['transition: all 0.4s steps(3)', { easing: { kind: 'steps', count: 3 }, isDeclaration: true }],
		['animation-timing-function: linear(0, 1.5 20%, 1);', { easing: { kind: 'stops' }, isDeclaration: true }],
		['.slip { animation: slip 1s }', { easing: readEase, isDeclaration: true }],
	])('gives its easing where that alone is wanted: %s', (text, wanted) => {
		const easing = readCssEasingOrDeclaration(text);
		expect(easing.ok && easing.value).toMatchObject(wanted);
	});

	it('gives none where there is none', () => {
		for (const text of ['color: red', 'transition: all quickly', 'hop', ''])
			expect(readCssEasingOrDeclaration(text).ok, text).toBe(false);
	});
});
