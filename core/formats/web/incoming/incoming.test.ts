/** Style sheets and keyframes of scripts that come in: ours, and those that other people write. */
import { strToU8 } from 'fflate';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeParcelSlip } from '../../../../demo/parcel-slip';
import { between } from '../../../../player/testing';
import { TICKS_PER_SECOND } from '../../../../player/time';
import { colourIn } from '../../../clip/layout';
import { clipsInOrder, type Clip, type Doc } from '../../../document/types';
import { shownAt } from '../../../testing';
import { takeIn } from '../../loaders';
import { formatOf } from '../../registry';
import { cssShipper } from '../../css/shipping';
import { identifier } from '../../css/identifier';
import { webAnimationsShipper } from '../../animations/shipping';

async function take(text: string | Uint8Array, name: string) {
	const bytes = typeof text === 'string' ? strToU8(text) : text;
	const taken = await takeIn(formatOf(bytes, name), { bytes, name: name.replace(/\..*$/, ''), sha256: '' });
	if (!taken.ok) throw new Error(taken.problems[0].message);
	return taken.value;
}

/** What a clip shows of a part at a time, its translation from where it rests. */
function look(doc: Doc, clip: Clip, partName: string, seconds: number) {
	const part = Object.values(doc.parts).find(({ name }) => name === partName)!;
	const shown = shownAt(doc, clip.id, seconds * TICKS_PER_SECOND);
	const number = (property: 'translation' | 'rotation' | 'scale', k: number) =>
		shown.number(part.id, property, (['x', 'y', 'z'] as const)[k]);
	return {
		moved: [0, 1].map((k) => number('translation', k) - part.rest.translation[k]),
		turned: number('rotation', 2) - part.rest.rotation[2],
		scaled: [0, 1].map((k) => number('scale', k)),
		opacity: shown.number(part.id, 'opacity'),
		colour: colourIn(shown.posed, part),
	};
}
const clipNamed = (doc: Doc, name: string) => clipsInOrder(doc).find((clip) => clip.name === name)!;

describe.each([
	['style sheet', cssShipper, 'css', (name: string) => identifier(name)],
	['keyframes of scripts', webAnimationsShipper, 'animations.json', (name: string) => name],
] as const)('our own %s', (_, shipper, ending, nameOf) => {
	it('come in again as the same clips, within the bound that they were written with', async () => {
		const doc = makeParcelSlip();
		const clips = clipsInOrder(doc);
		const shipped = await shipper.ship(doc, clips, { bounds: { relative: 0.001 } });
		const { doc: back } = await take(shipped.bytes, `slip.${ending}`);
		let looked = 0;
		for (const clip of clips) {
			const report = shipped.clips.find((own) => own.clip === clip.id)!;
			const twin = clipNamed(back, nameOf(clip.name));
			if (!twin) {
				expect(report.tracks).toEqual([]);
				continue;
			}
			expect(twin.loop.mode).toBe(clip.loop.mode);
			const period = twin.length + twin.loop.pause;
			expect(period / TICKS_PER_SECOND).toBeCloseTo((clip.length + clip.loop.pause) / TICKS_PER_SECOND, 4);
			for (const { part, path, bound } of report.tracks)
				for (const share of [0, 0.13, 0.5, 0.77]) {
					const seconds = (share * clip.length) / TICKS_PER_SECOND;
					const [truth, read] = [look(doc, clip, part, seconds), look(back, twin, part, seconds)];
					const room = 1.2 * bound + 1e-4;
					if (path === 'translation')
						read.moved.forEach((v, k) =>
							expect(Math.abs(v - truth.moved[k]), `${clip.name} ${part}`).toBeLessThan(room),
						);
					if (path === 'opacity') expect(Math.abs(read.opacity - truth.opacity)).toBeLessThan(room);
					if (path === 'scale')
						read.scaled.forEach((v, k) => expect(Math.abs(v - truth.scaled[k])).toBeLessThan(room));
					if (path === 'colour')
						read.colour.forEach((v, k) => expect(Math.abs(v - truth.colour[k])).toBeLessThan(room + 3e-3));
					looked++;
				}
		}
		expect(looked).toBeGreaterThan(60);
	});
});

