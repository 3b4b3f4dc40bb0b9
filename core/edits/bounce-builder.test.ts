import fc from 'fast-check';
import { expect, it } from 'vitest';
import { compileCurve } from '../curve/compile';
import { evaluateCurve } from '../../player/curve/evaluate';
import { PLAYS_ONCE } from '../curve/handles';
import { makeQuay } from '../../demo/quay';
import { putChannels } from './put-channels';
import { channelId, type Component, type Doc, type Property } from '../document/types';
import { bounceTicks, buildBounce, keptAcross, type BounceSettings } from './bounce-builder';
import { curveOf } from '../clip/compile';
import { between } from '../../player/testing';

const SETTINGS: BounceSettings = {
	ground: 0,
	height: 3,
	foot: 0,
	angle: 0,
	turn: 0,
	fallFrames: 12,
	restitution: 0.6,
	bounces: 3,
	contactFrames: 2,
	squash: 0.4,
	scale: [1, 1, 1],
	start: -1,
	travel: 0.6,
	travelKept: 0.7,
	lingerFrames: 10,
};
const settings = fc.record<BounceSettings>({
	ground: fc.constant(0.5),
	height: between(0.2, 20),
	foot: fc.constant(0),
	angle: fc.constant(0),
	turn: fc.constant(0),
	fallFrames: fc.integer({ min: 3, max: 40 }),
	restitution: between(0.1, 0.95),
	bounces: fc.integer({ min: 0, max: 8 }),
	contactFrames: fc.integer({ min: 0, max: 4 }),
	squash: between(0, 0.9),
	scale: fc.tuple(between(0.2, 3), between(0.2, 3), between(0.2, 3)),
	start: fc.constant(0),
	travel: between(-3, 3),
	travelKept: between(0, 1),
	lingerFrames: fc.integer({ min: 0, max: 20 }),
});
const FRAME = 2400;

it('each rebound is lower and no longer than the one before, and all fall under one gravity', () => {
	fc.assert(
		fc.property(settings, (chosen) => {
			const [{ keys }] = buildBounce(chosen, 'sack', 'world', 30);
			const gravity = (2 * chosen.height) / (chosen.fallFrames * FRAME) ** 2;
			for (let i = 0; i + 1 < keys.length; i++) {
				const [a, b] = [keys[i], keys[i + 1]];
				if (a.shape.kind === 'hold') expect(b.v).toBe(a.v);
				else expect(Math.abs(b.v - a.v)).toBeCloseTo((gravity * (b.t - a.t) ** 2) / 2, 6);
				expect(b.t).toBeGreaterThan(a.t);
			}
			const tops = keys.filter((key) => key.shape.kind === 'fall').map((key) => key.v);
			for (let i = 1; i < tops.length; i++) expect(tops[i]).toBeLessThanOrEqual(tops[i - 1] + 1e-9);
			const curve = compileCurve(keys, { before: 'hold', after: 'hold' }, PLAYS_ONCE);
			for (let t = 0; t <= keys.at(-1)!.t; t += 700)
				expect(evaluateCurve(curve, t)).toBeGreaterThanOrEqual(0.5 - 1e-9);
		}),
	);
});

it('what is squashed keeps its volume at every key, on a screen its area', () => {
	const channels = buildBounce({ ...SETTINGS, scale: [2, 1, 0.5] }, 'sack', 'world', 30);
	const keysOf = (component: string) =>
		channels.find((c) => c.property === 'scale' && c.component === component)!.keys;
	keysOf('y').forEach((key, i) => expect(key.v * keysOf('x')[i].v * keysOf('z')[i].v).toBeCloseTo(1, 12));
	expect(Math.min(...keysOf('y').map((key) => key.v))).toBeCloseTo(0.6, 12);
	expect([keysOf('x')[0].v, keysOf('z')[0].v]).toEqual([2, 0.5]);
	expect(0.5 * keptAcross(0.5, 'interface')).toBe(1);
});

it('travel slows at each contact and lingers to a stop', () => {
	const { keys } = buildBounce(SETTINGS, 'sack', 'world', 30).find(
		(c) => c.component === 'x' && c.property === 'translation',
	)!;
	const speeds = keys.slice(1).map((key, i) => (key.v - keys[i].v) / (key.t - keys[i].t));
	for (let i = 1; i < speeds.length; i++) expect(speeds[i]).toBeLessThan(speeds[i - 1]);
	expect(keys[1].v).toBeCloseTo(-0.4, 12);
});

it('what is dropped is as tall as it is at rest until it falls, long before a contact and flat in it', () => {
	const { keys } = buildBounce({ ...SETTINGS, contactFrames: 2 }, 'sack', 'world', 30).find(
		(c) => c.property === 'scale' && c.component === 'y',
	)!;
	const [first, stretched, flat, sprung, atTop] = keys;
	expect([first.v, atTop.v, keys.at(-1)!.v]).toEqual([1, 1, 1]);
	expect(stretched.v).toBeGreaterThan(1);
	expect(flat.v).toBeCloseTo(1 - SETTINGS.squash, 12);
	expect(sprung.v).toBeGreaterThan(1);
	expect(sprung.v).toBeLessThan(stretched.v);
});

