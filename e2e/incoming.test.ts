/** What other people write for pages, taken in: compared with what Chromium itself makes of it. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { worldMatrix } from '../core/clip/path';
import { readProjectFile } from '../core/formats/project/file';
import { clipsInOrder, type Doc } from '../core/document/types';
import { shownAt } from '../core/testing';
import { TICKS_PER_SECOND } from '../player/time';
import { saved, storedDoc } from './compose';
import { expect, test } from './server';

/** Reads a file by the command line, as a project. */
function taken(name: string, text: string): { doc: Doc; told: string } {
	const folder = mkdtempSync(join(tmpdir(), 'hillock-incoming-'));
	try {
		writeFileSync(join(folder, name), text);
		const out = join(folder, 'out.hillock.json');
		const told = execFileSync(
			process.execPath,
			['bin/hillock.js', 'import', join(folder, name), '--out', out],
			{
				encoding: 'utf8',
			},
		);
		const read = readProjectFile(readFileSync(out, 'utf8'));
		if (!read.ok) throw new Error(read.problems[0].message);
		return { doc: read.value, told };
	} finally {
		rmSync(folder, { recursive: true });
	}
}

const SHEET = `
:root { --slow: 700ms; --bounce: linear(0, 0.25 20%, 1 45%, 0.8 60%, 1) }
.card, .dot, .bar, .toast { position: absolute; left: 0; top: 0; width: 80px; height: 40px; background: #2f6f8f }
@keyframes enter {
	from { transform: translate(-60px, 50%) rotate(-12deg) scale(.6); opacity: 0 }
	35% { opacity: 1; animation-timing-function: cubic-bezier(.3, -.4, .7, 1.4) }
	80% { transform: translate(10px, 0) rotate(4deg) scale(1.05) }
	to { transform: translate(0, 0) rotate(0) scale(1) }
}
@keyframes tint { 50% { background-color: rgb(200 69 44 / 50%) } to { background-color: #3f6b4f } }
@keyframes orbit { to { rotate: 1turn; translate: 0 30px } }
@keyframes steps { from { translate: 0 } to { translate: 100px; opacity: 20% } }
.card { animation: enter var(--slow) ease-out both, tint 350ms 2 alternate both }
.dot { animation: orbit 1.4s ease-in-out infinite alternate-reverse }
.bar { animation-name: steps; animation-duration: .9s; animation-timing-function: steps(4, jump-both); animation-delay: 100ms; animation-fill-mode: both }
`;

interface Seen {
	matrix: number[];
	opacity: number;
	colour: number[];
}

/** What the page shows of an element at a time. */
function seenIn(page: Page, selector: string, seconds: number): Promise<Seen> {
	return page.evaluate(
		([wanted, at]) => {
			const element = document.querySelector(wanted as string)!;
			for (const animation of element.getAnimations()) {
				animation.pause();
				animation.currentTime = (at as number) * 1000;
			}
			const style = getComputedStyle(element);
			const moved = style.translate === 'none' ? [0, 0] : style.translate.split(' ').map(parseFloat);
			const matrix = new DOMMatrix()
				.translate(moved[0], moved[1] ?? 0)
				.rotate(style.rotate === 'none' ? 0 : parseFloat(style.rotate))
				.multiply(new DOMMatrix(style.transform === 'none' ? '' : style.transform));
			const { a, b, c, d, e, f } = matrix;
			return {
				matrix: [a, b, c, d, e, f],
				opacity: Number(style.opacity),
				colour: style.backgroundColor.match(/[\d.]+/g)!.map(Number),
			};
		},
		[selector, seconds] as const,
	);
}

test('a style sheet of anybody comes in as what Chromium plays', async ({ page }) => {
	const { doc, told } = taken('page.css', SHEET);
	expect(told).not.toMatch(/left out/);
	await page.setContent(`<style>${SHEET}</style><i class="card"></i><i class="dot"></i><i class="bar"></i>`);
	const clips = clipsInOrder(doc);
	expect(clips.map(({ name }) => name)).toEqual(['enter', 'orbit', 'steps']);
	const off: string[] = [];
	for (const [clipName, selector] of [
		['enter', 'card'],
		['orbit', 'dot'],
		['steps', 'bar'],
	]) {
		const clip = clips.find(({ name }) => name === clipName)!;
		const part = Object.values(doc.parts).find(({ name }) => name === selector)!;
		for (let i = 0; i < 23; i++) {
			const seconds = ((i + 0.37) / 23) * (clip.length / TICKS_PER_SECOND);
			const { compiled, posed, number } = shownAt(doc, clip.id, seconds * TICKS_PER_SECOND);
			const m = worldMatrix(compiled, part.id, posed)!;
			const [x, y] = part.rest.translation;
			const ours = [m[0], m[1], m[4], m[5], m[12] - x, m[13] - y];
			const seen = await seenIn(page, `.${selector}`, seconds);
			const errors = ours.map((v, k) => Math.abs(v - seen.matrix[k]));
			const fade = Math.abs(number(part.id, 'opacity') - seen.opacity);
			if (Math.max(...errors.slice(0, 4), fade) > 0.003 || Math.max(...errors.slice(4)) > 0.1)
				off.push(
					`${clipName} at ${seconds.toFixed(3)}: ${ours.map((v) => v.toFixed(3))} | ${seen.matrix.map((v) => v.toFixed(3))} | ${fade}`,
				);
		}
	}
	expect(off).toEqual([]);
});

