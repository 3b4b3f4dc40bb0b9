import { describe, expect, it } from 'vitest';
import { ONCE, ProjectBuilder, linear } from '../../demo/builder';
import { channelLabel } from '../document/labels';
import { numbersOf } from '../document/rest';
import type { Doc, OwnNumber } from '../document/types';
import { unitAt } from '../document/units';
import { validateDocument } from '../document/validate';
import { shownAt } from '../testing';
import { newFormula, putFormula } from './formulas';
import { setValue } from './keys';
import { freeNumberKey, putNumber, removeNumber } from './own-numbers';
import { setRestValue } from './parts';

const plain = new ProjectBuilder('Yard', 'world', 30)
	.part('bell', { kind: 'ball', size: [1, 1, 1] })
	.part('ear', { kind: 'ball', size: [1, 1, 1] })
	.startClip('ring', 30, ONCE)
	.keys('bell', 'rotation.z', [
		[0, 0, linear],
		[30, 20],
	])
	.build();
const volume: OwnNumber = { key: 'n0', name: 'volume', unit: 'dB', low: -60, high: 0, value: -20 };
const AT = { clip: 'ring', part: 'bell', property: 'custom', component: 'n0' } as const;
const withVolume = putNumber(plain, 'bell', volume);
const problems = (doc: Doc) => {
	const read = validateDocument({ format: 'hillock-project', version: 8, ...structuredClone(doc) });
	return read.ok ? [] : read.problems.map(({ message }) => message);
};

describe('a number of one’s own', () => {
	it('is one of the part’s numbers, called and counted as its own', () => {
		const { bell } = withVolume.parts;
		expect(numbersOf(bell).at(-1)).toEqual({ property: 'custom', component: 'n0' });
		expect(channelLabel('custom', 'n0', bell)).toBe('volume');
		expect(['dB', '%', ''].map((unit) => unitAt(putNumber(plain, 'bell', { ...volume, unit }), AT))).toEqual([
			' dB',
			'%',
			'',
		]);
		expect(problems(withVolume)).toEqual([]);
	});

	it('rests within its range, whoever sets it', () => {
		const rest = (doc: Doc) => doc.parts.bell.numbers![0].value;
		expect(rest(setRestValue(withVolume, 'bell', 'custom', 'n0', 7))).toBe(0);
		expect(rest(setRestValue(withVolume, 'bell', 'custom', 'n0', -7.5))).toBe(-7.5);
		expect(rest(putNumber(withVolume, 'bell', { ...volume, low: -10 }))).toBe(-10);
	});

	it('is moved by keys and by formulas, and read by them', () => {
		const keyed = setValue(setValue(withVolume, AT, 0, -40), AT, 72_000, -20);
		expect(shownAt(keyed, 'ring', 36_000).number('bell', 'custom', 'n0')).toBeCloseTo(-30, 6);
		const formula = { ...newFormula('ring', 'ear', 'scale', 'x'), text: 'v / -10', inputs: { v: AT_INPUT } };
		expect(shownAt(putFormula(keyed, formula), 'ring', 36_000).number('ear', 'scale', 'x')).toBeCloseTo(3, 6);
		expect(problems(putFormula(keyed, formula))).toEqual([]);
	});

	it('goes with its keys; formulas that read it go on with its rest value', () => {
		const formula = { ...newFormula('ring', 'ear', 'scale', 'x'), text: 'v', inputs: { v: AT_INPUT } };
		const full = putFormula(setValue(withVolume, AT, 0, -40), formula);
		const gone = removeNumber(full, 'bell', 'n0');
		expect(Object.hasOwn(gone.parts.bell, 'numbers')).toBe(false);
		expect(Object.keys(gone.channels)).toEqual(['ring/bell/rotation/z']);
		expect(gone.formulas[formula.id].inputs).toEqual({ v: { value: -20 } });
		expect(problems(gone)).toEqual([]);
	});

	it('keeps its component when another goes, and leaves room for eight', () => {
		let doc = plain;
		const keys = [];
		for (let key = freeNumberKey(doc.parts.bell); key; key = freeNumberKey(doc.parts.bell)) {
			keys.push(key);
			doc = putNumber(doc, 'bell', { ...volume, key, name: key });
		}
		expect(keys).toEqual(['n0', 'n1', 'n2', 'n3', 'n4', 'n5', 'n6', 'n7']);
		const less = removeNumber(doc, 'bell', 'n2');
		expect(less.parts.bell.numbers!.map(({ key, name }) => key === name)).toEqual(Array(7).fill(true));
		expect(freeNumberKey(less.parts.bell)).toBe('n2');
	});

	it.each<[Partial<OwnNumber>, RegExp]>([
		[{ low: 0, high: 0 }, /must end above/],
		[{ value: 7 }, /within the range/],
		[{ key: 'n9' }, /must match pattern/],
	])('%j is refused', (change, message) => {
		const { bell } = withVolume.parts;
		const bad = {
			...withVolume,
			parts: { ...withVolume.parts, bell: { ...bell, numbers: [{ ...volume, ...change }] } },
		};
		expect(problems(bad)[0]).toMatch(message);
	});
});

const AT_INPUT = { part: 'bell', property: 'custom', component: 'n0' } as const;
