/** Pictures that move by themselves, as they come in: ours, and those of other people. */
import { strToU8 } from 'fflate';
import { describe, expect, it } from 'vitest';
import { makeParcelSlip } from '../../../demo/parcel-slip';
import { TICKS_PER_SECOND } from '../../../player/time';
import { worldMatrix } from '../../clip/path';
import { clipsInOrder, type Doc } from '../../document/types';
import { shownAt } from '../../testing';
import { takeIn } from '../loaders';
import { formatOf } from '../registry';
import { svgShipper } from './shipping';

async function take(text: string | Uint8Array, name = 'picture.svg') {
	const bytes = typeof text === 'string' ? strToU8(text) : text;
	const format = formatOf(bytes, name);
	expect(format?.id).toBe('svg');
	const taken = await takeIn(format, { bytes, name: name.replace(/\..*$/, ''), sha256: '' });
	if (!taken.ok) throw new Error(taken.problems[0].message);
	return taken.value;
}
const partNamed = (doc: Doc, name: string) => Object.values(doc.parts).find((part) => part.name === name)!;

/** Where a point of a part's drawing is in the picture, at a share of the first clip. */
function pointAt(doc: Doc, name: string, share: number, [x, y]: readonly number[] = [0, 0]): number[] {
	const clip = clipsInOrder(doc)[0];
	const { compiled, posed } = shownAt(doc, clip.id, share * clip.length);
	const m = worldMatrix(compiled, partNamed(doc, name).id, posed)!;
	return [m[0] * x + m[4] * y + m[12], m[1] * x + m[5] * y + m[13]];
}
const numberAt = (
	doc: Doc,
	name: string,
	share: number,
	property: 'opacity' | 'size' | 'radius',
	component = 'value',
) => {
	const clip = clipsInOrder(doc)[0];
	return shownAt(doc, clip.id, share * clip.length).number(
		partNamed(doc, name).id,
		property,
		component as never,
	);
};

describe('a picture of ours', () => {
	it.each(clipsInOrder(makeParcelSlip()).map((clip) => [clip.name, clip] as const))(
		'comes in as the same motion: %s',
		async (_, clip) => {
			const doc = makeParcelSlip();
			const shipped = await svgShipper.ship(doc, [clip], { bounds: { relative: 0.001 } });
			if (!/<animate/.test(new TextDecoder().decode(shipped.bytes))) return;
			const { doc: back } = await take(shipped.bytes);
			const twin = clipsInOrder(back)[0];
			const turns = clip.loop.mode === 'alternate' ? 2 : 1;
			const all = turns * (clip.length + (clip.loop.mode === 'once' ? 0 : clip.loop.pause));
			expect(twin.length / TICKS_PER_SECOND).toBeCloseTo(all / TICKS_PER_SECOND, 4);
			let looked = 0;
			for (const part of Object.values(doc.parts)) {
				const other = partNamed(back, part.name);
				if (!other) continue;
				expect(other.drawing.kind === 'empty').toBe(part.drawing.kind === 'empty');
				for (const share of [0.05, 0.31, 0.62, 0.97]) {
					// There and back a picture rests half a pause at each end.
					const before = clip.loop.mode === 'alternate' ? clip.loop.pause / 2 : 0;
					const there = shownAt(doc, clip.id, share * clip.length);
					const here = shownAt(back, twin.id, before + share * clip.length);
					const [a, b] = [
						worldMatrix(there.compiled, part.id, there.posed)!,
						worldMatrix(here.compiled, other.id, here.posed)!,
					];
					const room =
						1.5 *
						Math.max(
							...shipped.clips[0].tracks.map(({ bound, path }) => (path === 'translation' ? bound : 0)),
							0.02,
						);
					for (const k of [12, 13])
						expect(Math.abs(a[k] - b[k]), `${part.name} at ${share}`).toBeLessThan(room + 0.3);
					const [was, is] = [there.number(part.id, 'opacity'), here.number(other.id, 'opacity')];
					expect(Math.abs(was - is), part.name).toBeLessThan(0.01);
					looked++;
				}
			}
			expect(looked).toBeGreaterThan(20);
		},
	);
});

