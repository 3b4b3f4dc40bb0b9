/** Style sheets and Web Animations as a browser computes them: at times beside the keys, against what the project shows. */
import type { Page } from '@playwright/test';
import { strFromU8 } from 'fflate';
import { readFileSync } from 'node:fs';
import { makeParcelSlip } from '../demo/parcel-slip';
import { eased, hold, linear, ProjectBuilder } from '../demo/builder';
import { colourIn, drawingIn, numberIn, orientationIn } from '../core/clip/layout';
import { shownAt } from '../core/testing';
import { clipsInOrder, type Clip, type Doc, type Part } from '../core/document/types';
import { webAnimations } from '../core/formats/animations/format';
import { webAnimationsShipper } from '../core/formats/animations/shipping';
import { clipFile } from '../core/formats/clips/format';
import { clipFileShipper } from '../core/formats/clips/shipping';
import { cssShipper } from '../core/formats/css/shipping';
import { identifier } from '../core/formats/css/identifier';
import { angleBetween, type Quaternion } from '../player/maths/quaternion';
import { expect, test } from '@playwright/test';

const REPEAT = { mode: 'repeat', count: null, pause: 0 } as const;

/** What the demo has not: turns about other axes, colours, switches, windows, lines, pauses, there and back. */
function everything(): Doc {
	const builder = new ProjectBuilder('Odd "ones" \\ and </style>', 'interface', 60)
		.part('flag', { kind: 'card', size: [80, 40, 0], radius: 4 })
		.part('2nd flag', { kind: 'card', size: [80, 40, 0], radius: 4 }, { at: [20, 10, 0] })
		.startClip('all of it', 60, { mode: 'alternate', count: 3, pause: 7200 })
		.keys('flag', 'rotation.x', [
			[0, 0, eased(0.5, 0.2)],
			[60, 80],
		])
		.keys('flag', 'rotation.y', [
			[0, -20],
			[30, 70],
			[60, 10],
		])
		.keys('flag', 'rotation.z', [
			[0, 0],
			[60, 150],
		])
		.keys('flag', 'size.x', [
			[0, 80, { kind: 'bounce', restitution: 0.5, count: 3 }],
			[60, 200],
		])
		.keys('flag', 'radius', [
			[0, 4, { kind: 'steps', count: 3, jump: 'jump-end' }],
			[60, 20],
		])
		.keys('flag', 'visible', [
			[0, 1, hold],
			[20, 0, hold],
			[25, 1, hold],
		])
		.keys('flag', 'reveal.left', [
			[10, 0, eased(0.3, 0.6)],
			[50, 0.75],
		])
		.keys('2nd flag', 'translation.x', [
			[0, 20, { kind: 'spring', mass: 1, stiffness: 120, damping: 9, velocity: 0, time: 'real' }],
			[40, 120, hold],
			[50, 60, linear],
			[60, 90],
		])
		.keys('2nd flag', 'translation.y', [
			[0, 10, { kind: 'family', family: 'elastic', way: 'out' }],
			[60, 60],
		]);
	builder.colours('flag', [
		[0, '#c8452c', eased(0.4, 0.4)],
		[40, '#2f6f8f', linear],
		[60, '#2f6f8f'],
	]);
	builder.startClip('round', 30, { ...REPEAT, pause: 12_000 }).keys('flag', 'opacity', [
		[0, 1, eased(0.5, 0.5)],
		[15, 0.2, eased(0.5, 0.5)],
		[30, 1],
	]);
	return builder.build();
}

type Read = Record<string, string>;
const PROPERTIES = [
	'translate',
	'rotate',
	'scale',
	'opacity',
	'visibility',
	'backgroundColor',
	'width',
	'borderRadius',
	'clipPath',
	'strokeDasharray',
	'strokeDashoffset',
];

/** What elements of a page have at a time of their animations. */
async function computed(page: Page, name: string, ms: number): Promise<Record<string, Read>> {
	return page.evaluate(
		([own, at, properties]) => {
			const root = document.getElementById('root')!;
			const { start } = window as unknown as { start?: (clip: string) => void };
			if (start) start(own);
			else root.className = own;
			return Object.fromEntries(
				[...root.querySelectorAll<HTMLElement>('[data-part]')].map((element) => {
					for (const animation of element.getAnimations()) {
						animation.pause();
						animation.currentTime = at;
					}
					const style = getComputedStyle(element) as unknown as Record<string, string>;
					return [element.dataset.part!, Object.fromEntries(properties.map((key) => [key, style[key]]))];
				}),
			);
		},
		[name, ms, PROPERTIES] as const,
	);
}

const numbers = (text: string) => (text.match(/-?[\d.]+(e-?\d+)?/g) ?? []).map(Number);
/** `z 20deg`, `20deg`, `0.1 0.2 0.3 20deg` or `none` as a quaternion. */
function turnOf(text: string): Quaternion {
	const found = numbers(text);
	const angle = ((found.at(-1) ?? 0) * Math.PI) / 360;
	const axis =
		found.length === 4
			? found.slice(0, 3)
			: [/^x/.test(text), /^y/.test(text), !/^[xy]/.test(text)].map(Number);
	const length = Math.hypot(...axis) || 1;
	return [...axis.map((v) => (v / length) * Math.sin(angle)), Math.cos(angle)] as Quaternion;
}

