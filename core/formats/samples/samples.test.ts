/** Samples as JSON: what `hillock sample` prints comes back as clips and takes. */
import { strToU8 } from 'fflate';
import { describe, expect, it } from 'vitest';
import { makeParcelSlip } from '../../../demo/parcel-slip';
import { makeQuay } from '../../../demo/quay';
import { angleBetween } from '../../../player/maths/quaternion';
import { clipsInOrder, type Doc } from '../../document/types';
import { takeIn } from '../loaders';
import { formatOf } from '../registry';
import { sampleRows, type SampleRow } from './write';

function read(text: string) {
	const bytes = strToU8(text);
	const format = formatOf(bytes, 'quay.json');
	expect(format?.id).toBe('samples');
	return takeIn(format, { bytes, name: 'quay', sha256: '' });
}
const rowsOf = (doc: Doc, rate: number) =>
	clipsInOrder(doc).flatMap((clip) => [...sampleRows(doc, clip, rate)]);
const printed = (rows: readonly unknown[]) => `[\n${rows.map((row) => JSON.stringify(row)).join(',\n')}\n]\n`;

describe('samples as JSON', () => {
	it.each([
		['Quay', makeQuay()],
		['Parcel slip', makeParcelSlip()],
	])('of %s come back with the same numbers at each time, and as takes', async (_, doc) => {
		const rows = rowsOf(doc, 30);
		const taken = await read(printed(rows));
		if (!taken.ok) throw new Error(taken.problems[0].message);
		const again = new Map(
			rowsOf(taken.value.doc, 30).map((row) => [JSON.stringify({ ...row, value: 0 }), row]),
		);
		let compared = 0;
		for (const row of rows) {
			const own = again.get(JSON.stringify({ ...row, value: 0 }));
			// What rests at what a part is made with has no channel.
			if (!own) continue;
			if (row.path === 'rotation') expect(angleBetween(row.value, own.value)).toBeLessThan(0.01);
			// A colour that rests is kept as its part's, in bytes.
			else row.value.forEach((v, k) => expect(own.value[k]).toBeCloseTo(v, row.path === 'colour' ? 2 : 4));
			compared++;
		}
		expect(compared).toBeGreaterThan(0.8 * rows.length);
		expect(Object.keys(taken.value.doc.takes).length).toBeGreaterThan(3);
	});

	it.each([
		[[], /no list of samples/],
		[[{ clip: 'a' }], /no row with clip/],
		[[row({ value: [1, 2] })], /translation has 2 numbers/],
		[[row({ t: 1 }), row({ t: 1 })], /1 s is no time after/],
		[[row({ t: -1 })], /no time after/],
		[[row({ value: [0, 0, 0] }), row({ t: 1, value: [0, 0, 0] })], /anything moves/],
	])('that say no motion are refused with their row: %j', async (rows, message) => {
		const bytes = strToU8(printed(rows));
		const { samples } = await import('./format');
		const taken = await takeIn(samples, { bytes, name: 'a', sha256: '' });
		expect(taken.ok ? '' : taken.problems[0].message).toMatch(message);
	});
});

function row(own: Partial<SampleRow>): SampleRow {
	return { clip: 'a', target: 'crate', path: 'translation', t: 0, value: [0, 1, 0], ...own };
}
