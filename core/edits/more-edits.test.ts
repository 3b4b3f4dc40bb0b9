import { describe, expect, it } from 'vitest';
import { eased, linear, ProjectBuilder } from '../../demo/builder';
import { makeQuay } from '../../demo/quay';
import { curveOf } from '../clip/compile';
import { evaluateCurve } from '../../player/curve/evaluate';
import { VERSION } from '../document/migrate';
import { validateDocument } from '../document/validate';
import { channelsOfClip, type Doc } from '../document/types';
import { copyKeys, pasteKeys, writeCopied } from './clipboard';
import { readCopied } from './clipboard-text';
import { cuesOfColumns, moveCues } from './cues-along';
import { keyAsIs } from './keys';
import { duplicatePart, REST, setRestValue } from './parts';
import { mergeDocument } from './merge';
import { reduceKeys, resampleKeys } from './reduce';
import { mirroredSelection, reverseKeys, scaleValues, staggerTicks, withinClip } from './retime';
import { addTween } from './tween';
import { parseHex } from '../pose/hex';

const isValid = (doc: Doc) => validateDocument({ format: 'hillock-project', version: VERSION, ...doc }).ok;
const quay = makeQuay();

describe('keys', () => {
	/** A recorded sway: a key a frame. */
	const sway = new ProjectBuilder('Sway', 'world', 30)
		.part('reed', { kind: 'box', size: [1, 1, 1] })
		.startClip('c', 90)
		.keys(
			'reed',
			'rotation.z',
			Array.from({ length: 91 }, (_, f) => [f, 20 * Math.sin(f / 9) + 4 * Math.sin(f / 2.3), linear]),
		)
		.build();
	const id = 'c/reed/rotation/z';
	const all = new Map([[id, new Set(sway.channels[id].keys.map((key) => key.t))]]);
	const off = (doc: Doc) => {
		let worst = 0;
		for (let t = 0; t <= 216_000; t += 331) worst = Math.max(worst, Math.abs(value(doc, t) - value(sway, t)));
		return worst;
	};
	const value = (doc: Doc, t: number) => evaluateCurve(curveOf(doc.channels[id], doc.clips.c), t);

	it('are made fewer within a share of their range', () => {
		const fewer = reduceKeys(sway, all, 0.02);
		expect(fewer.channels[id].keys.length).toBeLessThan(30);
		const values = sway.channels[id].keys.map((key) => key.v);
		expect(off(fewer)).toBeLessThanOrEqual(0.02 * (Math.max(...values) - Math.min(...values)));
		expect(isValid(fewer)).toBe(true);
	});

	it('are made fewer in the picked stretch alone', () => {
		const inside = new Map([[id, new Set([24_000, 120_000])]]);
		const { keys } = reduceKeys(sway, inside, 0.05).channels[id];
		const old = new Map(sway.channels[id].keys.map((key) => [key.t, key]));
		for (const key of keys.filter(({ t }) => t < 24_000 || t > 120_000)) expect(key).toBe(old.get(key.t));
		expect(keys.length).toBeLessThan(sway.channels[id].keys.length - 20);
	});

	it('are made even, with one at the end', () => {
		const even = resampleKeys(sway, all, 7 * 2400);
		expect(even.channels[id].keys.map((key) => key.t / 2400)).toEqual([
			0, 7, 14, 21, 28, 35, 42, 49, 56, 63, 70, 77, 84, 90,
		]);
		for (const key of even.channels[id].keys) expect(key.v).toBeCloseTo(value(sway, key.t), 9);
		expect(() => resampleKeys(sway, all, 0)).toThrow(RangeError);
	});

	it('are staggered by depth: what hangs on what, or by order', () => {
		const picked = new Map(
			['crane-arm', 'rope', 'mail-sack'].map((part) => {
				const channel = Object.values(quay.channels).find(
					(own) => own.clip === 'sack-drop' && own.part === part,
				)!;
				return [channel.id, new Set([channel.keys[1].t])];
			}),
		);
		const ticks = (by: 'order' | 'depth') => [...staggerTicks(quay, picked, 2400, false, by).values()];
		expect(ticks('order')).toEqual([0, 2400, 4800]);
		// Arm and rope hang one and two deep, the sack on nothing.
		expect(ticks('depth')).toEqual([2400, 4800, 0]);
		const growing = staggerTicks(quay, picked, 2400, true);
		expect([...growing.values()]).toEqual([0, 2400, 7200]);
		// Kept within a clip they go to its end, or to its start, and no further.
		const far = new Map([...picked.keys()].map((id) => [id, 1e6]));
		const ends = (ticks: Map<string, number>) =>
			[...withinClip(picked, ticks, 72_000)].map(([id, own]) => [...picked.get(id)!][0] + own);
		expect(ends(far)).toEqual([72_000, 72_000, 72_000]);
		expect(ends(new Map([...far].map(([id]) => [id, -1e6])))).toEqual([0, 0, 0]);
	});
});