/** How far a part is off, as a share of the bound of each path that the sheet has of it. */
function shares(
	doc: Doc,
	clip: Clip,
	part: Part,
	t: number,
	read: Read,
	bounds: ReadonlyMap<string, number>,
	colourRounding: number,
) {
	const { posed } = shownAt(doc, clip.id, t);
	const at = (
		property: Parameters<typeof numberIn>[2],
		component: Parameters<typeof numberIn>[3] = 'value',
	) => numberIn(posed, part, property, component);
	const off: Record<string, () => number> = {
		translation: () =>
			Math.max(
				...['x', 'y'].map((axis, k) =>
					Math.abs(
						(numbers(read.translate)[k] ?? 0) - (at('translation', axis as 'x') - part.rest.translation[k]),
					),
				),
			),
		rotation: () => angleBetween(turnOf(read.rotate), orientationIn(posed, part)),
		scale: () => {
			const [x, y = x] = read.scale === 'none' ? [1] : numbers(read.scale);
			return Math.max(Math.abs(x - at('scale', 'x')), Math.abs(y - at('scale', 'y')));
		},
		opacity: () => Math.abs(Number(read.opacity) - at('opacity')),
		visible: () => Math.abs((read.visibility === 'visible' ? 1 : 0) - at('visible')),
		colour: () =>
			Math.max(
				...colourIn(posed, part)
					.slice(0, 3)
					.map((v, k) => Math.abs(v - numbers(read.backgroundColor)[k] / 255)),
			),
		size: () => Math.abs(numbers(read.width)[0] - (drawingIn(posed, part) as { size: number[] }).size[0]),
		radius: () => Math.abs(numbers(read.borderRadius)[0] - at('radius')),
		trim: () =>
			Math.max(
				Math.abs(-numbers(read.strokeDashoffset)[0] - at('trim', 'start')),
				Math.abs(numbers(read.strokeDasharray)[0] - (at('trim', 'end') - at('trim', 'start'))),
			),
		reveal: () => Math.abs((numbers(read.clipPath)[3] ?? 0) / 100 - at('reveal', 'left')),
	};
	/** What a browser rounds its own texts to. */
	const rounding: Record<string, number> = {
		colour: colourRounding,
		translation: 2e-3,
		size: 0.02,
		rotation: 2e-3,
	};
	return [...bounds].map(([path, bound]) => ({
		path,
		share: Math.max(0, off[path]() - (rounding[path] ?? 1e-5)) / bound,
	}));
}

const PLAYER = readFileSync('static/web/play-animations.js', 'utf8').replace('export ', '');

/** Lets a page play a clip of a file by its name. */
async function putIn(page: Page, format: 'css' | 'animations', bytes: Uint8Array): Promise<void> {
	const text = strFromU8(bytes);
	if (format === 'css') await page.addStyleTag({ content: text });
	else
		await page.addScriptTag({
			content: `{ ${PLAYER}
				window.start = (clip) => {
					document.getAnimations().forEach((animation) => animation.cancel());
					playAnimations(${text}, clip, document.getElementById('root'));
				};
			}`,
		});
}
const nameIn = { css: identifier, animations: (name: string) => name };
/** Half a step of what is read; scripts have their colours rounded to whole steps before they are mixed, too. */
const COLOUR_ROUNDING = { css: 0.5 / 255, animations: 1 / 255 };
const SHIPPERS = { css: cssShipper, animations: webAnimationsShipper };

for (const format of ['css', 'animations'] as const)
	for (const doc of [makeParcelSlip(), everything()])
		test(`${format} of “${doc.project.name}” moves elements as the project does, within its bounds`, async ({
			page,
		}) => {
			const clips = clipsInOrder(doc);
			const { bytes, clips: reports } = await SHIPPERS[format].ship(doc, clips, {});
			const parts = Object.values(doc.parts);
			await page.setContent('<div id="root"></div>');
			await putIn(page, format, bytes);
			await page.evaluate(
				(names) => {
					for (const name of names) {
						const own = document.createElement('div');
						own.dataset.part = name;
						own.style.cssText = 'position: absolute; width: 80px; height: 40px';
						document.getElementById('root')!.append(own);
					}
				},
				parts.map(({ name }) => name),
			);
			let looked = 0;
			for (const [i, clip] of clips.entries()) {
				const tracks = reports[i].tracks;
				for (let n = 0; n < 23; n++) {
					const t = clip.length * ((n + 0.37) / 23);
					const read = await computed(page, nameIn[format](clip.name), t / 72);
					for (const part of parts) {
						const own = new Map(
							tracks.filter((track) => track.part === part.name).map((track) => [track.path, track.bound]),
						);
						for (const { path, share } of shares(
							doc,
							clip,
							part,
							t,
							read[part.name],
							own,
							COLOUR_ROUNDING[format],
						)) {
							looked++;
							expect(share, `${clip.name} · ${part.name} · ${path} at ${t / 72_000} s`).toBeLessThanOrEqual(
								1,
							);
						}
					}
				}
			}
			expect(looked).toBeGreaterThan(150);
		});

