/** Triggers and layers on their whole way: from the document into a clip file, and through the player that reads it. */
import { strFromU8 } from 'fflate';
import { describe, expect, it } from 'vitest';
import { linear, ONCE, ProjectBuilder, REPEAT } from '../../../demo/builder';
import { readClips } from '../../../player/file/read';
import { placeOf } from '../../../player/layout';
import { Player } from '../../../player/player';
import type { Layer, TriggerDeed } from '../../document/triggers';
import { clipsInOrder, type Doc } from '../../document/types';
import { validateDocument } from '../../document/validate';
import { removeClip } from '../../edits/clips';
import { removePart } from '../../edits/parts';
import { changeIn, putMix, removeLayer, removeMix } from '../../edits/triggers';
import { VERSION } from '../../document/migrate';
import { DEFAULT_BOUNDS } from '../../tracks/bounds';
import { draftClips } from './shipping';

const play = (clip: string, layer: string | null = null): TriggerDeed => ({ kind: 'play', clip, layer });

/** A buoy that bobs, and a gull on it that hops when it is tapped. */
function harbour(): ProjectBuilder {
	return new ProjectBuilder('Harbour', 'world', 30)
		.part('buoy', { kind: 'box', size: [1, 1, 1] })
		.part('gull', { kind: 'box', size: [1, 1, 1] })
		.startClip('bob', 30, REPEAT)
		.keys('buoy', 'translation.y', [
			[0, 0, linear],
			[15, 1, linear],
			[30, 0],
		])
		.cue('top', 15, { metres: 1 })
		.startClip('sink', 30, ONCE)
		.keys('buoy', 'translation.y', [
			[0, 0, linear],
			[30, -4],
		])
		.startClip('hop', 30, REPEAT)
		.keys('gull', 'translation.y', [
			[0, 0, linear],
			[15, 2, linear],
			[30, 0],
		])
		.layer('birds', ['gull']);
}

const fileOf = (doc: Doc) =>
	JSON.parse(strFromU8(draftClips(doc, clipsInOrder(doc), DEFAULT_BOUNDS))) as unknown;

function started(doc: Doc) {
	const told: string[] = [];
	const player = new Player(readClips(fileOf(doc)), {
		onmessage: ({ name, payload }) => told.push(`${name} ${JSON.stringify(payload)}`),
	});
	player.start();
	const heightOf = (part: string) => player.pose[placeOf(player.layout, part, 'translation') + 1];
	const playing = () => player.playing.map(({ clip }) => clip.name).join();
	return { player, told, heightOf, playing };
}