describe('keys set as things are', () => {
	const clip = 'sack-drop';
	const part = 'mail-sack';

	it('leave the motion as it was where there is some, and rest elsewhere', () => {
		const numbers = (['x', 'y', 'z'] as const).map((component) => ({
			clip,
			part,
			property: 'translation' as const,
			component,
		}));
		const doc = keyAsIs(quay, numbers, 61_111);
		const y = `${clip}/${part}/translation/y`;
		expect(doc.channels[y].keys).toHaveLength(quay.channels[y].keys.length + 1);
		const at = (of: Doc, t: number) => evaluateCurve(curveOf(of.channels[y], of.clips[clip]), t);
		for (let t = 0; t < 172_800; t += 977) expect(at(doc, t)).toBeCloseTo(at(quay, t), 6);
		expect(doc.channels[`${clip}/${part}/translation/z`].keys).toMatchObject([
			{ t: 61_111, v: quay.parts[part].rest.translation[2] },
		]);
	});

	it('on a span with handles as long as itself leave one that is longer, which a project may hold', () => {
		const doc = new ProjectBuilder('Gull', 'world', 30)
			.part('gull', { kind: 'box', size: [1, 1, 1] })
			.startClip('c', 60)
			.keys('gull', 'translation.y', [
				[0, 0, { kind: 'bezier', x1: 1, y1: 0, x2: 0, y2: 1 }],
				[60, 8],
			])
			.build();
		const address = { clip: 'c', part: 'gull', property: 'translation', component: 'y' } as const;
		const split = keyAsIs(doc, [address], 40_000);
		const [id] = Object.keys(doc.channels);
		const reaches = split.channels[id].keys.flatMap(({ left, right }) => [
			left?.reach ?? 0,
			right?.reach ?? 0,
		]);
		expect(Math.max(...reaches)).toBeGreaterThan(1.1);
		expect(isValid(split)).toBe(true);
		const at = (of: Doc, t: number) => evaluateCurve(curveOf(of.channels[id], of.clips.c), t);
		for (let t = 0; t < 144_000; t += 977) expect(at(split, t)).toBeCloseTo(at(doc, t), 4);
	});

	it('leave what a formula computes to the formula', () => {
		expect(keyAsIs(quay, [{ clip, part, property: 'scale', component: 'x' }], 0)).toBe(quay);
	});
});

describe('copied keys', () => {
	/** Two strands of three segments each, one under the other; the second goes by other names. */
	const strands = () => {
		const p = new ProjectBuilder('Strands', 'world', 30);
		for (const name of ['kelp', 'reed'])
			for (let i = 1; i <= 3; i++)
				p.part(
					`${name} ${i}`,
					{ kind: 'box', size: [1, 1, 1] },
					i === 1 ? {} : { parent: `${name} ${i - 1}` },
				);
		p.startClip('sway', 30);
		for (let i = 1; i <= 3; i++)
			p.keys(`kelp ${i}`, 'rotation.z', [
				[0, i, linear],
				[10, 10 * i],
			]);
		return p.build();
	};

	it('of several parts go to what hangs below another one in the same places', () => {
		const doc = strands();
		const all = new Map(
			Object.values(doc.channels).map((own) => [own.id, new Set(own.keys.map((key) => key.t))]),
		);
		const pasted = pasteKeys(doc, 'sway', copyKeys(doc, all), 12_000, 'reed-1').doc;
		for (let i = 1; i <= 3; i++)
			expect(pasted.channels[`sway/reed-${i}/rotation/z`].keys.map((key) => [key.t, key.v])).toEqual([
				[12_000, i],
				[36_000, 10 * i],
			]);
		expect(isValid(pasted)).toBe(true);
	});

	it('of several parts stay with them when one of them is picked', () => {
		const doc = strands();
		const all = new Map(Object.values(doc.channels).map((own) => [own.id, new Set([0])]));
		const { selection } = pasteKeys(doc, 'sway', copyKeys(doc, all), 36_000, 'kelp-2');
		expect([...selection.keys()].sort()).toEqual([1, 2, 3].map((i) => `sway/kelp-${i}/rotation/z`));
	});
});

