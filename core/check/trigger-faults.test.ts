import { expect, it } from 'vitest';
import { linear, ONCE, ProjectBuilder, REPEAT } from '../../demo/builder';
import { makeParcelSlip } from '../../demo/parcel-slip';
import { makeQuay } from '../../demo/quay';
import type { TriggerDeed, TriggerMoment } from '../document/triggers';
import { tellTrigger } from '../document/trigger-words';
import { inOrder, type Doc } from '../document/types';
import { checkClip } from './check';
import { mendFinding, tellFinding } from './tell';
import { tellFault, triggerFaults } from './trigger-faults';

const base = () =>
	new ProjectBuilder('Pier', 'world', 30)
		.part('boat', { kind: 'box', size: [1, 1, 1] })
		.part('flag', { kind: 'box', size: [1, 1, 1] })
		.layer('wind', ['flag'])
		.layer('tide', ['boat'], { parameter: 'tide' })
		.startClip('bob', 30, REPEAT)
		.keys('boat', 'translation.y', [
			[0, 0, linear],
			[30, 1],
		])
		.cue('top', 15)
		.startClip('leave', 30, ONCE)
		.keys('boat', 'translation.x', [
			[0, 0, linear],
			[30, 9],
		]);
const play = (clip: string, layer: string | null = null): Extract<TriggerDeed, { kind: 'play' }> => ({
	kind: 'play',
	clip,
	layer,
});
const withAll = (...all: [TriggerMoment, TriggerDeed, number?][]) =>
	all.reduce((p, [when, then, delay]) => p.trigger(when, then, delay), base()).build();
const faults = (doc: Doc) => triggerFaults(doc).map((fault) => tellFault(doc, fault));

it('triggers that never come about, do nothing or stand against one another are told', () => {
	expect(faults(withAll([{ kind: 'cue', clip: 'bob', cue: 'top' }, play('leave')]))).toEqual([]);
	expect(faults(withAll([{ kind: 'cue', clip: 'bob', cue: 'ebb' }, play('leave')]))).toEqual([
		'bob has no cue “ebb”: this never happens',
	]);
	const ends: [TriggerMoment, TriggerDeed] = [{ kind: 'end', clip: 'bob' }, play('leave')];
	expect(faults(withAll(ends))).toEqual(['bob goes on for ever: it never ends']);
	for (const then of [
		{ ...play('bob'), count: 3 },
		{ kind: 'toggle', clip: 'bob', other: null, layer: null },
		{ kind: 'stop', layer: null, seconds: 0, withRound: true },
	] as TriggerDeed[])
		expect(faults(withAll(ends, [{ kind: 'tap', part: 'boat' }, then]))).toEqual([]);
	expect(faults(withAll([{ kind: 'start' }, play('bob', 'layer-wind')]))).toEqual([
		"bob moves none of the layer's parts",
	]);
	const weigh: TriggerDeed = { kind: 'weigh', layer: 'layer-tide', weight: 1, seconds: 0 };
	expect(faults(withAll([{ kind: 'start' }, weigh]))).toEqual([
		'the weight of tide follows tide: setting it does not last',
	]);
	const start: TriggerMoment = { kind: 'start' };
	expect(faults(withAll([start, play('bob')], [start, play('leave')]))).toEqual([
		'another trigger of the same moment plays something else there',
	]);
	for (const second of [
		[start, play('leave'), 0.5],
		[start, play('leave', 'layer-tide')],
		[start, { ...play('leave'), queued: true }],
		[start, { kind: 'tell', name: 'x', payload: null }],
	] as [TriggerMoment, TriggerDeed, number?][])
		expect(faults(withAll([start, play('bob')], second))).toEqual([]);
	for (const demo of [makeQuay(), makeParcelSlip()]) expect(faults(demo)).toEqual([]);
});

it('they are findings of their clip, which a mend removes', () => {
	const doc = withAll([{ kind: 'cue', clip: 'bob', cue: 'ebb' }, play('leave')]);
	const [finding, ...others] = checkClip(doc, doc.clips.bob).filter(({ rule }) => rule === 'trigger-fault');
	expect(others).toEqual([]);
	expect(checkClip(doc, doc.clips.leave).filter(({ rule }) => rule === 'trigger-fault')).toEqual([]);
	expect(tellFinding(doc, finding).measure).toContain(
		'when bob passes “ebb” → play leave: bob has no cue “ebb”',
	);
	expect(mendFinding(doc, finding, 'remove')?.triggers).toEqual({});
});

it('every kind of trigger reads as a sentence', () => {
	const told = [makeQuay(), makeParcelSlip()].flatMap((doc) =>
		inOrder(doc.triggers).map((trigger) => tellTrigger(doc, trigger)),
	);
	expect(told).toMatchInlineSnapshot(`
		[
		  "when it starts → play kelp sway, in layer weed",
		  "when it starts → play swell, in layer buoy",
		  "when it starts → play lamp sweep, in layer light",
		  "when it starts → play signal blink, in layer fog signal",
		  "when pelican is tapped → play pelican hop, or let it finish its round, in layer pelican",
		  "when crane arm is tapped → play crane swing",
		  "when crane swing passes “load down” → after 0.1 s play sack drop",
		  "when sack drop passes “thump” → tell code “thud”",
		  "when key arrow right is pressed → play ferry crossing",
		  "when code calls “all still” → stop over 0.6 s",
		  "when fog goes above 0.5 → tell code “horn”",
		  "when it starts → play slip arrives",
		  "when it starts → after 0.4 s play gauge settles, in layer gauge",
		  "when stamp button is tapped → play stamp press",
		  "when key enter is pressed → play stamp press",
		  "when stamp press passes “stamped” → tell code “sound”",
		  "when stamp press ends → after 0.5 s play slip arrives",
		  "when code calls “early boat” → play notice comes and goes, in layer notice",
		]
	`);
	const doc = withAll(
		[
			{ kind: 'enter', part: 'boat' },
			{ kind: 'toggle', clip: 'bob', other: 'leave', layer: null },
		],
		[
			{ kind: 'button', button: 0 },
			{ ...play('bob', 'layer-tide'), count: 2, queued: true },
		],
		[
			{ kind: 'leave', part: 'boat' },
			{ kind: 'weigh', layer: 'layer-wind', weight: 0.5, seconds: 2 },
		],
		[{ kind: 'end', clip: 'leave' }, { kind: 'stop', layer: null, seconds: 0, withRound: true }, 0.25],
	);
	expect(inOrder(doc.triggers).map((trigger) => tellTrigger(doc, trigger))).toEqual([
		'when boat is pointed at → switch between bob and leave',
		'when pad button 1 is pressed → play bob, 2 times, when what plays has ended, in layer tide',
		'when boat is no longer pointed at → weight 0.5 over 2 s, in layer wind',
		'when leave ends → after 0.25 s stop at the end of the round',
	]);
});