describe('a style sheet of anybody', () => {
	it('becomes clips: keyframes with the rules that play them, states with their transitions', async () => {
		const { doc, leftOut } = await take(
			`:root { --slow: 600ms }
			.toast { width: 200px; height: 40px; background: #c8452c; opacity: 0; transition: opacity 200ms ease-out, transform .4s cubic-bezier(.2, 0, 0, 1) 100ms }
			.toast.open { opacity: 1; transform: translateY(-12px) scale(1.1); box-shadow: 0 0 4px red }
			@keyframes spin { to { rotate: 1turn } }
			@keyframes rise { from { transform: translate(50%, 20px) rotate(10deg); opacity: 0; filter: blur(2px) }
				40% { opacity: 1; animation-timing-function: linear } to { transform: none } }
			.spinner { animation: spin 1.2s linear infinite }
			.card { animation: rise var(--slow) ease-out both }
			@media (prefers-reduced-motion: reduce) { .card { animation: none } }`,
			'page.css',
		);
		expect(clipsInOrder(doc).map(({ name }) => name)).toEqual(['spin', 'rise', '.toast.open']);
		const spin = clipNamed(doc, 'spin');
		expect([spin.length / TICKS_PER_SECOND, spin.loop.mode, spin.loop.count]).toEqual([1.2, 'repeat', null]);
		expect(look(doc, spin, 'spinner', 0.9).turned).toBeCloseTo(270, 4);
		const rise = clipNamed(doc, 'rise');
		const start = look(doc, rise, 'card', 0);
		expect(start.moved).toEqual([60, 20]);
		expect([start.turned, start.opacity]).toEqual([10, 0]);
		expect(look(doc, rise, 'card', 0.6).moved).toEqual([0, 0]);
		expect(look(doc, rise, 'card', 0.42).opacity).toBeCloseTo(1, 6);
		const open = clipNamed(doc, '.toast.open');
		expect(open.length / TICKS_PER_SECOND).toBeCloseTo(0.5, 6);
		expect(look(doc, open, 'toast', 0.1).moved[1]).toBeCloseTo(0, 6);
		expect(look(doc, open, 'toast', 0.5)).toMatchObject({ moved: [0, -12], opacity: 1, scaled: [1.1, 1.1] });
		expect(doc.parts[Object.keys(doc.parts).find((id) => doc.parts[id].name === 'toast')!]).toMatchObject({
			colour: '#c8452c',
			drawing: { size: [200, 40, 0] },
		});
		expect(leftOut.join('\n')).toMatch(/filter: blur\(2px\)/);
	});

	it.each([
		['.a { color: red }', /Nothing moves/],
		['@keyframes odd { 50% { filter: blur(1px) } }', /Nothing moves/],
		['{{{', /Nothing moves|no style sheet/],
	])('in which nothing moves is refused: %s', async (text, message) => {
		await expect(take(text, 'a.css')).rejects.toThrow(message);
	});
});