describe('keys as text', () => {
	const sack = quay.channels['sack-drop/mail-sack/translation/y'];
	const copied = copyKeys(quay, new Map([[sack.id, new Set(sack.keys.map((key) => key.t))]]));
	const text = writeCopied(quay, copied);

	it('come back as they were, onto the part that is there, or the one of that name', () => {
		expect(readCopied(quay, text, null)).toEqual(copied);
		const renamed = { ...quay, parts: { other: { ...quay.parts['mail-sack'], id: 'other' } } };
		expect(readCopied(renamed, text, null)![0]).toEqual({ ...copied[0], part: 'other' });
		// Where nothing is called so, what came from one part goes to the one that is picked.
		const strange = { ...quay, parts: { buoy: quay.parts.buoy } };
		expect(readCopied(strange, text, 'buoy')![0].part).toBe('buoy');
		expect(readCopied(strange, text, null)).toEqual([]);
	});

	it('that are none, or not as keys must be, are left alone', () => {
		const broken = (change: (body: { channels: { keys: unknown[]; property: string }[] }) => void) => {
			const body = JSON.parse(text) as never;
			change(body);
			return JSON.stringify(body);
		};
		for (const other of [
			'hello',
			'{"format":"hillock-keys"}',
			text.slice(0, -3),
			broken((body) => body.channels[0].keys.reverse()),
			broken((body) => (body.channels[0].property = 'smell')),
			broken((body) => (body.channels[0].keys[0] = { t: 0, v: '1', shape: { kind: 'linear' } })),
		])
			expect(readCopied(quay, other, 'buoy')).toBeNull();
	});
});

describe('values', () => {
	it('are scaled about the first, the lowest or the highest of them, or where the curve is at a time', () => {
		const id = 'sack-drop/mail-sack/translation/y';
		const { keys } = quay.channels[id];
		const picked = new Map([[id, new Set(keys.map((key) => key.t))]]);
		const values = keys.map((key) => key.v);
		const at = 10 * 2400;
		const now = evaluateCurve(curveOf(quay.channels[id], quay.clips['sack-drop']), at);
		for (const [about, pivot] of [
			['first', values[0]],
			['lowest', Math.min(...values)],
			['highest', Math.max(...values)],
			[{ at }, now],
		] as const) {
			const scaled = scaleValues(quay, picked, 1.5, about).channels[id].keys;
			scaled.forEach((key, i) => expect(key.v).toBeCloseTo(pivot + 1.5 * (values[i] - pivot), 9));
		}
	});
});

