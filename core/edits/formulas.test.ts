import { expect, it } from 'vitest';
import { ProjectBuilder } from '../../demo/builder';
import { shownAt } from '../testing';
import { diffDocuments } from '../document/changeset';
import { applyChecked } from '../document/checked-changeset';
import { numbersOf, restValue } from '../document/rest';
import { isVector, type Drawing, type Part } from '../document/types';
import { channelLabel } from '../document/labels';
import {
	keepsVolume,
	keepVolume,
	letVolumeChange,
	newFormula,
	putFormula,
	whyVolumeChanges,
} from './formulas';
import { setValue } from './keys';

const OFFSET: [number, number, number] = [0, 0, 0];
const SIZE: [number, number, number] = [2, 3, 4];
const DRAWINGS: Drawing[] = [
	{ kind: 'box', size: SIZE, offset: OFFSET },
	{
		kind: 'card',
		size: SIZE,
		radius: 0.5,
		offset: OFFSET,
		stroke: { width: 0.1, colour: '#222222', start: 0.1, end: 0.9 },
	},
	{ kind: 'camera', fieldOfView: 40, offset: OFFSET },
	{ kind: 'model', asset: 'a'.repeat(64), mesh: 0, size: SIZE, weights: [0.1, 0.2], offset: OFFSET },
];

/** Every number of every kind of part. */
const NUMBERS = DRAWINGS.flatMap((drawing) => {
	const doc = new ProjectBuilder('Shed', 'world', 30)
		.part('door', { kind: 'box', size: [1, 1, 1] })
		.startClip('open', 60)
		.build();
	const part: Part = { ...doc.parts.door, drawing };
	const shed = { ...doc, parts: { door: part } };
	return numbersOf(part)
		.filter(({ property }) => !isVector(property))
		.map((number) => ({ ...number, part, shed, kind: drawing.kind }));
});

it.each(
	NUMBERS.map((number) => [`${number.kind} ${channelLabel(number.property, number.component)}`, number]),
)('%s can be computed by a formula, and be read by one', (_, { part, shed, property, component }) => {
	const other = property === 'translation' && component === 'x' ? 'y' : 'x';
	const reading = {
		...newFormula('open', 'door', 'translation', other),
		inputs: { a: { part: 'door', property, component } },
		text: 'a + 1',
	};
	const computed = { ...newFormula('open', 'door', property, component), inputs: {}, text: '0.5 + 0.25' };
	const wanted = putFormula(putFormula(shed, computed), reading);
	const applied = applyChecked(shed, diffDocuments(shed, wanted));
	expect(applied.ok ? [] : applied.problems).toEqual([]);
	const shown = shownAt(wanted, 'open', 0);
	expect(shown.number('door', property, component)).toBe(0.75);
	expect(shown.number('door', 'translation', other)).toBe(1.75);
	expect(restValue(part, property, component)).not.toBe(0.75);
});

it.each([
	['world', [1, 1, 1]],
	['world', [2, 0.5, 3]],
	['world', [1, 4, 1]],
	['interface', [1, 1, 1]],
	['interface', [2, 0.5, 1]],
] as const)(
	'a part in the %s, at rest %s, keeps its volume while it is stretched, and rests as it did',
	(space, scale) => {
		const blank = new ProjectBuilder('Shed', space, 30)
			.part('door', { kind: 'box', size: [1, 1, 1] }, { scale: [...scale] })
			.startClip('open', 60)
			.build();
		const y = { clip: 'open', part: 'door', property: 'scale', component: 'y' } as const;
		const across = space === 'world' ? (['x', 'z'] as const) : (['x'] as const);
		const kept = keepVolume(blank, 'open', 'door');
		expect([keepsVolume(blank, 'open', 'door'), keepsVolume(kept, 'open', 'door')]).toEqual([false, true]);
		const scaleOf = (doc: typeof kept, axis: 'x' | 'y' | 'z') =>
			shownAt(doc, 'open', 0).number('door', 'scale', axis);
		across.forEach((axis) => expect(scaleOf(kept, axis)).toBeCloseTo(scale[axis === 'x' ? 0 : 2], 6));
		const volume = (doc: typeof kept) =>
			across.reduce((product, axis) => product * scaleOf(doc, axis), scaleOf(doc, 'y'));
		const before = volume(kept);
		for (const stretch of [0.2, 1, 1.7, 3]) {
			const stretched = setValue(kept, y, 0, stretch);
			expect(scaleOf(stretched, 'y')).toBe(stretch);
			expect(volume(stretched)).toBeCloseTo(before, 6);
			expect(applyChecked(blank, diffDocuments(blank, stretched)).ok).toBe(true);
		}
		expect(letVolumeChange(kept, 'open', 'door')).toEqual(blank);
	},
);

it('a part whose scale is computed otherwise cannot keep its volume, and it is said why', () => {
	const blank = new ProjectBuilder('Shed', 'world', 30)
		.part('door', { kind: 'box', size: [1, 1, 1] })
		.startClip('open', 60)
		.build();
	expect(whyVolumeChanges(blank, 'open', 'door')).toBe(null);
	const own = { ...newFormula('open', 'door', 'scale', 'z'), text: '2' };
	expect(whyVolumeChanges(putFormula(blank, own), 'open', 'door')).toBe(
		'A formula computes scale z already.',
	);
	const reads = { sy: { part: 'door', property: 'scale', component: 'x' } } as const;
	const ring = { ...newFormula('open', 'door', 'scale', 'y'), text: 'sy', inputs: reads };
	expect(whyVolumeChanges(putFormula(blank, ring), 'open', 'door')).toMatch(/scale/);
});
