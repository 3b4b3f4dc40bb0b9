import { strFromU8 } from 'fflate';
import { execFileSync } from 'node:child_process';
import { describe, expect, it } from 'vitest';
import { eased, hold, ONCE, ProjectBuilder, REPEAT } from '../../../demo/builder';
import { makeQuay } from '../../../demo/quay';
import { clipsInOrder, type Doc } from '../../document/types';
import { colourIn } from '../../clip/layout';
import { shownAt } from '../../testing';
import { TICKS_PER_SECOND } from '../../../player/time';
import { formatOf } from '../registry';
import { csvShipper } from './shipping';

/** Rows as somebody else's reader gives them. */
function readRows(bytes: Uint8Array): string[][] {
	const script = 'import csv, json, sys; print(json.dumps(list(csv.reader(sys.stdin))))';
	return JSON.parse(
		execFileSync('python3', ['-c', script], { input: strFromU8(bytes), encoding: 'utf8' }),
	) as string[][];
}
const ship = (doc: Doc, rate?: number) =>
	csvShipper.ship(doc, clipsInOrder(doc), { numbers: rate ? { rate } : {} });

describe('a table', () => {
	it('has what the project shows at each of its moments, of any clip', async () => {
		const quay = makeQuay();
		const [head, ...rows] = readRows((await ship(quay, 30)).bytes);
		let looked = 0;
		for (const clip of clipsInOrder(quay)) {
			const own = rows.filter(([name]) => name === clip.name);
			expect(own.length).toBe(Math.ceil((clip.length / TICKS_PER_SECOND) * 30 - 1e-9) + 1);
			expect(Number(own.at(-1)![1])).toBeCloseTo(clip.length / TICKS_PER_SECOND, 6);
			for (const row of own.filter((_, i) => i % 7 === 0 || i === own.length - 1)) {
				const shown = shownAt(quay, clip.id, Math.min(clip.length, Number(row[1]) * TICKS_PER_SECOND));
				for (const part of Object.values(quay.parts))
					for (const [k, axis] of (['x', 'y', 'z'] as const).entries())
						for (const [property, unit] of [
							['translation', ' [m]'],
							['rotation', ' [°]'],
							['scale', ''],
						] as const) {
							const cell = row[head.indexOf(`${part.name} ${property} ${axis}${unit}`)];
							if (!cell) continue;
							looked++;
							const value = shown.number(part.id, property, axis);
							const room = property === 'rotation' ? 1e-3 : 1e-5;
							expect(
								Math.abs(Number(cell) - value),
								`${clip.name} ${part.name} ${property} ${k}`,
							).toBeLessThan(room);
						}
			}
		}
		expect(looked).toBeGreaterThan(400);
	});

	it('keeps any name, colours, orientations and what is not moved in a clip', async () => {
		const builder = new ProjectBuilder('Odd', 'interface', 24)
			.part('a "b", c\nd', { kind: 'card', size: [8, 4, 0], radius: 0 })
			.startClip('one, two', 24, ONCE)
			.keys('a "b", c\nd', 'visible', [
				[0, 1, hold],
				[12, 0, hold],
			])
			.startClip('other', 12, REPEAT);
		builder.colours('a "b", c\nd', [
			[0, '#ff0000', eased(0.5, 0.5)],
			[12, '#0000ff'],
		]);
		const doc = builder.build();
		const { bytes } = await ship(doc);
		expect(formatOf(bytes, 'a.csv')?.id).toBe('csv');
		const [head, ...rows] = readRows(bytes);
		expect(head).toEqual([
			'clip',
			'time [s]',
			'a "b", c\nd visible',
			'a "b", c\nd colour r',
			'a "b", c\nd colour g',
			'a "b", c\nd colour b',
			'a "b", c\nd colour alpha',
		]);
		expect(rows.length).toBe(25 + 13);
		expect([rows[11][2], rows[12][2], rows[0][3]]).toEqual(['1', '0', '']);
		const [part] = Object.values(doc.parts);
		const { posed } = shownAt(doc, clipsInOrder(doc)[1].id, TICKS_PER_SECOND / 4);
		expect(rows[25 + 6].slice(3).map(Number)).toEqual(colourIn(posed, part).map((v) => expect.closeTo(v, 8)));
	});

	it('of more rows than any table has is refused', async () => {
		const doc = new ProjectBuilder('Long', 'world', 60)
			.part('a', { kind: 'box', size: [1, 1, 1] })
			.startClip('long', 60 * 1200, ONCE)
			.keys('a', 'translation.x', [[0, 1]])
			.build();
		await expect(ship(doc, 1000)).rejects.toThrow(/1200000 rows/);
		expect(readRows((await ship(doc, 1)).bytes).length).toBe(1202);
	});
});
