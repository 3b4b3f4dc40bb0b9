import { describe, expect, it } from 'vitest';
import type { Part } from '$core/document/types';
import { makeParcelSlip } from '../../../demo/parcel-slip';
import { makeQuay } from '../../../demo/quay';
import { EASING_FAMILIES, type Shape } from '$player/easing/shape';
import { rowsOf } from './part-numbers';
import { FAMILY_SHEET, isChosen, MORE_EASINGS, profilePath, SHAPE_SHEET, THUMB, thumbnail } from './shapes';

const eased = (start: number, finish: number): Shape => ({ kind: 'eased', start, finish });
const family = (name: 'back' | 'sine', way: 'in' | 'out'): Shape => ({ kind: 'family', family: name, way });
const all = [...SHAPE_SHEET, ...MORE_EASINGS];

describe('the sheet of shapes', () => {
	it('has a tile for every family, each in its three ways to be found', () => {
		for (const own of EASING_FAMILIES) {
			expect(all.filter(({ shape }) => shape.kind === 'family' && shape.family === own)).toHaveLength(1);
			const ways = FAMILY_SHEET.filter(({ shape }) => shape.kind === 'family' && shape.family === own);
			expect(ways.map(({ name, note }) => `${name.split(' ').at(-1)} ${note}`)).toEqual([
				'in ease-in',
				'out ease-out',
				'in-out ease-in-out',
			]);
		}
		expect(new Set(all.map(({ name }) => name)).size).toBe(all.length);
	});

	it('keeps number keys for six of them', () => {
		expect(all.flatMap(({ shortcut, name }) => (shortcut ? [`${shortcut} ${name}`] : [])).sort()).toEqual([
			'1 Hold',
			'2 Linear',
			'3 Slow ends',
			'4 Fall',
			'5 Rise',
			'6 Spring',
		]);
	});

	it.each<[string, Shape, string]>([
		['any numbers of a spring', { ...SHAPE_SHEET[8].shape, mass: 7 } as Shape, 'Spring'],
		['a family whatever its way', family('back', 'in'), 'Back'],
		['another family', family('sine', 'in'), 'Sine'],
		['slow at both ends', eased(0.1, 0.9), 'Slow ends'],
		['slow at the start', eased(0.1, 0), 'Slow start'],
		['slow at the finish', eased(0, 0.1), 'Slow finish'],
		['slow at neither', eased(0, 0), ''],
	])('shows %s as chosen', (_, shape, name) => {
		expect(
			all
				.filter((choice) => isChosen(choice, shape))
				.map((choice) => choice.name)
				.join(),
		).toBe(name);
	});
});

describe('a profile', () => {
	const size = { width: 60, height: 30, pad: 5 };
	it('goes from its lowest value at the foot to its highest at the head, within its margin', () => {
		const { line, area, low, high } = profilePath((t) => 3 * t, 10, 20, size);
		const points = line
			.slice(2)
			.split(' L ')
			.map((point) => point.split(' ').map(Number));
		expect([low, high]).toEqual([30, 60]);
		expect([points[0], points[15], points.at(-1)]).toEqual([
			[0, 25],
			[30, 15],
			[60, 5],
		]);
		expect(points).toHaveLength(31);
		expect(area).toBe(`${line} L 60 30 L 0 30 Z`);
	});

	it('of one value lies at the foot; in a range of its own it leaves the box', () => {
		expect(profilePath(() => 4, 0, 1, size).line).toMatch(/^M 0\.0 25\.0 .* 60\.0 25\.0$/);
		expect(profilePath((t) => t, 0, 2, size, { low: 0, high: 1 }).line).toMatch(/60\.0 -15\.0$/);
	});

	it('of a tile begins and ends where its picture does, and tells its heights between', () => {
		const bottom = THUMB.height - THUMB.pad;
		const linear = thumbnail({ kind: 'linear' });
		expect([0, 0.5, 1].map((share) => linear.heightAt(share))).toEqual([bottom, 15, THUMB.pad]);
		// A hold has its whole box though it only jumps at the end.
		const hold = thumbnail({ kind: 'hold' });
		expect(hold.heightAt(0.99)).toBe(bottom);
		expect(hold.line).toMatch(new RegExp(`^M 0\\.0 ${bottom}\\.0 .* 56\\.0 ${THUMB.pad}\\.0$`));
		// What goes past its end has the head of the box for that.
		const back = thumbnail({ kind: 'family', family: 'back', way: 'out' });
		expect(back.heightAt(1)).toBeGreaterThan(THUMB.pad + 1);
		expect(back.heightAt(0)).toBeCloseTo(bottom, 6);
	});
});

describe('numbers of a part', () => {
	const told = (part: Part) =>
		rowsOf(part).map(({ head, continues, numbers }) => {
			const own = numbers.map(({ name, min, max }) => `${name}${min === undefined ? '' : ` ${min}…${max}`}`);
			return `${head}${continues ? ' on' : ''}: ${own.join(', ')}`;
		});
	it('stand three components a row, single ones three to a row after them, with their bounds', () => {
		expect(told(makeQuay().parts['quay-camera'])).toMatchInlineSnapshot(`
			[
			  "translation: x, y, z",
			  "rotation: x, y, z",
			  "scale: x, y, z",
			  "opacity:  0…1, field of view 1…170",
			]
		`);
		expect(told(makeParcelSlip().parts.slip)).toMatchInlineSnapshot(`
			[
			  "translation: x, y, z",
			  "rotation: x, y, z",
			  "scale: x, y, z",
			  "size: x 0…1000000, y 0…1000000, z 0…1000000",
			  "opacity:  0…1, radius 0…1000000",
			  "reveal: top 0…1, right 0…1",
			  "reveal on: bottom 0…1, left 0…1",
			]
		`);
	});
});
