/** SVG as a browser plays it: where parts stand at times beside the keys, and what they look like, against the project. */
import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { strFromU8 } from 'fflate';
import { colourIn } from '../core/clip/layout';
import { worldMatrix } from '../core/clip/path';
import { clipsInOrder, type Doc } from '../core/document/types';
import { svgShipper } from '../core/formats/svg/shipping';
import { shownAt } from '../core/testing';
import { eased, hold, linear, ONCE, ProjectBuilder } from '../demo/builder';
import { makeParcelSlip } from '../demo/parcel-slip';
import { TICKS_PER_SECOND } from '../player/time';

/** What the demo has not. */
function odd(): Doc {
	const builder = new ProjectBuilder('Odd <&> "--"', 'interface', 60)
		.part('flag', { kind: 'card', size: [80, 40, 0], radius: 4 }, { at: [30, 20, 0] })
		.part(
			'leaf & "stalk"',
			{ kind: 'ellipse', size: [20, 10, 0], stroke: { width: 2, colour: '#123456', start: 0, end: 1 } },
			{ parent: 'flag', at: [10, 5, 0] },
		)
		.startClip('there and back', 60, { mode: 'alternate', count: 4, pause: 7200 })
		.keys('flag', 'translation.x', [
			[0, 30, { kind: 'bezier', x1: 0.3, y1: 0, x2: 0.2, y2: 1 }],
			[40, 120, { kind: 'spring', mass: 1, stiffness: 120, damping: 9, velocity: 0, time: 'fitted' }],
			[60, 60],
		])
		.keys('flag', 'rotation.z', [
			[0, -20, { kind: 'bezier', x1: 0.5, y1: -0.5, x2: 0.5, y2: 1.5 }],
			[60, 400],
		])
		.keys('flag', 'scale.x', [
			[0, 1, hold],
			[30, 2, linear],
			[60, 0.5],
		])
		.keys('flag', 'visible', [
			[0, 1, hold],
			[20, 0, hold],
			[25, 1, hold],
		])
		.keys('leaf & "stalk"', 'size.x', [
			[0, 20, eased(0.4, 0.2)],
			[60, 60],
		])
		.keys('leaf & "stalk"', 'opacity', [
			[0, 1, { kind: 'family', family: 'elastic', way: 'out' }],
			[60, 0.2],
		]);
	builder.colours('flag', [
		[0, '#c8452c', eased(0.4, 0.4)],
		[40, '#2f6f8f', linear],
		[60, '#2f6f8f'],
	]);
	return builder.build();
}

interface Seen {
	matrix: number[];
	opacity: number;
	visibility: string;
	fill: string;
	rx: number;
}
/** What each part's own drawing has at a time of the picture. */
function look(page: Page, seconds: number): Promise<Record<string, Seen>> {
	return page.evaluate((at) => {
		const svg = document.querySelector('svg')!;
		svg.pauseAnimations();
		svg.setCurrentTime(at);
		return Object.fromEntries(
			[...svg.querySelectorAll<SVGGElement>('g[data-part]')].map((group) => {
				let inner: SVGGElement = group;
				// Its own groups: turning, growing, and the window through which it is seen.
				for (;;) {
					const next: SVGGElement | undefined = [...inner.children].find(
						(child): child is SVGGElement => child.tagName === 'g' && !(child as SVGElement).dataset.part,
					);
					if (!next) break;
					inner = next;
				}
				const { a, b, c, d, e, f } = inner.getCTM()!;
				const shape = [...inner.children].find((child) =>
					['rect', 'ellipse', 'path', 'text'].includes(child.tagName),
				);
				const style = getComputedStyle(group);
				return [
					group.dataset.part!,
					{
						matrix: [a, b, c, d, e, f],
						opacity: Number(style.opacity),
						visibility: style.visibility,
						fill: shape ? getComputedStyle(shape).fill : '',
						rx: shape instanceof SVGEllipseElement ? shape.rx.animVal.value : 0,
					},
				];
			}),
		);
	}, seconds);
}