describe('a picture of anybody', () => {
	it('has groups and shapes as parts, with what moves them and as they hang on one another', async () => {
		const { doc, leftOut } = await take(`<?xml version="1.0"?>
			<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 200 100">
				<title>Boat</title>
				<g id="boat" transform="translate(20 30)" fill="#c8452c">
					<animateTransform attributeName="transform" type="translate" values="20 30; 60 30; 60 50" keyTimes="0; .5; 1" dur="2s" repeatCount="indefinite"/>
					<rect id="hull" x="-10" y="0" width="20" height="8" rx="2"/>
					<circle id="light" r="3" cy="-5" style="fill: rgb(255 200 0)">
						<animate attributeName="opacity" calcMode="discrete" values="1;0" dur="2s" repeatCount="indefinite"/>
						<animate attributeName="r" from="3" to="6" calcMode="spline" keySplines=".42 0 1 1" dur="2s" repeatCount="indefinite"/>
					</circle>
				</g>
				<path id="wheel" d="M 40 40 h 10 v 10 h -10 z" stroke="black" fill="none"/>
				<animateTransform xlink:href="#wheel" attributeName="transform" type="rotate" from="0 45 45" to="360 45 45" dur="2s" repeatCount="indefinite"/>
				<foreignObject/>
			</svg>`);
		expect(
			Object.values(doc.parts).map(({ name, parent }) => [name, parent && doc.parts[parent].name]),
		).toEqual([
			['boat', null],
			['hull', 'boat'],
			['light', 'boat'],
			['wheel', null],
		]);
		expect(partNamed(doc, 'light').colour).toBe('#ffc800');
		expect(partNamed(doc, 'hull').drawing).toMatchObject({
			kind: 'card',
			size: [20, 8, 0],
			radius: 2,
			offset: [0, 4, 0],
		});
		const close = (v: readonly number[]) => v.map((own) => expect.closeTo(own, 4));
		expect(pointAt(doc, 'hull', 0.25)).toEqual(close([40, 30]));
		expect(pointAt(doc, 'light', 0.75)).toEqual(close([60, 40]));
		expect([0.25, 0.75].map((t) => numberAt(doc, 'light', t, 'opacity'))).toEqual([1, 0]);
		expect(numberAt(doc, 'light', 0.5, 'size', 'x')).toBeCloseTo(6 + 6 * 0.315, 1);
		// A quarter turn about its own middle takes a corner to the next one.
		const corner = partNamed(doc, 'wheel').rest.translation.map((v, k) => (k === 0 ? 40 : 40) - v);
		expect(pointAt(doc, 'wheel', 0.25, corner)).toEqual(close([50, 40]));
		expect(clipsInOrder(doc)[0].loop).toMatchObject({ mode: 'repeat', count: null });
		expect(leftOut).toEqual(['<foreignObject>']);
	});

	it('grows from the corner that it is drawn from, unless that moves too', async () => {
		const { doc } = await take(`<svg xmlns="http://www.w3.org/2000/svg">
			<rect id="bar" x="10" y="0" width="40" height="10"><animate attributeName="width" values="40;100" dur="1s"/></rect>
			<rect id="both" x="-20" y="0" width="40" height="10"><animate attributeName="width" values="40;100" dur="1s"/><animate attributeName="x" values="-20;-50" dur="1s"/></rect>
			<rect id="slide" x="10" width="40" height="10"><set attributeName="visibility" to="hidden" begin="0.5s" dur="0.5s"/><animate attributeName="x" by="30" dur="1s" begin="click; .5s"/></rect>
		</svg>`);
		const left = (name: string, share: number) => {
			const { drawing } = partNamed(doc, name);
			return pointAt(doc, name, share, drawing.offset)[0] - numberAt(doc, name, share, 'size', 'x') / 2;
		};
		// The clip is as long as the last of them: a second and a half.
		expect(clipsInOrder(doc)[0].length / TICKS_PER_SECOND).toBeCloseTo(1.5, 5);
		expect([0, 1 / 3, 1].map((t) => left('bar', t))).toEqual([10, 10, 10].map((v) => expect.closeTo(v, 4)));
		expect([0, 2 / 3].map((t) => left('both', t))).toEqual([-20, -50].map((v) => expect.closeTo(v, 4)));
		expect(left('slide', 2 / 3)).toBeCloseTo(25, 4);
	});

	it.each([
		[
			'<svg xmlns="http://www.w3.org/2000/svg"><rect width="4" height="4"/></svg>',
			/Nothing in this picture moves/,
		],
		['<svg><g></svg>', /Line 1/],
		[`<svg>${'<g>'.repeat(300)}${'</g>'.repeat(300)}</svg>`, /deep|Maximum nested/],
		['<svg><!DOCTYPE x [<!ENTITY a "b">]></svg>', /./],
	])('in which nothing moves, or that is none, is refused: %s', async (text, message) => {
		await expect(take(text)).rejects.toThrow(message);
	});
});
