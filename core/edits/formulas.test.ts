import { expect, it } from 'vitest';
import { ProjectBuilder } from '../../demo/builder';
import { shownAt } from '../testing';
import { diffDocuments } from '../document/changeset';
import { applyChecked } from '../document/checked-changeset';
import { numbersOf, restValue } from '../document/rest';
import { isVector, type Drawing, type Part } from '../document/types';
import { channelLabel } from '../document/labels';
import { newFormula, putFormula } from './formulas';

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
