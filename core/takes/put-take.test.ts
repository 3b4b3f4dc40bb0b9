import { describe, expect, it } from 'vitest';
import { makeQuay } from '../../demo/quay';
import { ONCE, linear, ProjectBuilder } from '../../demo/builder';
import type { Key } from '../curve/types';
import { CLEANING, type Take, type TakeColumn } from '../document/takes';
import type { Doc } from '../document/types';
import { validateDocument } from '../document/validate';
import { removeClip } from '../edits/clips';
import { TICKS_PER_SECOND } from '../../player/time';
import { TakeCleaner } from './clean';
import { putTake, removeTake, whyNotRecorded } from './put-take';
import type { TakeSamples } from './samples-file';

const FRAME = TICKS_PER_SECOND / 30;
const column = (part: string, property: TakeColumn['property'], component: TakeColumn['component']) => ({
	part,
	property,
	component,
});
const take = (columns: TakeColumn[], more: Partial<Take> = {}): Take => ({
	type: 'take',
	id: 'take-1',
	name: 'take',
	order: 'a0',
	clip: 'up',
	asset: 'a'.repeat(64),
	samples: 61,
	from: 10 * FRAME,
	to: 20 * FRAME,
	columns,
	cleaning: { ...CLEANING, smoothing: 'none', spikes: false },
	...more,
});
/** Sixty samples between two frames. */
function samples(
	from: number,
	to: number,
	value: (share: number, column: number) => number,
	width = 1,
): TakeSamples {
	const times = Uint32Array.from({ length: 61 }, (_, i) =>
		Math.round((from + ((to - from) * i) / 60) * FRAME),
	);
	return {
		times,
		columns: Array.from({ length: width }, (_, c) => Float32Array.from(times, (_, i) => value(i / 60, c))),
	};
}
const put = (doc: Doc, own: Take, recorded: TakeSamples) =>
	putTake(doc, own, new TakeCleaner(recorded).clean(own.cleaning));

const doc = new ProjectBuilder('Jump', 'world', 30)
	.part('crate', { kind: 'empty' })
	.startClip('up', 30, ONCE)
	.keys('crate', 'translation.y', [
		[0, 0, linear],
		[12, 3, linear],
		[24, 1, linear],
		[30, 2],
	])
	.build();
const Y = 'up/crate/translation/y';

describe('a take that is put', () => {
	it('replaces what was there while it lasts, and leaves what is before and after as it was', () => {
		const own = take([column('crate', 'translation', 'y')]);
		const {
			doc: next,
			selection,
			leftOut,
		} = put(
			doc,
			own,
			samples(10, 20, (x) => 7 + x),
		);
		expect(leftOut).toEqual([]);
		const { keys } = next.channels[Y];
		const frames = keys.map(({ t }) => t / FRAME);
		expect(frames).toEqual([0, 10, 20, 24, 30]);
		expect(keys.map(({ v }) => Number(v.toFixed(4)))).toEqual([0, 7, 8, 1, 2]);
		expect([...selection.get(Y)!].map((t) => t / FRAME)).toEqual([10, 20]);
		// The span after it is the one that was there: from where the take ends to the next key.
		expect(keys[2].shape).toEqual(linear);
		expect(next.takes['take-1']).toBe(own);
		const again = put(
			next,
			own,
			samples(10, 20, (x) => 7 + x),
		);
		expect(again.doc.channels[Y].keys).toEqual(keys);
		const checked = validateDocument({ format: 'hillock-project', version: 13, ...next });
		expect(checked.ok).toBe(true);
	});

	it('leaves alone what lies in its gaps', () => {
		const own = take([column('crate', 'translation', 'y')]);
		const recorded = samples(2, 28, (x) => (x > 0.2 && x < 0.8 ? NaN : 9));
		const { keys } = put(doc, own, recorded).doc.channels[Y];
		const inGap = (key: Key) => key.t > 8 * FRAME && key.t < 22 * FRAME;
		expect(keys.filter(inGap)).toEqual(doc.channels[Y].keys.filter(inGap));
		expect(keys.find(({ t }) => t === 2 * FRAME)?.v).toBe(9);
		expect(keys.find(({ t }) => t === 28 * FRAME)?.v).toBe(9);
	});

	it('makes channels that were not there, lengthens the clip, and keeps within what a number may be', () => {
		const own = take([column('crate', 'opacity', 'value'), column('crate', 'rotation', 'z')], {
			to: 45 * FRAME,
		});
		const { doc: next } = put(
			doc,
			own,
			samples(10, 45, (x, c) => (c === 0 ? 3 * x - 1 : 90 * x), 2),
		);
		expect(next.clips.up.length).toBe(45 * FRAME);
		const opacity = next.channels['up/crate/opacity/value'].keys.map(({ v }) => v);
		expect([Math.min(...opacity), Math.max(...opacity)]).toEqual([0, 1]);
		expect(next.channels['up/crate/rotation/z'].keys.at(-1)!.v).toBeCloseTo(90, 3);
	});

	it('says why a number cannot be recorded, and puts the others', () => {
		const quay = makeQuay();
		const [formula] = Object.values(quay.formulas);
		expect(whyNotRecorded(quay, formula.clip, formula)).toBe('a formula computes it');
		expect(whyNotRecorded(quay, formula.clip, column('nobody', 'scale', 'x'))).toMatch(/no such number/);
		expect(whyNotRecorded(quay, formula.clip, column(formula.part, 'visible', 'value'))).toMatch(
			/only numbers/,
		);
		const own = take([column('nobody', 'scale', 'x'), column('crate', 'scale', 'x')]);
		const made = put(
			doc,
			own,
			samples(10, 20, (x) => 1 + x, 2),
		);
		expect(made.leftOut.map(({ why }) => why)).toEqual(['the part has no such number any more']);
		expect([...made.selection.keys()]).toEqual(['up/crate/scale/x']);
	});

	it('goes with its clip, and its keys stay when it alone is deleted', () => {
		const own = take([column('crate', 'translation', 'y')]);
		const next = put(
			doc,
			own,
			samples(10, 20, (x) => x),
		).doc;
		expect(removeClip(next, 'up').takes).toEqual({});
		const without = removeTake(next, 'take-1');
		expect([without.takes, without.channels]).toEqual([{}, next.channels]);
	});

	it('is refused as a document with two columns for one number, or an end before its start', () => {
		const told = (own: Take) => {
			const read = validateDocument({
				format: 'hillock-project',
				version: 13,
				...doc,
				takes: { [own.id]: own },
			});
			return read.ok ? null : read.problems[0].pointer;
		};
		const y = column('crate', 'translation', 'y');
		expect(told(take([y]))).toBeNull();
		expect(told(take([y, y]))).toBe('/takes/take-1/columns/1');
		expect(told(take([y], { from: 5, to: 4 }))).toBe('/takes/take-1/to');
		expect(told(take([y], { clip: 'gone' }))).toBe('/takes/take-1/clip');
		expect(told(take([column('crate', 'translation', 'value')]))).toBe('/takes/take-1/columns/0/component');
	});
});
