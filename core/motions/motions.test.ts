import { describe, expect, it } from 'vitest';
import { ProjectBuilder } from '../../demo/builder';
import { secondsToTicks } from '../../player/time';
import { writeProjectFile, readProjectFile } from '../formats/project/file';
import { channelId, type Component, type Doc, type Property } from '../document/types';
import type { Motion } from '../document/motions';
import {
	amountsOf,
	comesBack,
	distanceOn,
	motionKeys,
	putMotion,
	shownValue,
	type MotionAmounts,
} from './put';
import { checkClip } from '../check/check';
import { emptyDoc } from '../document/types';
import { BEGINNINGS, begin } from './beginnings';
import { STARTER_MOTIONS } from './starter';
import { takeMotion } from './take';

const FRAME = 1200;

function project(space: 'world' | 'interface'): Doc {
	const p = new ProjectBuilder('Quay', space, 60);
	const unit = space === 'world' ? 1 : 100;
	p.part('crate', { kind: 'card', size: [2 * unit, unit, 0], radius: 0, offset: [0, 0, 0] } as never);
	p.part('barrel', { kind: 'card', size: [unit, unit, 0], radius: 0, offset: [0, 0, 0] } as never);
	p.startClip('loading', 60);
	return p.build();
}
const ids = (doc: Doc) =>
	['crate', 'barrel'].map((name) => Object.values(doc.parts).find((p) => p.name === name)!.id);
const motionOf = (name: string) => STARTER_MOTIONS.find(({ motion }) => motion.name === name)!.motion;

/** The document with a motion put on parts, checked as any file is. */
function put(doc: Doc, parts: string[], motion: Motion, t: number, own: Partial<MotionAmounts> = {}): Doc {
	const clip = Object.keys(doc.clips)[0];
	const next = putMotion(doc, clip, parts, motion, { ...amountsOf(motion, FRAME), ...own }, t).doc;
	expect(readProjectFile(writeProjectFile(next))).toMatchObject({ ok: true });
	return next;
}
function shows(doc: Doc, part: string, property: Property, component: Component, t: number): number {
	const clip = Object.values(doc.clips)[0];
	return shownValue(doc, clip, doc.parts[part], property, component, t);
}

describe.each(['world', 'interface'] as const)(
	'motions to start from, in a project of the space %s',
	(space) => {
		it.each(STARTER_MOTIONS.map(({ motion }) => [motion.name, motion] as const))('%s', (_, motion) => {
			const doc = project(space);
			const [crate] = ids(doc);
			const t = 10 * FRAME;
			const next = put(doc, [crate], motion, t);
			const { length } = amountsOf(motion, FRAME);
			const end = t + length;
			const clip = Object.values(next.clips)[0];
			expect(clip.length).toBe(Math.max(60 * FRAME, end));
			const moved = Object.values(next.channels);
			expect(moved.length).toBeGreaterThan(0);
			for (const { property, component, keys } of moved) {
				const rest = shownValue(doc, clip, doc.parts[crate], property, component, 0);
				const values = Array.from({ length: 200 }, (_, i) =>
					shows(next, crate, property, component, t + ((end - t) * i) / 199),
				);
				// It does something, and what is a factor or a share never turns over.
				expect(Math.max(...values.map((v) => Math.abs(v - rest)))).toBeGreaterThan(0.01);
				if (['scale', 'opacity'].includes(property))
					expect(Math.min(...values)).toBeGreaterThanOrEqual(-0.12);
				if (property === 'opacity') expect(Math.max(...values)).toBeLessThanOrEqual(1);
				// It begins or ends where the part is at rest.
				const off = [keys[0], keys.at(-1)!].map(({ v }) => Math.abs(v - rest));
				if (property !== 'rotation') expect(Math.min(...off)).toBeLessThan(1e-9);
				else expect(off[0]).toBe(0);
			}
			if (comesBack(motion)) {
				const twice = put(doc, [crate], motion, t, { rounds: 2 });
				for (const { property, component } of moved)
					expect(shows(twice, crate, property, component, end + length / 3)).toBeCloseTo(
						shows(next, crate, property, component, t + length / 3),
						9,
					);
			}
		});
	},
);

it('goes the same way up and round in both spaces, as far as suits the part', () => {
	const [world, screen] = [project('world'), project('interface')];
	const hop = motionOf('hop');
	const [tall, flat] = [put(world, ids(world), hop, 0), put(screen, ids(screen), hop, 0)];
	const top = 25 * FRAME;
	expect(ids(tall).map((id) => shows(tall, id, 'translation', 'y', top))).toEqual([1.8, 0.9]);
	expect(ids(flat).map((id) => shows(flat, id, 'translation', 'y', top))).toEqual([-180, -90]);
	const nod = motionOf('nod');
	const lean = 10 * FRAME;
	expect(shows(put(world, ids(world), nod, 0), ids(world)[0], 'rotation', 'z', lean)).toBe(-11);
	expect(shows(put(screen, ids(screen), nod, 0), ids(screen)[0], 'rotation', 'z', lean)).toBe(11);
});