describe('triggers', () => {
	it('play at the start, when they are called, on a tap, a key, a button, a parameter, a cue and an end, after their delays', () => {
		const doc = harbour()
			.trigger({ kind: 'start' }, play('bob'))
			.trigger({ kind: 'call', name: 'sink it' }, play('sink'), 0.25)
			.trigger({ kind: 'tap', part: 'gull' }, play('hop', 'layer-birds'))
			.trigger(
				{ kind: 'cue', clip: 'bob', cue: 'top' },
				{ kind: 'tell', name: 'splash', payload: { loud: 2 } },
			)
			.trigger({ kind: 'end', clip: 'sink' }, play('bob'), 0.5)
			.trigger({ kind: 'key', key: 'ArrowUp' }, { kind: 'tell', name: 'up', payload: null })
			.trigger({ kind: 'button', button: 3 }, { kind: 'tell', name: 'three', payload: null })
			.trigger(
				{ kind: 'parameter', name: 'tide', way: 'above', value: 0.5 },
				{ kind: 'tell', name: 'flood', payload: null },
			)
			.build();
		const { player, told, heightOf, playing } = started(doc);
		player.advance(0.6);
		expect(told).toEqual(['splash {"loud":2}']);
		expect(heightOf('buoy')).toBeCloseTo(0.8, 3);
		expect([player.trigger('sink it'), player.trigger('nothing')]).toEqual([true, false]);
		player.advance(0.2);
		expect(playing()).toBe('bob');
		player.advance(0.05);
		expect(playing()).toBe('sink');
		expect([player.send({ kind: 'tap', part: 'gull' }), player.send({ kind: 'tap', part: 'buoy' })]).toEqual([
			true,
			false,
		]);
		player.advance(0.5);
		expect([heightOf('buoy'), heightOf('gull')]).toEqual([expect.closeTo(-2, 3), expect.closeTo(2, 3)]);
		player.advance(0.9);
		expect(playing()).toBe('sink');
		player.advance(0.2);
		expect(playing()).toBe('bob');
		expect(player.send({ kind: 'key', key: 'ArrowUp' })).toBe(true);
		expect(player.send({ kind: 'key', key: 'ArrowDown' })).toBe(false);
		player.send({ kind: 'button', button: 3 });
		for (const tide of [0.4, 0.6, 0.9, 0.5, 0.7]) player.set('tide', tide);
		expect(told.slice(1)).toEqual(['up null', 'three null', 'flood null', 'flood null']);
	});

	it('switch between clips, or let one finish its round', () => {
		const doc = harbour()
			.trigger({ kind: 'key', key: 'a' }, { kind: 'toggle', clip: 'bob', other: 'sink', layer: null })
			.trigger(
				{ kind: 'tap', part: 'gull' },
				{ kind: 'toggle', clip: 'hop', other: null, layer: 'layer-birds' },
			)
			.build();
		const { player, heightOf, playing } = started(doc);
		const order = [1, 2, 3].map(() => {
			player.send({ kind: 'key', key: 'a' });
			return playing();
		});
		expect(order).toEqual(['bob', 'sink', 'bob']);
		player.send({ kind: 'tap', part: 'gull' });
		player.advance(1.25);
		expect(heightOf('gull')).toBeCloseTo(1, 3);
		player.send({ kind: 'tap', part: 'gull' });
		// Other clips of the same project in between change nothing about it.
		player.exchange(readClips(fileOf(doc)));
		player.advance(0.25);
		// It goes on to the end of its round, and stays there.
		expect(heightOf('gull')).toBeCloseTo(2, 3);
		player.advance(1.75);
		expect(heightOf('gull')).toBeCloseTo(0, 3);
		player.send({ kind: 'tap', part: 'gull' });
		player.advance(0.5);
		expect(heightOf('gull')).toBeCloseTo(2, 3);
	});

	it('weigh layers over a time, which follow parameters otherwise', () => {
		const doc = harbour()
			.layer('wind', ['gull'], { weight: 0, parameter: 'wind' })
			.trigger({ kind: 'start' }, play('hop', 'layer-birds'))
			.trigger({ kind: 'start' }, { kind: 'weigh', layer: 'layer-birds', weight: 0, seconds: 1 }, 0.5)
			.build();
		const { player, heightOf } = started(doc);
		player.advance(0.5);
		expect(heightOf('gull')).toBeCloseTo(2, 3);
		player.advance(0.25);
		expect(heightOf('gull')).toBeCloseTo(0.75 * 1, 3);
		player.advance(1);
		expect(player.layer('birds').weight).toBe(0);
		player.set('wind', 0.3);
		expect(player.layer('wind').weight).toBe(0.3);
	});

	it('are exchanged with their layers: changed weights and parts count at once, gone layers show nothing more', () => {
		const start = harbour().trigger({ kind: 'start' }, play('hop', 'layer-birds')).build();
		const { player, heightOf } = started(start);
		player.advance(0.5);
		expect(heightOf('gull')).toBeCloseTo(2, 3);
		const withBirds = (change: Partial<Layer>): Doc => ({
			...start,
			layers: { 'layer-birds': { ...start.layers['layer-birds'], ...change } },
		});
		const exchanged = (doc: Doc) => {
			player.exchange(readClips(fileOf(doc)));
			return heightOf('gull');
		};
		expect(exchanged(withBirds({ weight: 0.25 }))).toBeCloseTo(0.5, 3);
		// What code has set stays while the project says the same.
		player.layer('birds').weight = 0.75;
		expect(exchanged(withBirds({ weight: 0.25, mode: 'add' }))).toBeCloseTo(1.5, 3);
		expect(exchanged(withBirds({ parts: ['buoy'] }))).toBeCloseTo(0, 9);
		expect(exchanged(withBirds({ name: 'gulls' }))).toBeCloseTo(0, 9);
		expect(exchanged({ ...start, layers: {}, triggers: {} })).toBeCloseTo(0, 9);
	});

	it('do the same at the same times, however long the frames are', () => {
		const doc = harbour()
			.trigger({ kind: 'start' }, play('bob'))
			.trigger({ kind: 'cue', clip: 'bob', cue: 'top' }, play('hop', 'layer-birds'), 0.1)
			.trigger({ kind: 'cue', clip: 'bob', cue: 'top' }, play('sink'), 1.3)
			.trigger(
				{ kind: 'end', clip: 'sink' },
				{ kind: 'weigh', layer: 'layer-birds', weight: 0.4, seconds: 0.7 },
			)
			.trigger({ kind: 'end', clip: 'sink' }, { kind: 'tell', name: 'sunk', payload: null }, 0.2)
			.build();
		const whole = started(doc);
		whole.player.advance(3.7);
		let seed = 7;
		const random = () => (seed = (seed * 16_807) % 2_147_483_647) / 2_147_483_647;
		for (let run = 0; run < 20; run++) {
			const { player, told } = started(doc);
			let left = 3.7;
			while (left > 0) {
				const step = Math.min(left, random() ** 3 * 0.8);
				player.advance(step);
				left -= step;
			}
			expect(told).toEqual(whole.told);
			player.pose.forEach((v, k) => expect(v).toBeCloseTo(whole.player.pose[k], 9));
		}
	});

	it('that play a clip at its own first cue do not hang', () => {
		const doc = harbour()
			.startClip('ring', 30, ONCE)
			.cue('now', 0)
			.keys('buoy', 'rotation.z', [[0, 0]])
			.trigger({ kind: 'start' }, play('ring'))
			.trigger({ kind: 'cue', clip: 'ring', cue: 'now' }, play('ring'))
			.build();
		const { player, playing } = started(doc);
		player.advance(0.1);
		expect(playing()).toBe('ring');
	});
});