const PICTURE = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 200 100" width="200" height="100">
	<g id="boat" transform="translate(20 30) rotate(5)">
		<animateTransform attributeName="transform" type="translate" values="20 30; 60 30; 60 50" keyTimes="0; .3; 1" calcMode="spline" keySplines=".2 0 .4 1; .5 .5 1 1" dur="2s" fill="freeze"/>
		<rect id="hull" x="-10" y="0" width="20" height="8">
			<animate attributeName="width" values="20;50;30" dur="1s" repeatCount="2" fill="freeze"/>
			<animate attributeName="opacity" from="1" to="0.2" begin="0.5s" dur="1s" fill="freeze"/>
		</rect>
	</g>
	<path id="wheel" d="M 40 40 h 10 v 10 h -10 z" transform="translate(3 4)"/>
	<circle id="lamp" cx="30" cy="70" r="5">
		<animateTransform attributeName="transform" type="rotate" from="0 45 45" to="-270 45 45" dur="1.5s" fill="freeze"/>
		<animate attributeName="cx" values="30; 90; 10" dur="2s" fill="freeze"/>
	</circle>
</svg>`;

test('a picture of anybody comes in as what Chromium plays', async ({ page }) => {
	const { doc } = taken('boat.svg', PICTURE);
	await page.setContent(PICTURE);
	const [clip] = clipsInOrder(doc);
	const off: string[] = [];
	for (const name of ['hull', 'lamp']) {
		const part = Object.values(doc.parts).find((own) => own.name === name)!;
		for (let i = 0; i < 17; i++) {
			const seconds = ((i + 0.37) / 17) * (clip.length / TICKS_PER_SECOND);
			const { compiled, posed, number } = shownAt(doc, clip.id, seconds * TICKS_PER_SECOND);
			const m = worldMatrix(compiled, part.id, posed)!;
			const [dx, dy] = part.drawing.offset;
			const width = number(part.id, 'size', 'x');
			const middle = [m[0] * dx + m[4] * dy + m[12], m[1] * dx + m[5] * dy + m[13]];
			const seen = await page.evaluate(
				([id, at]) => {
					const svg = document.querySelector('svg')!;
					svg.pauseAnimations();
					svg.setCurrentTime(at as number);
					const shape = document.getElementById(id as string) as unknown as SVGGraphicsElement;
					// The screen counts from the page's edge, the picture from its own.
					const origin = svg.getScreenCTM()!;
					const own = origin.inverse().multiply(shape.getScreenCTM()!);
					const box = shape.getBBox();
					const point = new DOMPoint(box.x + box.width / 2, box.y + box.height / 2).matrixTransform(own);
					return {
						middle: [point.x, point.y],
						width: box.width,
						opacity: Number(getComputedStyle(shape).opacity),
					};
				},
				[name, seconds] as const,
			);
			const far = Math.hypot(middle[0] - seen.middle[0], middle[1] - seen.middle[1]);
			if (
				far > 0.05 ||
				Math.abs(width - seen.width) > 0.05 ||
				Math.abs(number(part.id, 'opacity') - seen.opacity) > 0.005
			)
				off.push(
					`${name} at ${seconds.toFixed(3)}: ${middle} ${width} | ${seen.middle} ${seen.width} ${seen.opacity}`,
				);
		}
	}
	expect(off).toEqual([]);
});

test('a recording comes in as a table and becomes few keys: spikes out, smoothed, reduced', async ({
	server,
	app,
}) => {
	const rows = Array.from({ length: 241 }, (_, i) => {
		const seconds = i / 60;
		const tremble = 0.02 * Math.sin(i * i * 1.7) + ([37, 90, 160, 201].includes(i) ? 0.5 : 0);
		return `${seconds.toFixed(5)},${(2 + Math.sin(2.2 * seconds) + tremble).toFixed(5)}`;
	});
	await app.goto(server.address);
	await app.getByLabel('project file').setInputFiles({
		name: 'hook.csv',
		mimeType: 'text/csv',
		buffer: Buffer.from(`time,hook pos y\n${rows.join('\n')}\n`),
	});
	await app.getByRole('link', { name: /^hook/ }).click();
	await app.getByRole('button', { name: /^lane .*translation y$/ }).click();
	await app.keyboard.press('Control+a');
	await app.getByRole('button', { name: 'Remove spikes' }).click();
	await expect(app.getByText('4 spikes removed')).toBeVisible();
	await app.getByRole('button', { name: 'Smooth over' }).click();
	await expect(app.getByText(/^Smoothed: no key moved by more than/)).toBeVisible();
	await app.getByRole('button', { name: 'Reduce keys' }).click();
	await saved(app);
	const [channel] = Object.values((await storedDoc(server, 'hook')).channels);
	expect(channel.keys.length).toBeLessThanOrEqual(12);
	for (const { t, v } of channel.keys)
		expect(Math.abs(v - 2 - Math.sin((2.2 * t) / 72_000))).toBeLessThan(0.06);
	for (let undone = 0; undone < 3; undone++) await app.keyboard.press('Control+z');
	await saved(app);
	expect(Object.values((await storedDoc(server, 'hook')).channels)[0].keys).toHaveLength(241);
});