describe('a written motion', () => {
	const address = { clip: 'buoy-bob', part: 'buoy', property: 'translation', component: 'x' } as const;
	const id = 'buoy-bob/buoy/translation/x';

	it('starts from where the part is, waits there until then, and makes the clip longer where it must', () => {
		const doc = addTween(quay, {
			...address,
			from: null,
			to: { by: 2 },
			start: 200_000,
			duration: 72_000,
			shape: eased(0, 1),
		});
		expect(doc.channels[id].keys.map((key) => [key.t, key.v])).toEqual([
			[0, 6.7],
			[200_000, 6.7],
			[272_000, 8.7],
		]);
		expect(doc.channels[id].keys[0].shape).toEqual({ kind: 'hold' });
		expect(doc.clips['buoy-bob'].length).toBe(272_000);
		expect(isValid(doc)).toBe(true);
	});

	it('of a colour goes to a colour, from where the part has it', () => {
		const colour = { ...address, property: 'colour', component: 'value' } as const;
		const red = [1, 0, 0, 0.5] as const;
		const tween = { ...colour, from: null, start: 24_000, duration: 24_000, shape: linear };
		const { keys } = addTween(quay, { ...tween, to: { value: red } }).channels['buoy-bob/buoy/colour/value'];
		expect(keys.map((key) => [key.t, key.vector])).toEqual([
			[0, parseHex(quay.parts.buoy.colour)],
			[24_000, parseHex(quay.parts.buoy.colour)],
			[48_000, red],
		]);
		expect(() => addTween(quay, { ...tween, to: { by: 1 } })).toThrow(RangeError);
	});

	it('shows a part from its start, and hides it at its end', () => {
		const visible = { ...address, property: 'visible', component: 'value' } as const;
		const switched = (from: number | null, to: number) =>
			addTween(quay, {
				...visible,
				from,
				to: { value: to },
				start: 24_000,
				duration: 24_000,
				shape: linear,
			}).channels['buoy-bob/buoy/visible/value'].keys.map((key) => [key.t, key.v]);
		expect(switched(null, 0)).toEqual([
			[0, 1],
			[24_000, 1],
			[48_000, 0],
		]);
		expect(switched(0, 1)).toEqual([
			[0, 1],
			[24_000, 1],
			[48_000, 1],
		]);
	});

	it('replaces what lay between its ends, and leaves what came before', () => {
		const z = { ...address, property: 'rotation', component: 'z' } as const;
		const own = 'buoy-bob/buoy/rotation/z';
		const doc = addTween(quay, {
			...z,
			from: null,
			to: { value: 0 },
			start: 60_000,
			duration: 100_000,
			shape: linear,
		});
		expect(doc.channels[own].keys.map((key) => key.t)).toEqual([0, 60_000, 160_000, 177_600, 216_000]);
		const before = (d: Doc) => evaluateCurve(curveOf(d.channels[own], d.clips['buoy-bob']), 40_000);
		expect(before(doc)).toBeCloseTo(before(quay), 9);
	});

	it('is refused without a duration', () => {
		expect(() =>
			addTween(quay, { ...address, from: 0, to: { value: 1 }, start: 0, duration: 0, shape: linear }),
		).toThrow(RangeError);
	});
});

describe('a part', () => {
	it('of no size at all still knows where it stands about its pivot', () => {
		const { drawing } = quay.parts['crane-post'];
		if (drawing.kind !== 'box') throw new Error('the post is a box');
		expect(drawing.offset[1]).toBeGreaterThan(0);
		const flat = setRestValue(quay, 'crane-post', 'size', 'y', 0);
		const back = setRestValue(flat, 'crane-post', 'size', 'y', drawing.size[1]).parts['crane-post'].drawing;
		expect(back.offset[1]).toBeCloseTo(drawing.offset[1], 6);
		// What is a sheet stays one.
		const sheet = new ProjectBuilder('Sheet', 'world', 30)
			.part('slip', { kind: 'card', size: [1, 1, 0], radius: 0 })
			.build();
		const drawn = setRestValue(sheet, 'slip', 'size', 'z', 0).parts.slip.drawing;
		expect(drawn).toMatchObject({ size: [1, 1, 0] });
	});

	it('is copied with all below it, with its keys and formulas, which read the copy', () => {
		const ids = new Map<string, string>();
		const idOf = (old: string) => ids.get(old) ?? (ids.set(old, `new-${old}`), `new-${old}`);
		const copy = { name: 'second ferry', order: 'zz', idOf, withKeys: true };
		const doc = duplicatePart(quay, 'ferry', copy);
		expect(isValid(doc)).toBe(true);
		expect(doc.parts['new-ferry-funnel'].parent).toBe('new-ferry-cabin');
		const formula = doc.formulas['ferry-crossing/new-paddle-wheel/rotation/z/formula'];
		expect(formula.inputs.x).toMatchObject({ part: 'new-ferry' });
		const channels = (part: string) =>
			Object.values(doc.channels).filter((channel) => channel.part === part).length;
		expect(channels('new-ferry')).toBe(channels('ferry'));
		const bare = duplicatePart(quay, 'ferry', { ...copy, withKeys: false });
		expect(Object.keys(bare.channels)).toEqual(Object.keys(quay.channels));
	});
});