describe('triggers in a document', () => {
	const doc = harbour()
		.layer('wind', ['gull', 'buoy'])
		.trigger({ kind: 'tap', part: 'gull' }, play('hop', 'layer-birds'))
		.trigger({ kind: 'end', clip: 'sink' }, play('bob'))
		.trigger({ kind: 'start' }, { kind: 'toggle', clip: 'bob', other: 'sink', layer: null })
		.trigger({ kind: 'start' }, { kind: 'weigh', layer: 'layer-wind', weight: 0.5, seconds: 1 })
		.build();
	const problems = (changed: Doc) => {
		const result = validateDocument({ format: 'hillock-project', version: VERSION, ...changed });
		return result.ok ? [] : result.problems.map(({ message }) => message);
	};
	const kinds = ({ triggers }: Doc) => Object.values(triggers).map(({ then }) => then.kind);

	it('go with the clip, the part or the layer that they name', () => {
		expect(problems(doc)).toEqual([]);
		const sunk = removeClip(doc, 'sink');
		expect(kinds(sunk)).toEqual(['play', 'weigh']);
		const flown = removePart(doc, 'gull');
		expect(kinds(flown)).toEqual(['play', 'toggle', 'weigh']);
		expect(flown.layers['layer-wind'].parts).toEqual(['buoy']);
		const calm = removeLayer(doc, 'layer-wind');
		expect(kinds(calm)).toEqual(['play', 'play', 'toggle']);
		for (const left of [sunk, flown, calm]) expect(problems(left)).toEqual([]);
	});

	it('are refused where they name what is not there', () => {
		const lost = { ...doc, layers: {} };
		expect(problems(lost)).toEqual(['There is no layer "layer-birds".', 'There is no layer "layer-wind".']);
		const [first] = Object.values(doc.triggers);
		const odd = { ...first, when: { kind: 'parameter', name: 'x', way: 'past', value: 1 } };
		expect(problems({ ...doc, triggers: { [first.id]: odd as never } })[0]).toMatch(/"above" or "below"/);
	});

	it('leave with those clips alone that are all in the file', () => {
		const clips = clipsInOrder(doc).filter(({ id }) => id !== 'sink');
		const file = JSON.parse(strFromU8(draftClips(doc, clips, DEFAULT_BOUNDS))) as { triggers: unknown[] };
		expect(file.triggers).toHaveLength(2);
	});
});

