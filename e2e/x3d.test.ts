/** Scenes of X3D as two viewers of the standard play them: what their interpolators say between the keys. */
import { existsSync, readFileSync } from 'node:fs';
import { extname, join } from 'node:path';
import type { Page } from '@playwright/test';
import { makeParcelSlip } from '../demo/parcel-slip';
import { makeQuay } from '../demo/quay';
import { compileClip } from '../core/clip/compile';
import { clipsInOrder, type Doc } from '../core/document/types';
import { x3dShipping } from '../core/formats/x3d/shipping';
import { defsOf } from '../core/formats/x3d/defs';
import { shipClips, uniqueNames, type Prepared } from '../core/tracks/ship';
import { tracksOf } from '../core/tracks/track';
import { angleBetween } from '../player/maths/quaternion';
import { TICKS_PER_SECOND } from '../player/time';
import { expect, test } from './server';

const TYPES: Readonly<Record<string, string>> = {
	'.js': 'text/javascript',
	'.mjs': 'text/javascript',
	'.css': 'text/css',
	'.json': 'application/json',
};

/** Serves a page and the files of a package to it; nothing else is asked for. */
async function openWith(page: Page, folder: string, html: string, type: string): Promise<void> {
	await page.route('http://viewer.test/**', (route) => {
		const { pathname } = new URL(route.request().url());
		if (pathname === '/') return route.fulfill({ contentType: type, body: html });
		const file = join('node_modules', folder, decodeURIComponent(pathname));
		if (!existsSync(file)) return route.fulfill({ status: 404, body: '' });
		return route.fulfill({
			contentType: TYPES[extname(file)] ?? 'application/octet-stream',
			body: readFileSync(file),
		});
	});
	await page.goto('http://viewer.test/');
}

interface Look {
	def: string;
	fraction: number;
}

/** What a scene must say: of each track its interpolator, places between keys, and the truth there. */
function truthOf(doc: Doc) {
	const clips = clipsInOrder(doc);
	const terms = x3dShipping.terms(doc);
	const names = uniqueNames(Object.values(doc.parts));
	const defs = defsOf({
		parts: Object.values(doc.parts),
		partNames: names,
		clips: clips.map((clip) => ({ clip })),
	} as unknown as Prepared);
	return clips.flatMap((clip) => {
		const { loop } = clip;
		return tracksOf(doc, compileClip(doc, clip), terms).tracks.flatMap((track) => {
			const pause = loop.mode !== 'once' && loop.count === null ? loop.pause : 0;
			const period = track.source.end + pause;
			return Array.from({ length: 9 }, (_, i) => {
				const fraction = (i + 0.37) / 9.5;
				const t = fraction * period;
				const value = new Float64Array(track.source.size);
				track.source.evaluate(Math.min(t, track.source.end), value);
				// Beside a jump nobody tells before from after.
				const isAtJump = track.source.pieces.some(
					(piece) => piece.jump && Math.abs(piece.t - t) < 1e-3 * TICKS_PER_SECOND,
				);
				return isAtJump ? [] : [{ id: track.id, def: defs.track(track.id), fraction, value: [...value] }];
			}).flat();
		});
	});
}

/** Degrees, or units, by which what a viewer says is off the truth. */
function offBy(seen: readonly number[], truth: readonly number[]): number {
	if (truth.length === 4 && seen.length === 4) {
		const [x, y, z, angle] = seen;
		const sine = Math.sin(angle / 2) / (Math.hypot(x, y, z) || 1);
		return angleBetween([x * sine, y * sine, z * sine, Math.cos(angle / 2)], truth);
	}
	return Math.max(...truth.map((v, k) => Math.abs(v - seen[k])));
}

/** What is used of the viewers, which have no types of their own here. */
interface Fields {
	set_fraction: number;
	value_changed: number | Iterable<number>;
}
interface SceneOf {
	getNamedNode(def: string): Fields;
}
interface Viewed {
	X3D: {
		getBrowser(): {
			createX3DFromString(text: string): Promise<SceneOf>;
			replaceWorld(scene: SceneOf): Promise<void>;
		};
	};
	scene: SceneOf;
}
interface Triple {
	x: number;
	y: number;
	z: number;
}
type Value =
	number | Triple | { r: number; g: number; b: number } | { w: number; toAxisAngle(): [Triple, number] };