describe('keyframes of anybody', () => {
	it('are spread as browsers spread them, in lists and by properties', async () => {
		const list = await take(
			JSON.stringify({
				keyframes: [
					{ opacity: 0 },
					{ opacity: 1, offset: 0.2, easing: 'ease-in' },
					{ opacity: 0.5 },
					{ opacity: 0 },
				],
				timing: { duration: 1000, direction: 'reverse' },
			}),
			'fade.json',
		);
		const [clip] = clipsInOrder(list.doc);
		// Backwards: the frame at 0.6 of the way is shown at 0.4.
		expect(look(list.doc, clip, 'element', 0.4).opacity).toBeCloseTo(0.5, 6);
		expect(look(list.doc, clip, 'element', 0.8).opacity).toBeCloseTo(1, 6);
		const byName = await take(
			JSON.stringify([{ target: '#dot', keyframes: { translate: ['0px', '30px 0', '0px'] }, options: 500 }]),
			'dot.json',
		);
		expect(look(byName.doc, clipsInOrder(byName.doc)[0], '#dot', 0.25).moved[0]).toBeCloseTo(30, 4);
	});

	it('that begin one after the other keep their times; those that go on stay in time', async () => {
		const { doc } = await take(
			JSON.stringify([
				{ target: 'a', keyframes: [{ opacity: 0 }, { opacity: 1 }], timing: { duration: 200, delay: 300 } },
				{
					target: 'b',
					keyframes: [{ rotate: '0deg' }, { rotate: '90deg' }],
					timing: { duration: 250, iterations: 4, direction: 'alternate' },
				},
			]),
			'two.json',
		);
		const [clip] = clipsInOrder(doc);
		expect(clip.length / TICKS_PER_SECOND).toBeCloseTo(1, 6);
		expect(look(doc, clip, 'a', 0.4).opacity).toBeCloseTo(0.5, 5);
		expect([0.125, 0.375, 0.7].map((t) => look(doc, clip, 'b', t).turned)).toEqual(
			[45, 45, 72].map((v) => expect.closeTo(v, 4)),
		);
	});

	it('that end before the others go round so often, and no longer', async () => {
		const way = [{ translate: '0px' }, { translate: '40px' }];
		const { doc } = await take(
			JSON.stringify([
				{ target: 'a', keyframes: way, timing: { duration: 200, iterations: 2 } },
				{
					target: 'b',
					keyframes: way,
					timing: { duration: 200, iterations: 3, direction: 'alternate-reverse' },
				},
				{ target: 'c', keyframes: [{ opacity: 0 }, { opacity: 1 }], timing: 2000 },
			]),
			'three.json',
		);
		const [clip] = clipsInOrder(doc);
		const at = (part: string, seconds: number) => look(doc, clip, part, seconds).moved[0];
		expect([0.1, 0.199, 0.3, 0.4, 0.7, 1.9].map((t) => at('a', t))).toEqual(
			[20, 39.8, 20, 40, 40, 40].map((v) => expect.closeTo(v, 1)),
		);
		expect([0.05, 0.3, 0.45, 0.6, 1.5].map((t) => at('b', t))).toEqual(
			[30, 20, 30, 0, 0].map((v) => expect.closeTo(v, 1)),
		);
	});

	it('of any numbers show them at their places', async () => {
		const frame = fc.record({ at: between(0, 1), x: between(-200, 200), turn: between(-400, 400) });
		await fc.assert(
			fc.asyncProperty(fc.array(frame, { minLength: 2, maxLength: 6 }), async (given) => {
				const frames = [...given].sort((a, b) => a.at - b.at);
				frames[0].at = 0;
				frames.at(-1)!.at = 1;
				if (frames.some(({ at }, i) => i > 0 && at - frames[i - 1].at < 0.05)) return;
				const keyframes = frames.map(({ at, x, turn }) => ({
					offset: at,
					transform: `translateX(${x}px) rotate(${turn}deg)`,
				}));
				const { doc } = await take(JSON.stringify({ keyframes, timing: { duration: 2000 } }), 'any.json');
				for (const { at, x, turn } of frames) {
					const seen = look(doc, clipsInOrder(doc)[0], 'element', 2 * at);
					// A time is rounded to a tick, which such ways go far in.
					expect(Math.abs(seen.moved[0] - x)).toBeLessThan(0.15);
					expect(Math.abs(seen.turned - turn)).toBeLessThan(0.25);
				}
			}),
			{ numRuns: 40 },
		);
	});

	it.each(['{"keyframes": 3}', '[{"offset": 0}]', '{"format": "hillock-web-animations", "version": 9}'])(
		'that are none are refused: %s',
		async (text) => {
			await expect(take(text, 'a.animations.json')).rejects.toThrow(/no keyframes|not known|moves a part/);
		},
	);
});