describe('mixes', () => {
	const withMix = () =>
		harbour()
			.mix('swell', 'wind', [
				['hop', 2],
				['bob', 0],
			])
			.trigger({ kind: 'start' }, play('mix-swell'))
			.build();
	const stored = (doc: Doc) => validateDocument({ format: 'hillock-project', version: VERSION, ...doc });
	const mixOf = (doc: Doc) => doc.mixes['mix-swell'];

	it('leave with the clips that they are of, and are played by their triggers', () => {
		const player = new Player(readClips(fileOf(withMix())));
		player.start();
		player.set('wind', 1);
		player.advance(0.5);
		const at = (part: string) => player.pose[placeOf(player.layout, part, 'translation') + 1];
		expect([at('buoy'), at('gull')]).toEqual([0.5, 1]);
		expect(player.playing.map(({ clip, weight }) => [clip.name, weight])).toEqual([
			['bob', 0.5],
			['hop', 0.5],
		]);
	});

	it('stay behind where one of their clips does, with what plays them', () => {
		const doc = withMix();
		const bytes = draftClips(doc, [doc.clips.bob], DEFAULT_BOUNDS);
		expect(JSON.parse(strFromU8(bytes))).not.toHaveProperty('mixes');
		expect(JSON.parse(strFromU8(bytes))).not.toHaveProperty('triggers');
	});

	it('have another name in the file where a clip has theirs', () => {
		const doc = withMix();
		const mixes = { 'mix-swell': { ...mixOf(doc), name: 'bob' } };
		expect(fileOf({ ...doc, mixes })).toMatchObject({
			mixes: [{ name: 'bob 2' }],
			triggers: [{ then: { clip: 'bob 2' } }],
		});
	});

	it('are refused where a clip or a place comes twice, or a clip is not there', () => {
		const doc = withMix();
		const stop = (clip: string, at: number) => ({ clip, at });
		const problemOf = (stops: { clip: string; at: number }[]) => {
			const checked = stored({ ...doc, mixes: { 'mix-swell': { ...mixOf(doc), stops } } });
			return checked.ok ? null : checked.problems[0].pointer;
		};
		expect(stored(doc).ok).toBe(true);
		expect(problemOf([stop('bob', 0), stop('bob', 1)])).toBe('/mixes/mix-swell/stops/1/clip');
		expect(problemOf([stop('bob', 1), stop('hop', 1)])).toBe('/mixes/mix-swell/stops/1/at');
		expect(problemOf([stop('bob', 0), stop('gone', 1)])).toBe('/mixes/mix-swell/stops');
		expect(problemOf([stop('bob', 0)])).toBe('/mixes/mix-swell/stops');
	});

	it('stay gone where somebody still writes in a field of them', () => {
		const doc = withMix();
		const renamed = { ...mixOf(doc), name: 'waves' };
		expect(mixOf(changeIn(doc, renamed, putMix)).name).toBe('waves');
		expect(changeIn(removeMix(doc, 'mix-swell'), renamed, putMix).mixes).toEqual({});
	});

	it('go with a clip that leaves too little of them, or by themselves, with what plays them', () => {
		for (const doc of [removeClip(withMix(), 'hop'), removeMix(withMix(), 'mix-swell')]) {
			expect([doc.mixes, doc.triggers]).toEqual([{}, {}]);
			expect(stored(doc).ok).toBe(true);
		}
	});
});
