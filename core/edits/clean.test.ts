import { expect, it } from 'vitest';
import { linear, ProjectBuilder, type KeyRow } from '../../demo/builder';
import { canClean, removeSpikes, smoothKeys } from './clean';

const trembling = (i: number) => 0.01 * Math.sin(i * i * 1.7);
const truth = (frame: number) => Math.sin(frame / 12);
const rows: KeyRow[] = Array.from({ length: 121 }, (_, i) => [
	i,
	truth(i) + trembling(i) + (i === 40 || i === 90 ? 0.6 : 0),
	linear,
]);
const doc = new ProjectBuilder('Hook', 'world', 60)
	.part('hook', { kind: 'empty' })
	.startClip('lower', 120)
	.keys('hook', 'translation.y', rows)
	.keys('hook', 'translation.x', [
		[0, 0, linear],
		[120, 1],
	])
	.build();
const [y, x] = ['y', 'x'].map((axis) => doc.channels[`lower/hook/translation/${axis}`]);
const all = new Map([x, y].map(({ id, keys }) => [id, new Set(keys.map(({ t }) => t))]));
const off = (of: typeof doc) =>
	of.channels[y.id].keys.map(({ t, v }) => Math.abs(v - truth((t * 60) / 72_000)));

it('takes spikes out of what is picked, and leaves the rest, and a channel of two keys, as it was', () => {
	const { doc: cleaned, removed } = removeSpikes(doc, all);
	expect(removed).toBe(2);
	expect(Math.max(...off(cleaned))).toBeLessThan(0.05);
	expect(cleaned.channels[x.id]).toBe(x);
	expect(cleaned.channels[y.id].keys.filter(({ v }, i) => v !== y.keys[i].v).length).toBe(2);
	const early = new Map([[y.id, new Set(y.keys.slice(0, 60).map(({ t }) => t))]]);
	expect(removeSpikes(doc, early).removed).toBe(1);
	expect(removeSpikes(cleaned, all)).toEqual({ doc: cleaned, removed: 0 });
});

it('smooths trembling away over a span, and nothing where keys are too far apart for it', () => {
	const { doc: cleaned } = removeSpikes(doc, all);
	const rms = (of: typeof doc) => Math.sqrt(off(of).reduce((sum, v) => sum + v * v, 0) / 121);
	const { doc: calm, largest } = smoothKeys(cleaned, all, 12 * 1200);
	expect(rms(calm)).toBeLessThan(0.65 * rms(cleaned));
	expect(largest).toBeLessThan(0.02);
	expect(smoothKeys(cleaned, all, 2 * 1200)).toEqual({ doc: cleaned, largest: 0 });
});

it('is for many keys of a number', () => {
	expect(canClean(doc, all)).toBe(true);
	expect(canClean(doc, new Map([[x.id, new Set([0, 144_000])]]))).toBe(false);
	expect(canClean(doc, new Map([['gone', new Set([1, 2, 3, 4, 5, 6, 7, 8])]]))).toBe(false);
});