test('Web Animations last and turn as the project does, and who wants calm sees the end', async ({
	page,
}) => {
	const doc = everything();
	const { bytes } = await webAnimationsShipper.ship(doc, clipsInOrder(doc), {});
	await page.setContent('<div id="root"><i data-part="flag">a</i><i data-part="2nd flag">b</i></div>');
	await putIn(page, 'animations', bytes);
	const [there, back] = [
		await computed(page, 'all of it', 600),
		await computed(page, 'all of it', 1000 + 100 + 400),
	];
	expect(back.flag).toEqual(there.flag);
	await page.emulateMedia({ reducedMotion: 'reduce' });
	const end = await page.evaluate(() => {
		const { start } = window as unknown as { start: (clip: string) => void };
		start('all of it');
		const own = document.querySelector('[data-part="flag"]')!;
		const width = getComputedStyle(own).width;
		start('round');
		return [width, getComputedStyle(own).opacity, own.getAnimations().length];
	});
	expect(end).toEqual(['200px', '1', 0]);
});

test('rounds, pauses and there and back last as long as they do in the project, and who wants calm gets it', async ({
	page,
}) => {
	const doc = everything();
	const { bytes } = await cssShipper.ship(doc, clipsInOrder(doc), {});
	await page.setContent('<div id="root"><i data-part="flag">a</i><i data-part="2nd flag">b</i></div>');
	await page.addStyleTag({ content: strFromU8(bytes) });
	// The second round of “all of it” runs backwards after a pause of 0.1 s: 0.4 s into it is 0.6 s of the clip.
	const [there, back] = [
		await computed(page, 'all-of-it', 600),
		await computed(page, 'all-of-it', 1000 + 100 + 400),
	];
	expect(back.flag).toEqual(there.flag);
	const start = await page.evaluate(
		() => getComputedStyle(document.querySelector('[data-part]')!).animationDelay,
	);
	expect(new Set(start.split(', '))).toEqual(new Set(['-0.05s']));
	const round = async (ms: number) => (await computed(page, 'round', ms)).flag.opacity;
	expect([await round(500), await round(600)]).toEqual(['1', '1']);
	expect(await round(250)).toBe(await round(250 + 500 + 166.66667));
	await page.emulateMedia({ reducedMotion: 'reduce' });
	expect((await computed(page, 'round', 250)).flag.opacity).toBe('1');
	expect((await computed(page, 'all-of-it', 1)).flag.width).toBe('200px');
});

for (const [format, shipper, file, files] of [
	[
		webAnimations,
		webAnimationsShipper,
		'slip.animations.json',
		{ 'play-animations.js': 'static/web/play-animations.js' },
	],
	[
		clipFile,
		clipFileShipper,
		'slip.clips.json',
		{
			'hillock-player.js': 'static/player/hillock-player.js',
			'hillock-player-dom.js': 'static/player/hillock-player-dom.js',
		},
	],
] as const)
	test(`the lines that Ship gives for a page play a ${format.name} file`, async ({ page }) => {
		const doc = makeParcelSlip();
		const clip = clipsInOrder(doc)[0];
		const { bytes } = await shipper.ship(doc, [clip], {});
		const lines = format.ships!.usage!.find(({ who }) => who === 'a page')!.lines(file, clip.name);
		const frame = lines.includes('player.advance')
			? 'requestAnimationFrame(function frame() { player.advance(0.016); show(player.pose); requestAnimationFrame(frame); });'
			: '';
		const bodies = new Map<string, string>([
			['/', `<div data-part="slip">slip</div><script type="module">${lines}\n${frame}</script>`],
			[`/${file}`, strFromU8(bytes)],
			...Object.entries(files).map(([name, at]): [string, string] => [`/${name}`, readFileSync(at, 'utf8')]),
		]);
		await page.route('http://page.test/**', (route) => {
			const { pathname } = new URL(route.request().url());
			const contentType = pathname.endsWith('.js')
				? 'text/javascript'
				: pathname.endsWith('.json')
					? 'application/json'
					: 'text/html';
			return bodies.has(pathname)
				? route.fulfill({ contentType, body: bodies.get(pathname) })
				: route.fulfill({ status: 404 });
		});
		await page.goto('http://page.test/');
		const translate = () =>
			page.evaluate(() => getComputedStyle(document.querySelector('[data-part]')!).translate);
		const seen = new Set<string>();
		// Often: it plays for less than a second.
		await expect.poll(async () => seen.add(await translate()).size, { intervals: [20] }).toBeGreaterThan(3);
	});