describe('a document brought into another', () => {
	it('comes whole, under new names, and plays the same', () => {
		const idOf = (id: string) => `new-${id}`;
		const root = { ...quay.parts.buoy, id: 'root', name: 'quay two', parent: null, rest: REST };
		const both = mergeDocument(quay, quay, {
			root,
			idOf,
			clipAs: (clip) => ({ name: `${clip.name} 2`, order: `z${clip.order}` }),
		});
		expect(isValid(both)).toBe(true);
		for (const map of ['clips', 'channels', 'formulas', 'cues', 'blends'] as const)
			expect([map, Object.keys(both[map]).length]).toEqual([map, 2 * Object.keys(quay[map]).length]);
		expect(Object.keys(both.parts).length).toBe(2 * Object.keys(quay.parts).length + 1);
		expect(both.parts['new-buoy'].parent).toBe('root');
		expect(both.parts['new-rope'].parent).toBe('new-crane-arm');
		// What was there is what it was.
		for (const id of Object.keys(quay.channels)) expect(both.channels[id]).toBe(quay.channels[id]);
		// A formula reads the part that came with it.
		const formula = Object.values(quay.formulas).find(({ inputs }) => Object.keys(inputs).length > 0)!;
		const twin = Object.values(both.formulas).find(({ part }) => part === idOf(formula.part))!;
		for (const [name, input] of Object.entries(formula.inputs))
			if ('part' in input) expect(twin.inputs[name]).toMatchObject({ part: idOf(input.part) });
	});
});

describe('keys of several channels that are reversed together', () => {
	const entry = new ProjectBuilder('Card', 'interface', 60)
		.part('card', { kind: 'box', size: [1, 1, 1] })
		.startClip('arrive', 60)
		.keys('card', 'opacity', [
			[0, 0, eased(0.2, 0.6)],
			[20, 1, linear],
		])
		.keys('card', 'translation.y', [
			[8, 90, { kind: 'fall' }],
			[30, 4, { kind: 'spring', mass: 1, stiffness: 300, damping: 20, velocity: 0, time: 'fitted' }],
			[50, 0, linear],
		])
		.build();

	it('are mirrored in the stretch that they take together: an overlapped entry becomes its exact exit', () => {
		const all = new Map(
			Object.values(entry.channels).map(({ id, keys }) => [id, new Set(keys.map(({ t }) => t))]),
		);
		const exit = reverseKeys(entry, all);
		const whole = 50 * 1200;
		const at = (doc: Doc, id: string, t: number) =>
			evaluateCurve(curveOf(doc.channels[id], doc.clips.arrive), t);
		for (const id of all.keys())
			for (let t = 37; t < whole; t += 731) expect(at(exit, id, whole - t)).toBeCloseTo(at(entry, id, t), 1);
		for (const [id, times] of mirroredSelection(all)) {
			const there = new Set(exit.channels[id].keys.map(({ t }) => t));
			for (const t of times) expect(there).toContain(t);
		}
	});
});

describe('cues that go along', () => {
	const clip = quay.clips['sack-drop'];
	/** All keys of a part at a tick, or but one. */
	const column = (part: string, t: number, but = 0) =>
		new Map(
			channelsOfClip(quay, clip.id)
				.filter((channel) => channel.part === part && channel.keys.some((key) => key.t === t))
				.slice(but)
				.map(({ id }) => [id, new Set([t])] as const),
		);
	const thump = Object.values(quay.cues).find((cue) => cue.clip === clip.id && cue.name === 'thump')!;

	it('are those where all keys of a part are moved, and only those', () => {
		expect(cuesOfColumns(quay, clip.id, column('mail-sack', thump.t))).toEqual([thump.id]);
		expect(cuesOfColumns(quay, clip.id, column('mail-sack', thump.t, 1))).toEqual([]);
		expect(cuesOfColumns(quay, clip.id, column('mail-sack', 0))).toEqual([]);
		expect(cuesOfColumns(quay, 'buoy-bob', column('mail-sack', thump.t))).toEqual([]);
	});

	it('are none where a part has one key alone', () => {
		const alone = { ...quay, cues: { own: { ...thump, id: 'own', t: 10 * 2400 } } };
		const keys = column('crane-arm', 10 * 2400);
		expect(keys.size).toBe(1);
		expect(cuesOfColumns(alone, clip.id, keys)).toEqual([]);
	});

	it('stay within their clip', () => {
		expect(moveCues(quay, [thump.id, 'none'], 2400).cues[thump.id].t).toBe(thump.t + 2400);
		expect(moveCues(quay, [thump.id], -1e6).cues[thump.id].t).toBe(0);
		expect(moveCues(quay, [thump.id], 1e6).cues[thump.id].t).toBe(clip.length);
		expect(moveCues(quay, [thump.id], 0)).toBe(quay);
	});
});