it('is put by amounts: how long, how far, how strong, mirrored, one part after the other', () => {
	const doc = project('world');
	const [crate, barrel] = ids(doc);
	const arrive = motionOf('arrive');
	const next = put(doc, [crate, barrel], arrive, 0, {
		length: 30 * FRAME,
		distance: 5,
		strength: 0.5,
		stagger: 6 * FRAME,
		mirrored: true,
	});
	const keysOf = (part: string, property: Property, component: Component) =>
		next.channels[channelId(Object.keys(doc.clips)[0], part, property, component)].keys.map(({ t, v }) => [
			t / FRAME,
			v,
		]);
	expect(keysOf(crate, 'translation', 'x')).toEqual([
		[0, 5],
		[30, 0],
	]);
	expect(keysOf(barrel, 'translation', 'x')).toEqual([
		[6, 5],
		[36, 0],
	]);
	expect(keysOf(crate, 'opacity', 'value')).toEqual([
		[0, 0.5],
		[12, 1],
	]);
	expect(distanceOn(arrive, doc.parts[crate], 'world')).toBe(3);
});

it('starts from what the part shows, replaces what it did meanwhile, and lets it wait before', () => {
	const doc = project('world');
	const [crate] = ids(doc);
	const there = put(doc, [crate], motionOf('float'), 0, { rounds: 4 });
	const t = secondsToTicks(1.2);
	const before = shows(there, crate, 'translation', 'y', t);
	const next = put(there, [crate], motionOf('rise in'), t);
	const frames = (f: number) => t + f * FRAME;
	expect(shows(next, crate, 'translation', 'y', frames(-30))).toBeCloseTo(
		shows(there, crate, 'translation', 'y', frames(-30)),
		9,
	);
	// Up to a frame before it is where it was; then it is below, and comes back to where it was.
	expect(shows(next, crate, 'translation', 'y', t - 1)).toBeCloseTo(
		shows(there, crate, 'translation', 'y', frames(-1)),
		9,
	);
	expect(shows(next, crate, 'translation', 'y', t)).toBeCloseTo(before - 1.2, 9);
	expect(shows(next, crate, 'translation', 'y', t + motionOf('rise in').length)).toBeCloseTo(before, 9);
});

it('is made of the keys of one part, and put on another one as far as that is large', () => {
	const doc = project('world');
	const [crate, barrel] = ids(doc);
	const hop = put(doc, [crate], motionOf('hop'), 0);
	const all = new Map(
		Object.values(hop.channels).map(({ id, keys }) => [id, new Set(keys.map(({ t }) => t))]),
	);
	const as = { id: 'own', name: 'my hop', order: 'a0' };
	const taken = takeMotion(hop, all, as);
	if ('why' in taken) throw new Error(taken.why);
	const clip = Object.values(doc.clips)[0];
	const again = motionKeys(doc, clip, doc.parts[crate], taken, amountsOf(taken, FRAME), 0);
	expect(again.map(({ keys }) => keys.map(({ t, v }) => [t, Number(v.toFixed(9))]))).toEqual(
		again.map(({ property, component }) =>
			hop.channels[channelId(clip.id, crate, property, component)].keys.map(({ t, v }) => [
				t,
				Number(v.toFixed(9)),
			]),
		),
	);
	const small = put(doc, [barrel], taken, 0);
	expect(shows(small, barrel, 'translation', 'y', 25 * FRAME)).toBeCloseTo(0.9, 9);
	expect(takeMotion(hop, new Map(), as)).toHaveProperty('why');
	const two = put(hop, [barrel], motionOf('nod'), 0);
	const both = new Map(
		Object.values(two.channels).map(({ id, keys }) => [id, new Set(keys.map(({ t }) => t))]),
	);
	expect(takeMotion(two, both, as)).toHaveProperty('why');
});

it.each(BEGINNINGS)('a project can begin with: %s', (what) => {
	for (const space of ['world', 'interface'] as const) {
		const doc = begin(emptyDoc({ type: 'project', id: 'p', name: 'P', space, frameRate: 30 }), what);
		expect(readProjectFile(writeProjectFile(doc))).toMatchObject({ ok: true });
		const [clip] = Object.values(doc.clips);
		expect(Object.keys(doc.clips)).toHaveLength(what === 'nothing' ? 0 : 1);
		if (!clip) continue;
		expect(checkClip(doc, clip)).toEqual([]);
		expect(Object.values(doc.channels).some(({ property }) => property === 'opacity')).toBe(false);
	}
});
