/** What Rehearse is made of besides its screen: history, frames of slow machines, pads, what is listened to. */
import { describe, expect, it } from 'vitest';
import { makeParcelSlip } from '../../../demo/parcel-slip';
import { makeQuay } from '../../../demo/quay';
import { FramePace } from './frame-pace';
import { PadWatch } from '$lib/ui/gamepad';
import { History, KEPT } from './history';
import { inputsOf, keyOf } from './inputs';
import { SYNONYMS } from '../acts/synonyms';
import { rehearseCommands } from './rehearse-commands';
import { newDeed, newMoment, without } from './trigger-choices';

const at = (t: number, value: number | null, ...clips: string[]) => ({
	t,
	value,
	weights: new Map(clips.map((name) => [name, 1])),
});

describe('history', () => {
	it('keeps the last seconds, and the clips that played in them', () => {
		const history = new History();
		history.mark({ t: 0, kind: 'cue', text: 'early' });
		history.note(at(0, 1, 'hop'));
		for (let t = 1; t <= KEPT + 2; t++) history.note(at(t, t, 'swing'));
		expect(history.moments.map(({ t }) => t)).toEqual(Array.from({ length: KEPT + 1 }, (_, i) => i + 2));
		expect([history.names, history.marks]).toEqual([['swing'], []]);
		expect(history.range()).toEqual({ low: 2, high: KEPT + 2 });
		expect([history.speedAt(0), history.speedAt(3)]).toEqual([null, 1]);
	});

	it('takes a later picture of the same moment for the earlier one, and forgets values of another number', () => {
		const history = new History();
		history.note(at(0, 1));
		history.note(at(1, 2));
		history.note(at(1, 5));
		expect(history.moments.map(({ value }) => value)).toEqual([1, 5]);
		history.forgetValues();
		expect(history.range()).toBeNull();
	});

	it('marks a value that is not where its speed would have led when a clip takes over, and no other', () => {
		const history = new History();
		for (let i = 0; i < 5; i++) history.note(at(i, i, 'a'));
		// As fast on, with another clip: no pop.
		history.note(at(5, 5, 'b'));
		expect(history.marks).toEqual([]);
		history.note(at(6, 9, 'b'));
		expect(history.marks).toEqual([]);
		history.note(at(7, 9, 'c'));
		expect(history.marks).toEqual([{ t: 7, kind: 'pop', text: 'pop 4' }]);
	});
});

describe('frames', () => {
	const shown = (pace: Parameters<FramePace['take']>[0], random: () => number) => {
		const frames = new FramePace(random);
		return Array.from({ length: 120 }, () => frames.take(pace, 1 / 60)).filter((due) => due !== null);
	};
	it('come as the screen has them, slower, or with hitches, and no time is lost', () => {
		let n = 0;
		const random = () => [0.5, 0.01, 0.8, 0.5, 0.5][n++ % 5];
		expect(shown('screen', random)).toHaveLength(120);
		expect(shown('thirty', random)).toHaveLength(60);
		expect(shown('fifteen', random)).toHaveLength(30);
		const hitches = shown('hitches', random);
		expect(Math.max(...hitches)).toBeGreaterThan(0.25);
		expect(hitches.reduce((sum, v) => sum + v, 0)).toBeCloseTo(2, 1);
	});
});

it('a pad tells each press once, and its stick when it moves, up being positive', () => {
	const pad = (down: number[], x = 0, y = 0) =>
		({ buttons: [0, 1, 2].map((i) => ({ pressed: down.includes(i) })), axes: [x, y] }) as unknown as Gamepad;
	const watch = new PadWatch();
	expect(watch.look(pad([]))).toEqual({ pressed: [], stick: null });
	expect(watch.look(pad([1], 0.5, -1))).toEqual({ pressed: [1], stick: { x: 0.5, y: 1 } });
	expect(watch.look(pad([1, 2], 0.5, -1))).toEqual({ pressed: [2], stick: null });
	// What a stick at rest tells is noise.
	expect(watch.look(pad([], 0.03, 0.05))).toEqual({ pressed: [], stick: { x: 0, y: 0 } });
	expect(watch.look(pad([1]))).toEqual({ pressed: [1], stick: null });
});

describe('triggers', () => {
	it('say what is on the board', () => {
		expect(inputsOf(makeQuay())).toEqual({
			calls: ['all still'],
			keys: ['ArrowRight'],
			buttons: [],
			parameters: ['fog', 'wind'],
			hasStick: false,
			ranges: new Map([
				['fog', [0, 1]],
				['wind', [0, 1]],
			]),
		});
		expect([' ', 'A', 'ArrowUp'].map((key) => keyOf({ key } as KeyboardEvent))).toEqual([
			'Space',
			'a',
			'ArrowUp',
		]);
	});

	it('are found by the words that people know them by', () => {
		const nothing = {} as never;
		const trial = { made: null } as never;
		const ids = rehearseCommands({ doc: makeQuay() } as never, trial, nothing).map(({ id }) => id);
		const known = Object.keys(SYNONYMS).filter((id) => id.startsWith('rehearse-'));
		expect(known.length).toBeGreaterThan(2);
		expect(ids).toEqual(expect.arrayContaining(known));
	});

	it('begin with something that the project has', () => {
		const doc = makeParcelSlip();
		expect(newMoment(doc, 'tap', 'notice')).toEqual({ kind: 'tap', part: 'notice' });
		expect(newMoment(doc, 'call', null)).toEqual({ kind: 'call', name: 'go' });
		expect(newMoment(doc, 'cue', null)).toEqual({ kind: 'cue', clip: 'slip-arrives', cue: 'slip in place' });
		const bare = { ...doc, clips: {}, parts: {}, cues: {}, layers: {} };
		expect((['tap', 'cue', 'end'] as const).map((kind) => newMoment(bare, kind, null))).toEqual([
			null,
			null,
			null,
		]);
		expect((['play', 'toggle', 'weigh'] as const).map((kind) => newDeed(bare, kind, null))).toEqual([
			null,
			null,
			null,
		]);
		const before = { kind: 'play', clip: 'stamp-press', layer: 'layer-gauge', count: 2 } as const;
		expect(newDeed(doc, 'toggle', before)).toEqual({
			kind: 'toggle',
			clip: 'stamp-press',
			other: null,
			layer: 'layer-gauge',
		});
		expect(newDeed(doc, 'weigh', before)).toMatchObject({ layer: 'layer-gauge' });
		expect(without(before, 'count')).toEqual({ kind: 'play', clip: 'stamp-press', layer: 'layer-gauge' });
	});
});