it('a pivot above the foot: the lowest point touches the ground, pressed or not, and is never below it', () => {
	fc.assert(
		fc.property(settings, between(0.1, 2), fc.integer({ min: 2, max: 5 }), (chosen, foot, contactFrames) => {
			const channels = buildBounce({ ...chosen, foot, contactFrames }, 'sack', 'world', 30);
			const read = (property: string) => {
				const keys = channels.find((own) => own.property === property && own.component === 'y')?.keys;
				const curve = keys && compileCurve(keys, { before: 'hold', after: 'hold' }, PLAYS_ONCE);
				return (t: number) =>
					curve ? evaluateCurve(curve, t) / (property === 'scale' ? chosen.scale[1] : 1) : 1;
			};
			const [y, size] = [read('translation'), read('scale')];
			const lowest = (t: number) => y(t) - foot * size(t);
			const first = chosen.fallFrames * FRAME;
			for (let t = first; t <= first + contactFrames * FRAME; t += 600) expect(lowest(t)).toBeCloseTo(0.5, 9);
			expect(lowest(0)).toBeCloseTo(0.5 + chosen.height, 9);
			const end = bounceTicks(channels);
			for (let t = first; t <= end; t += 900) expect(lowest(t)).toBeGreaterThan(0.5 - 1e-9);
			expect(lowest(end)).toBeCloseTo(0.5, 9);
		}),
	);
});

it('turns as it falls, less after each contact, and ends upright', () => {
	const { keys } = buildBounce({ ...SETTINGS, angle: 10, turn: 200 }, 'sack', 'world', 30).find(
		(own) => own.property === 'rotation',
	)!;
	expect([keys[0].v, keys[1].v, keys.at(-1)!.v]).toEqual([10, 210, 370]);
	const rates = keys.slice(1).map((key, i) => (key.v - keys[i].v) / (key.t - keys[i].t));
	const moving = rates.slice(0, -1).filter((rate) => rate !== 0);
	for (let i = 1; i < moving.length; i++) expect(moving[i]).toBeCloseTo(0.6 * moving[i - 1], 9);
	expect(rates[1]).toBe(0);
});

it('a body that slows evenly to a stop goes half as far as at its speed', () => {
	fc.assert(
		fc.property(settings, (chosen) => {
			fc.pre(Math.abs(chosen.travel) > 0.01 && chosen.lingerFrames > 0);
			const { keys } = buildBounce(chosen, 'sack', 'world', 30).find(
				(c) => c.component === 'x' && c.property === 'translation',
			)!;
			const [before, contact, stop] = keys.slice(-3);
			const speed = (contact.v - before.v) / (contact.t - before.t);
			const there = speed * chosen.travelKept * (stop.t - contact.t);
			expect(stop.v - contact.v).toBeCloseTo(there / 2, 6);
		}),
	);
});

it('on a screen, where y runs down, it falls down', () => {
	const [{ keys }] = buildBounce({ ...SETTINGS, ground: 500, height: 300 }, 'notice', 'interface', 60);
	expect([keys[0].v, keys[1].v]).toEqual([200, 500]);
});

it('dropped into a clip where it moves already, it does what the drop says and nothing else until its end', () => {
	const quay = makeQuay();
	const clip = quay.clips['sack-drop'];
	const t = 10 * FRAME;
	const idOf = (property: Property, component: Component) =>
		channelId(clip.id, 'mail-sack', property, component);
	const valueAt = (own: Doc, id: string, at: number) =>
		evaluateCurve(curveOf(own.channels[id], own.clips[clip.id]), at);
	const y = idOf('translation', 'y');
	const settings = { ...SETTINGS, height: valueAt(quay, y, t) - SETTINGS.ground };
	const drop = buildBounce(settings, 'mail-sack', 'world', quay.project.frameRate);
	const doc = putChannels(quay, clip, drop, t).doc;
	const end = t + bounceTicks(drop);
	expect(doc.clips[clip.id].length).toBe(Math.max(clip.length, end));
	for (const { property, component, keys } of drop) {
		const id = idOf(property, component);
		const after = doc.channels[id]?.keys.filter((key) => key.t >= t && key.t <= end);
		// A formula computes the scale along x, from what is dropped.
		if (id === idOf('scale', 'x')) expect(doc.channels[id]).toBe(quay.channels[id]);
		else expect(after.map((key) => [key.t - t, key.v])).toEqual(keys.map((key) => [key.t, key.v]));
	}
	for (const at of [0, 0.2 * t, 0.55 * t, 0.95 * t])
		expect(valueAt(doc, y, at)).toBeCloseTo(valueAt(quay, y, at), 9);
});
