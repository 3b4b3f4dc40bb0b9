import { createHash } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { makeQuay } from '../../../demo/quay';
import { hookTable, walkingPuppet } from '../../../demo/recordings';
import { CLEANING } from '../../document/takes';
import { TakeCleaner } from '../../takes/clean';
import { readTakeFile } from '../../takes/samples-file';
import { TICKS_PER_SECOND } from '../../../player/time';
import { takeBvh } from '../bvh/read';
import { takeCsv } from '../csv/read';
import { channelId, channelsOfClip, clipsInOrder, kindOf } from '../../document/types';
import { loadShipper, takeIn } from '../loaders';
import { formatOf, shippingFormat } from '../registry';
import { withAllTakes } from './recorded';

const bytesOf = (text: string) => ({ bytes: new TextEncoder().encode(text), name: 'walk', sha256: '' });

describe('a recording that comes in', () => {
	it('has a take of its raw samples beside exact keys, in a file under its hash', async () => {
		const table = hookTable();
		const read = await takeCsv(bytesOf(table));
		if (!read.ok) throw new Error(read.problems[0].message);
		const { doc, files } = read.value;
		const [take] = Object.values(doc.takes);
		expect([take.name, take.samples, take.columns.length, files.length]).toEqual(['walk', 540, 2, 1]);
		expect(createHash('sha256').update(files[0].content).digest('hex')).toBe(take.asset);
		expect(files[0].id).toBe(take.asset);
		const samples = readTakeFile(files[0].content);
		if (!samples.ok) throw new Error(samples.problems[0].message);
		const rows = table
			.trim()
			.split('\n')
			.slice(1)
			.map((row) => row.split(',').map(Number));
		rows.forEach(([seconds, x, y], i) => {
			expect(samples.value.times[i]).toBe(Math.round((seconds - rows[0][0]) * TICKS_PER_SECOND));
			expect([samples.value.columns[0][i], samples.value.columns[1][i]]).toEqual([
				Math.fround(x),
				Math.fround(y),
			]);
		});
		// Spikes are five, and the way that the hook was let down needs few keys.
		const [, down] = new TakeCleaner(samples.value).clean({
			...take.cleaning,
			spikes: true,
			tolerance: 0.02,
		});
		expect([down.figures.spikes, down.figures.keys <= 8]).toEqual([5, true]);
	});

	it('of a skeleton has one column for each number that moves', async () => {
		const read = await takeBvh(bytesOf(walkingPuppet()));
		if (!read.ok) throw new Error(read.problems[0].message);
		const { doc } = read.value;
		const [take] = Object.values(doc.takes);
		const moving = Object.values(doc.channels).filter(({ keys }) => keys.length > 1);
		expect(
			take.columns.map(({ part, property, component }) => `${part}/${property}/${component}`).sort(),
		).toEqual(moving.map(({ part, property, component }) => `${part}/${property}/${component}`).sort());
		expect(take.samples).toBe(180);
	});

	it('has a gap where the file says nothing for a while, and none where it seldom speaks', async () => {
		const rows = Array.from({ length: 120 }, (_, i) => {
			const x = i > 40 && i < 70 ? '' : String(Math.sin(i / 9));
			return `${i / 60},${x},${i % 4 === 0 ? i : ''}`;
		});
		const read = await takeCsv(bytesOf(`time,x,y\n${rows.join('\n')}\n`));
		if (!read.ok) throw new Error(read.problems[0].message);
		const { doc, files } = read.value;
		const gaps = Object.values(doc.takes).map(({ asset, columns: [{ component }] }) => {
			const samples = readTakeFile(files.find(({ id }) => id === asset)!.content);
			if (!samples.ok) throw new Error(samples.problems[0].message);
			const [cleaned] = new TakeCleaner(samples.value).clean({ ...CLEANING, tolerance: 0.01 });
			const [bridged] = new TakeCleaner(samples.value).clean({ ...CLEANING, bridge: 72_000 });
			return [component, cleaned.stretches.length, bridged.stretches.length];
		});
		expect(gaps.sort()).toEqual([
			['x', 2, 1],
			['y', 1, 1],
		]);
	});

	it('is none where there are few samples, or few a second', async () => {
		const slow = Array.from({ length: 60 }, (_, i) => `${i},${(i * 7) % 5}`);
		const few = Array.from({ length: 20 }, (_, i) => `${i / 60},${(i * 7) % 5}`);
		for (const rows of [slow, few]) {
			const read = await takeCsv(bytesOf(`time,hook y\n${rows.join('\n')}\n`));
			if (!read.ok) throw new Error(read.problems[0].message);
			expect([read.value.doc.takes, read.value.files]).toEqual([{}, []]);
			expect(Object.values(read.value.doc.channels)[0]).toMatchObject({
				property: 'translation',
				component: 'y',
			});
		}
	});

	it('of a glTF file is each animation that is sampled as densely as a recording', async () => {
		const { bytes } = await (
			await loadShipper(shippingFormat('gltf')!)
		).ship(makeQuay(), clipsInOrder(makeQuay()).slice(0, 3), { numbers: { keyRate: 60 } });
		const read = await takeIn(formatOf(bytes, 'quay.glb'), { bytes, name: 'quay', sha256: 'a'.repeat(64) });
		if (!read.ok) throw new Error(read.problems[0].message);
		const { doc, files } = read.value;
		const takes = Object.values(doc.takes);
		expect(takes.length).toBeGreaterThan(0);
		for (const { asset, columns, clip } of takes) {
			const samples = readTakeFile(files.find(({ id }) => id === asset)!.content);
			if (!samples.ok) throw new Error(samples.problems[0].message);
			columns.forEach(({ part, property, component }, c) => {
				const { keys } = doc.channels[channelId(clip, part, property, component)];
				expect(keys.map(({ t }) => t)).toEqual([...samples.value.times]);
				expect(keys.map(({ v }) => Math.fround(v))).toEqual([...samples.value.columns[c]]);
			});
		}
	});

	it('of clips that are none is what they do, between keys too, and orientations as angles', async () => {
		const doc = makeQuay();
		const { doc: taken } = await withAllTakes({ doc, files: [], leftOut: [] });
		for (const clip of clipsInOrder(doc)) {
			const own = Object.values(taken.takes).filter((take) => take.clip === clip.id);
			const numbers = channelsOfClip(doc, clip.id).filter(({ property }) => kindOf(property) === 'number');
			const turned = channelsOfClip(doc, clip.id).filter(({ property }) => property === 'orientation');
			const coloured = channelsOfClip(doc, clip.id).filter(({ property }) => property === 'colour');
			expect(own.flatMap(({ columns }) => columns)).toHaveLength(
				numbers.length + 3 * turned.length + 4 * coloured.length,
			);
			for (const take of own) expect(take.samples).toBeGreaterThan((clip.length / TICKS_PER_SECOND) * 59);
		}
	});
});
