/** What a glTF file can be asked for, each as a reader sees it that knows nothing of this application. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { eased, hold, linear, ONCE, ProjectBuilder, type KeyRow } from '../../../demo/builder';
import { localTime, type Loop } from '../../../player/loop';
import { between } from '../../../player/testing';
import { TICKS_PER_SECOND } from '../../../player/time';
import { clipsInOrder } from '../../document/types';
import { worstShare } from '../../tracks/report';
import type { Switches } from '../../tracks/ship';
import { shownAt } from '../../testing';
import { jsonOf, readChannels } from './foreign.testing';
import { readGltf } from './read';
import { shipGltf } from './testing';

const SHAPES = fc.constantFrom(linear, hold, eased(0.5, 0.5), eased(0.1, 0.8));
const rows = fc
	.array(fc.tuple(between(-2, 2), SHAPES), { minLength: 2, maxLength: 4 })
	.map((all) => all.map(([v, shape], i): KeyRow => [Math.round((60 * i) / (all.length - 1)), v, shape]));

const walker = (loop: Loop, x: KeyRow[], y: KeyRow[]) =>
	new ProjectBuilder('Walker', 'world', 60)
		.part('walker', { kind: 'box', size: [1, 2, 1] }, { at: [3, 0, 0] })
		.part('lamp', { kind: 'ball', size: [0.1, 0.1, 0.1] }, { parent: 'walker' })
		.startClip('walk', 60, loop)
		.keys('walker', 'translation.x', x, true)
		.keys('walker', 'translation.y', y)
		.build();

const channel = async (bytes: Uint8Array, to: string) => {
	const found = (await readChannels(bytes)).find((own) => own.to === to);
	if (!found) throw new Error(`there is no ${to}`);
	return found;
};

describe('a glTF file, asked for', () => {
	it('several rounds, has them as the clip plays them: back, after pauses, with what accumulates', async () => {
		const loops = fc.record({
			mode: fc.constantFrom('repeat' as const, 'alternate' as const),
			count: fc.constantFrom(null, 3),
			pause: fc.constantFrom(0, TICKS_PER_SECOND / 4),
		});
		const at = fc.array(between(0, 0.999), { minLength: 12, maxLength: 12 });
		await fc.assert(
			fc.asyncProperty(loops, rows, rows, at, async (loop, x, y, shares) => {
				const doc = walker(loop, x, y);
				const clip = doc.clips.walk;
				const shipped = await shipGltf(doc, [clip], { numbers: { rounds: 4 } });
				expect(worstShare(shipped)).toBeLessThanOrEqual(1);
				const rounds = loop.count ?? 4;
				const all = rounds * (clip.length + loop.pause) - loop.pause;
				expect(shipped.clips[0].seconds).toBeCloseTo(all / TICKS_PER_SECOND, 5);
				const read = (await readChannels(shipped.bytes)).find(({ to }) => to === 'walker/translation');
				if (!read) return;
				const bound = shipped.clips[0].tracks[0].bound * 1.001 + 1e-6;
				const now = { local: 0, round: 0 };
				for (const share of shares) {
					const t = share * all;
					localTime({ length: clip.length, loop: { ...loop, count: rounds } }, t, now);
					// Beside a jump a reader of float32 times is a hair early or late.
					const isAtJump = [...x, ...y].some(
						([frame]) => Math.abs(frame - (60 * now.local) / clip.length) < 0.01,
					);
					if (isAtJump) continue;
					const truth = shownAt(doc, 'walk', now.local, now.round);
					const seen = read.at(t / TICKS_PER_SECOND);
					(['x', 'y'] as const).forEach((axis, k) =>
						expect(Math.abs(seen[k] - truth.number('walker', 'translation', axis))).toBeLessThan(bound),
					);
				}
				expect(jsonOf(shipped.bytes).animations[0].extras?.hillock.loop.mode).toBe('once');
			}),
			{ numRuns: 25 },
		);
	});

	it('no cubic keys, has none and keeps the bound; at a fixed rate, has one a frame and says what error comes of it', async () => {
		const doc = walker(
			ONCE,
			[
				[0, 0, eased(0.5, 0.5)],
				[20, 3, hold],
				[40, 5, eased(0.1, 0.9)],
				[60, -1],
			],
			[
				[0, 0],
				[60, 2],
			],
		);
		const clips = clipsInOrder(doc);
		const straight = await shipGltf(doc, clips, { switches: { linearOnly: true } });
		expect(straight.clips[0].tracks.map(({ encoding }) => encoding)).not.toContain('CUBICSPLINE');
		expect(worstShare(straight)).toBeLessThanOrEqual(1);
		const baked = await shipGltf(doc, clips, { numbers: { keyRate: 10 } });
		const { times } = await channel(baked.bytes, 'walker/translation');
		expect(times).toHaveLength(11);
		times.forEach((t, i) => expect(t).toBeCloseTo(i / 10, 6));
		const [track] = baked.clips[0].tracks;
		expect(track.baked).toBe(true);
		// The jump at frame 40 takes a whole frame of the file.
		expect(track.error).toBeGreaterThan(1);
	});

	it('the way that a part travels, leaves it out or puts it on a node above: both together are the way', async () => {
		await fc.assert(
			fc.asyncProperty(rows, rows, between(0, 1), async (x, y, seconds) => {
				const doc = walker(ONCE, [...x.slice(0, -1), [60, x[0][1] + 5]], y);
				const clips = clipsInOrder(doc);
				const [kept, out, above] = await Promise.all(
					([{}, { travelOut: true }, { travelAbove: true }] as Switches[]).map((switches) =>
						shipGltf(doc, clips, { switches }),
					),
				);
				const at = async (bytes: Uint8Array, to: string) => (await channel(bytes, to)).at(seconds)[0];
				const whole = await at(kept.bytes, 'walker/translation');
				const rest = await at(out.bytes, 'walker/translation');
				const carried = await at(above.bytes, 'walker · travel/translation');
				const bound = kept.clips[0].tracks[0].bound * 4;
				expect(carried).toBeCloseTo(5 * seconds, 4);
				expect(Math.abs(whole - rest - carried)).toBeLessThan(bound);
				expect(Math.abs((await at(above.bytes, 'walker/translation')) - rest)).toBeLessThan(bound);
				const { nodes } = jsonOf(above.bytes);
				const carrier = nodes.find(({ name }) => name === 'walker · travel')!;
				expect(carrier.children!.map((i) => nodes[i].name)).toEqual(['walker']);
			}),
			{ numRuns: 10 },
		);
	});

	it('z up and other metres a unit, turns all by a node on top and counts in them', async () => {
		const doc = walker(
			ONCE,
			[
				[0, 1],
				[60, 2],
			],
			[[0, 0]],
		);
		const { bytes } = await shipGltf(doc, clipsInOrder(doc), {
			switches: { zUp: true },
			numbers: { metresPerUnit: 100 },
		});
		const { nodes, scenes } = jsonOf(bytes);
		const [top] = scenes[0].nodes.map((i) => nodes[i]);
		expect(scenes[0].nodes).toHaveLength(1);
		top.rotation!.forEach((v, k) => expect(v).toBeCloseTo([Math.SQRT1_2, 0, 0, Math.SQRT1_2][k], 7));
		expect((await channel(bytes, 'walker/translation')).at(0.5)[0]).toBeCloseTo(150, 3);
		expect(nodes.find(({ name }) => name === 'walker')!.translation![0]).toBeCloseTo(300, 3);
	});

	it('to switch parts, does it by bytes that readers know, and by a scale of 0 unless it is asked not to', async () => {
		const doc = new ProjectBuilder('Lamp', 'interface', 60)
			.part('lamp', { kind: 'card', size: [10, 10, 0], radius: 0 })
			.startClip('blink', 60, ONCE)
			.keys('lamp', 'visible', [
				[0, 1, hold],
				[20, 0, hold],
				[40, 1, hold],
			])
			.keys('lamp', 'opacity', [
				[0, 1, linear],
				[50, 0, linear],
				[60, 0.5],
			])
			.build();
		const clips = clipsInOrder(doc);
		const VISIBLE = '/nodes/0/extensions/KHR_node_visibility/visible';
		const [plain, alone, fading] = await Promise.all(
			([{}, { onlySwitches: true }, { fadesByScale: true }] as Switches[]).map((switches) =>
				shipGltf(doc, clips, { switches }),
			),
		);
		const read = await channel(plain.bytes, VISIBLE);
		expect(read.there).toBe(true);
		expect(read.interpolation).toBe('STEP');
		expect([0.1, 0.5, 0.8].map((t) => read.at(t)[0])).toEqual([1, 0, 1]);
		const scaleAt = async (bytes: Uint8Array, t: number) => (await channel(bytes, 'lamp/scale')).at(t)[0];
		expect(await scaleAt(plain.bytes, 0.5)).toBe(0);
		expect((await readChannels(alone.bytes)).map(({ to }) => to)).not.toContain('lamp/scale');
		expect(jsonOf(alone.bytes).extensionsRequired).toBeUndefined();
		// Its opacity is 0 at one instant only, which no reader needs.
		expect(await scaleAt(fading.bytes, 0.82)).toBe(1);
		const back = await readGltf(plain.bytes, 'back');
		if (!back.ok) throw new Error(back.problems[0].message);
		const [again] = Object.values(back.value.doc.channels).filter(({ property }) => property !== 'opacity');
		expect([again.property, again.keys.map(({ v }) => v)]).toEqual(['visible', [1, 0, 1, 1]]);
	});

	it('to hide what has no opacity, has a scale of 0 for as long', async () => {
		const doc = new ProjectBuilder('Fade', 'interface', 60)
			.part('card', { kind: 'card', size: [10, 10, 0], radius: 0 }, { scale: [2, 2, 2] })
			.startClip('fade', 60, ONCE)
			.keys('card', 'opacity', [
				[0, 0, linear],
				[20, 0, linear],
				[40, 1, linear],
				[60, -0.5],
			])
			.build();
		const { bytes } = await shipGltf(doc, clipsInOrder(doc), { switches: { fadesByScale: true } });
		const scale = await channel(bytes, 'card/scale');
		// 1 → −0.5 over 20 frames: none is left after frame 53⅓.
		expect([0.1, 0.3, 0.5, 0.7, 0.88, 0.9].map((t) => scale.at(t)[0])).toEqual([0, 0, 2, 2, 2, 0]);
	});
});