interface Drawn extends Element {
	_x3domNode?: { _vf: { set_fraction: number; value_changed: Value }; fieldChanged(field: string): void };
}

const VIEWERS: Readonly<
	Record<
		string,
		{
			open: (page: Page, text: string) => Promise<void>;
			look: (page: Page, all: Look[]) => Promise<number[][]>;
		}
	>
> = {
	x_ite: {
		async open(page, text) {
			const html = `<!doctype html><script type="module">import X3D from '/dist/x_ite.mjs'; window.X3D = X3D;</script><x3d-canvas></x3d-canvas>`;
			await openWith(page, 'x_ite', html, 'text/html');
			await page.waitForFunction(() => 'X3D' in window);
			await page.evaluate(async (source) => {
				const viewed = window as unknown as Viewed;
				const browser = viewed.X3D.getBrowser();
				const scene = await browser.createX3DFromString(source);
				await browser.replaceWorld(scene);
				viewed.scene = scene;
			}, text);
		},
		look: (page, all) =>
			page.evaluate(async (looks) => {
				const { scene } = window as unknown as Viewed;
				const seen: number[][] = looks.map(() => []);
				// One place of all at a time.
				for (const fraction of new Set(looks.map((own) => own.fraction))) {
					const now = looks.flatMap((own, i) =>
						own.fraction === fraction ? [{ i, node: scene.getNamedNode(own.def) }] : [],
					);
					for (const { node } of now) node.set_fraction = fraction;
					// Events run before the next picture.
					await new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve)));
					for (const { i, node } of now) {
						const value = node.value_changed;
						seen[i] = typeof value === 'number' ? [value] : Array.from(value as Iterable<number>);
					}
				}
				return seen;
			}, all),
	},
	x3dom: {
		async open(page, text) {
			const scene = text.slice(text.indexOf('<X3D'));
			const html = `<html xmlns="http://www.w3.org/1999/xhtml"><head><script src="/x3dom.js"></script></head><body>${scene.replace('<X3D ', '<X3D width="300px" height="200px" ')}</body></html>`;
			await openWith(page, 'x3dom', html, 'application/xhtml+xml');
			await page.waitForFunction(() =>
				Boolean((document.querySelector('Transform') as Drawn | null)?._x3domNode),
			);
		},
		look: (page, all) =>
			page.evaluate((looks) => {
				const byDef = new Map(
					[...document.querySelectorAll('[DEF]')].map((node) => [node.getAttribute('DEF')!, node as Drawn]),
				);
				return looks.map(({ def, fraction }) => {
					const node = byDef.get(def)!._x3domNode!;
					node._vf.set_fraction = fraction;
					node.fieldChanged('set_fraction');
					const value = node._vf.value_changed;
					if (typeof value === 'number') return [value];
					if ('w' in value) {
						const [axis, angle] = value.toAxisAngle();
						return [axis.x, axis.y, axis.z, angle];
					}
					return 'r' in value ? [value.r, value.g, value.b] : [value.x, value.y, value.z];
				});
			}, all),
	},
};

for (const [viewer, { open, look }] of Object.entries(VIEWERS))
	for (const [name, doc] of [
		['Quay', makeQuay()],
		['Parcel slip', makeParcelSlip()],
	] as const)
		test(`${viewer} plays the scene of ${name} within its bounds`, async ({ page }) => {
			const { bytes, clips } = await shipClips(x3dShipping, doc, clipsInOrder(doc));
			const bounds = new Map(
				clips.flatMap(({ tracks }) => tracks.map(({ id, bound }) => [id, bound] as const)),
			);
			await open(page, new TextDecoder().decode(bytes));
			const truth = truthOf(doc);
			expect(truth.length).toBeGreaterThan(80);
			const seen = await look(
				page,
				truth.map(({ def, fraction }) => ({ def, fraction })),
			);
			const unit = doc.project.space === 'interface' ? 0.01 : 1;
			const off = truth.flatMap(({ id, fraction, value }, i) => {
				const isPlace = id.endsWith('/translation');
				// Bounds are told in the project's units; viewers count in float32.
				const bound = bounds.get(id)! * (isPlace ? unit : 1) * 1.02 + 2e-5;
				const error = offBy(seen[i], value);
				return error <= bound
					? []
					: [`${id} at ${fraction.toFixed(3)}: ${seen[i]} for ${value}, ${error} over ${bound}`];
			});
			expect(off).toEqual([]);
		});
