/** Tables that come in: ours, those of other programs, and those that are none. */
import { strToU8 } from 'fflate';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeQuay } from '../../../demo/quay';
import { between } from '../../../player/testing';
import { TICKS_PER_SECOND } from '../../../player/time';
import { clipsInOrder, type Doc, type Property } from '../../document/types';
import { shownAt } from '../../testing';
import { formatOf } from '../registry';
import { takeIn } from '../loaders';
import { csvShipper } from './shipping';

async function take(text: string | Uint8Array, name = 'table.csv') {
	const bytes = typeof text === 'string' ? strToU8(text) : text;
	const format = formatOf(bytes, name);
	expect(format?.id).toBe('csv');
	const taken = await takeIn(format, { bytes, name: name.replace(/\.\w+$/, ''), sha256: '' });
	if (!taken.ok) throw new Error(taken.problems[0].message);
	return taken.value;
}
/** What a clip shows of the part of a name at a time in seconds. */
function at(doc: Doc, seconds: number, part: string, property: Property, component = 'value', clip = 0) {
	const own = Object.values(doc.parts).find(({ name }) => name === part)!;
	const { id } = clipsInOrder(doc)[clip];
	return shownAt(doc, id, seconds * TICKS_PER_SECOND).number(own.id, property, component as never);
}

describe('a table that comes in', () => {
	it('as it left has the same clips, and at each row the same numbers', async () => {
		const quay = makeQuay();
		const { bytes } = await csvShipper.ship(quay, clipsInOrder(quay), { numbers: { rate: 60 } });
		const { doc, leftOut } = await take(bytes, 'quay.csv');
		expect(leftOut).toEqual([]);
		let looked = 0;
		for (const [k, clip] of clipsInOrder(quay).entries()) {
			const twin = clipsInOrder(doc)[k];
			expect([twin.name, Math.abs(twin.length - clip.length) < 2]).toEqual([clip.name, true]);
			for (const channel of Object.values(doc.channels).filter((own) => own.clip === twin.id)) {
				const { property, component } = channel;
				if (property === 'colour' || property === 'orientation') continue;
				const part = Object.values(quay.parts).find(({ name }) => name === doc.parts[channel.part].name)!;
				for (const frame of [0, 7, 23, 31]) {
					const t = Math.min(clip.length, (frame * TICKS_PER_SECOND) / 60);
					const truth = shownAt(quay, clip.id, t).number(part.id, property, component);
					const read = shownAt(doc, twin.id, t).number(channel.part, property, component);
					expect(Math.abs(read - truth), `${clip.name} ${part.name} ${property}`).toBeLessThan(1e-4);
					looked++;
				}
			}
		}
		expect(looked).toBeGreaterThan(80);
	});

	it('has few keys where it is straight, and is exact at every row', async () => {
		await fc.assert(
			fc.asyncProperty(fc.array(between(-5, 5), { minLength: 2, maxLength: 6 }), async (marks) => {
				const value = (i: number) => {
					const k = Math.min(marks.length - 2, Math.floor(i / 10));
					return marks[k] + ((marks[k + 1] - marks[k]) * (i - 10 * k)) / 10;
				};
				const count = 10 * (marks.length - 1) + 1;
				const rows = Array.from({ length: count }, (_, i) => `${i / 60},${value(i)}`);
				if (marks.every((v) => v === marks[0])) return;
				const { doc } = await take(`time,crate.position.y\n${rows.join('\n')}\n`);
				const [channel] = Object.values(doc.channels);
				expect(channel.keys.length).toBeLessThanOrEqual(marks.length);
				for (let i = 0; i < count; i += 3)
					expect(at(doc, i / 60, 'crate', 'translation', 'y')).toBeCloseTo(value(i), 4);
			}),
			{ numRuns: 30 },
		);
	});

	it('of other programs is understood: semicolons, milliseconds, frames, no heads', async () => {
		const other = await take(
			't [ms];arm_rot_z;opacity;speed\n0;0;1;3\n500;90;0.5;4\n1000;45;0;5\n',
			'arm.csv',
		);
		expect(at(other.doc, 0.25, 'arm', 'rotation', 'z')).toBeCloseTo(45, 6);
		expect(at(other.doc, 0.75, 'arm', 'opacity')).toBeCloseTo(0.25, 6);
		const frames = await take('frame,x,y\n1,0,0\n31,3,1\n', 'hop.csv');
		expect(at(frames.doc, 0.5, 'hop', 'translation', 'x')).toBeCloseTo(1.5, 6);
		const bare = await take('0,2\n1,4\n', 'bare.csv').catch(() => null);
		// Nothing in it says that it is a table of times but its name.
		expect(bare && at(bare.doc, 0.5, 'bare', 'custom', 'n0')).toBeCloseTo(3, 6);
		const px = await take('clip,time [s],card translation x [px]\nin,0,5\nin,1,15\nout,0,1\nout,2,3\n');
		expect(px.doc.project.space).toBe('interface');
		expect(clipsInOrder(px.doc).map(({ name }) => name)).toEqual(['in', 'out']);
		expect(at(px.doc, 1, 'card', 'translation', 'x', 1)).toBeCloseTo(2, 6);
	});

	it('with many columns that say nothing loses none of them', async () => {
		const heads = Array.from({ length: 20 }, (_, i) => `LHip${i} sensor`);
		const { doc, leftOut } = await take(
			`time,${heads.join(',')}\n0,${heads.map((_, i) => i).join(',')}\n1,${heads.map((_, i) => i + 1).join(',')}\n`,
			'suit.csv',
		);
		expect(leftOut).toEqual([]);
		expect(Object.keys(doc.channels)).toHaveLength(20);
		expect(Object.values(doc.parts).map(({ name }) => name)).toEqual(['suit', 'suit 2', 'suit 3']);
	});

	it('has its units in its heads, or is in metres, degrees and shares', async () => {
		const { doc } = await take(
			'time [ms],arm rotation z [rad],arm pos x (cm),arm opacity [%],dial [turns]\n0,0,0,100,0\n500,3.14159265,250,50,2\n',
		);
		expect(at(doc, 0.5, 'arm', 'rotation', 'z')).toBeCloseTo(180, 4);
		expect(at(doc, 0.5, 'arm', 'translation', 'x')).toBeCloseTo(2.5, 6);
		expect(at(doc, 0.5, 'arm', 'opacity')).toBeCloseTo(0.5, 6);
	});

	it.each([
		['time,x\n0,1\n0,2\n', /is no time after/],
		['time,x\nnoon,1\n1,2\n', /“noon” is no time/],
		['time,x\n', /no rows/],
		['clip,x\na,1\na,2\n', /no column of times/],
		['time,x\n0,0\n1,0\n', /No column of the table changes/],
		['time,"x\n0,4\n', /quote|Quoted/i],
	])('that says no motion is refused: %j', async (text, message) => {
		const taken = await takeIn(formatOf(strToU8(text), 'a.csv'), {
			bytes: strToU8(text),
			name: 'a',
			sha256: '',
		});
		expect(taken.ok ? '' : taken.problems[0].message).toMatch(message);
	});

	it('of a very long straight line is read in no time', async () => {
		const rows = Array.from({ length: 200_000 }, (_, i) => `${i / 400},${i / 8}`);
		const { doc } = await take(`time,x\n${rows.join('\n')}`);
		expect(Object.values(doc.channels)[0].keys.length).toBe(2);
	});
});