for (const doc of [makeParcelSlip(), odd()])
	test(`each clip of “${doc.project.name}” moves as the project does`, async ({ page }) => {
		let looked = 0;
		const off: object[] = [];
		for (const clip of clipsInOrder(doc)) {
			const { bytes, clips } = await svgShipper.ship(doc, [clip], {});
			await page.setContent(`<style>body { margin: 0 }</style>${strFromU8(bytes)}`);
			const shift = (await look(page, 0))[
				Object.values(doc.parts).find(({ parent }) => parent === null)!.name
			];
			expect(shift).toBeDefined();
			const [vx, vy] = await page.evaluate(() => {
				const { x, y } = document.querySelector('svg')!.viewBox.baseVal;
				return [x, y];
			});
			for (let i = 0; i < 17; i++) {
				const t = clip.length * ((i + 0.37) / 17);
				const { posed, compiled, number } = shownAt(doc, clip.id, t);
				const seen = await look(page, t / TICKS_PER_SECOND);
				for (const part of Object.values(doc.parts)) {
					const own = seen[part.name];
					const m = worldMatrix(compiled, part.id, posed)!;
					const meant = [m[0], m[1], m[4], m[5], m[12] - vx, m[13] - vy];
					const opacity = Math.min(1, Math.max(0, number(part.id, 'opacity')));
					const isHidden = number(part.id, 'visible') < 0.5;
					if (
						meant.some((v, k) => Math.abs(own.matrix[k] - v) > (k < 4 ? 0.02 : 1)) ||
						Math.abs(own.opacity - opacity) > 2e-3 ||
						(isHidden && own.visibility !== 'hidden')
					)
						off.push({
							clip: clip.name,
							part: part.name,
							seconds: t / TICKS_PER_SECOND,
							own,
							meant,
							opacity,
						});
					looked++;
				}
				if (doc.parts.flag) {
					const meant = colourIn(posed, doc.parts.flag);
					const fill = (seen.flag.fill.match(/[\d.]+/g) ?? []).map(Number);
					fill.forEach((v, k) => expect(Math.abs(v / 255 - meant[k])).toBeLessThan(1 / 255 + 1e-3));
					const leaf = Object.values(doc.parts).find(({ name }) => name.startsWith('leaf'))!;
					expect(Math.abs(seen[leaf.name].rx - number(leaf.id, 'size', 'x') / 2)).toBeLessThan(0.05);
				}
			}
			expect(clips[0].tracks.length).toBeGreaterThan(0);
		}
		expect(off).toEqual([]);
		expect(looked).toBeGreaterThan(30);
	});

test('an SVG turns back, pauses and comes to rest as its clip does', async ({ page }) => {
	const doc = odd();
	const [clip] = clipsInOrder(doc);
	const { bytes } = await svgShipper.ship(doc, [clip], {});
	await page.setContent(strFromU8(bytes));
	// A round of a second, a tenth of a pause; the second one runs backwards.
	const [there, back] = [await look(page, 0.6), await look(page, 1 + 0.1 + 0.4)];
	for (const [name, own] of Object.entries(back)) {
		own.matrix.forEach((v, k) => expect(v).toBeCloseTo(there[name].matrix[k], 2));
		expect(own.fill).toBe(there[name].fill);
	}
	const end = await look(page, 10);
	const start = await look(page, 0);
	end.flag.matrix.forEach((v, k) => expect(v).toBeCloseTo(start.flag.matrix[k], 2));
});

test('what SVG cannot say is told, and never written by halves', async () => {
	const doc = new ProjectBuilder('Space', 'interface', 60)
		.part('card', { kind: 'card', size: [80, 40, 0], radius: 4 })
		.startClip('turn', 60, ONCE)
		.keys('card', 'rotation.y', [
			[0, 0],
			[60, 90],
		])
		.keys('card', 'rotation.z', [
			[0, 0],
			[60, 10],
		])
		.build();
	const { bytes, clips } = await svgShipper.ship(doc, clipsInOrder(doc), {});
	expect(clips[0].leftOut).toEqual([
		{ part: 'card', what: 'rotation', why: 'SVG turns about one axis: this turns in space' },
	]);
	expect(clips[0].tracks).toEqual([]);
	expect(strFromU8(bytes)).not.toContain('<animate');
	await expect(svgShipper.ship(makeParcelSlip(), clipsInOrder(makeParcelSlip()), {})).rejects.toThrow(
		/choose one/,
	);
});
