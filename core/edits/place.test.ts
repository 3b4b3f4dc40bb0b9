import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { eased, handles, linear, ONCE, ProjectBuilder, REPEAT } from '../../demo/builder';
import { makeQuay } from '../../demo/quay';
import { curveOf } from '../clip/compile';
import { seamOf } from '../clip/seam';
import { evaluateCurve } from '../../player/curve/evaluate';
import { decompose, invertMatrix, compose, multiplyMatrices, transformPoint } from '../pose/matrix';
import { worldMatrix } from '../clip/path';
import { angleBetween, fromEuler, type Quaternion } from '../../player/maths/quaternion';
import type { Doc } from '../document/types';
import type { Vec3 } from '../../player/maths/vector';
import { movePivot, pivotDrift } from './pivot';
import { reparent, reparentBaked } from './reparent';
import { blendSeam, endAtStart, markAccumulating, moveStrayKeys, shiftLastKey, smoothSeam } from './seam';
import { between } from '../../player/testing';
import { shownAt } from '../testing';

const angle = between(-180, 180);
const place = between(-5, 5);
const factor = between(0.2, 3);
const vec = (of: fc.Arbitrary<number>) => fc.tuple(of, of, of) as fc.Arbitrary<Vec3>;

describe('matrices', () => {
	it('come apart into what they were made of, mirrored ones too', () => {
		fc.assert(
			fc.property(vec(place), vec(angle), vec(factor), fc.boolean(), (t, r, s, mirrored) => {
				const scale: Vec3 = mirrored ? [-s[0], s[1], s[2]] : s;
				const m = compose(t, fromEuler(r, 'XYZ'), scale);
				const parts = decompose(m)!;
				const again = compose(parts.translation, parts.rotation, parts.scale);
				m.forEach((v, i) => expect(again[i]).toBeCloseTo(v, 9));
				const unit = multiplyMatrices(m, invertMatrix(m)!);
				unit.forEach((v, i) => expect(v).toBeCloseTo(i % 5 === 0 ? 1 : 0, 9));
			}),
		);
	});

	it('come apart where they turn half way round, about any axis', () => {
		for (const axis of [
			[1, 0, 0],
			[0, 1, 0],
			[0, 0, 1],
			[1, 1, 1],
			[1, -2, 0],
			[-1, 2, -3],
		]) {
			const length = Math.hypot(...axis);
			const half = [...axis.map((v) => v / length), 0] as Quaternion;
			const { rotation } = decompose(compose([0, 0, 0], half, [1, 1, 1]))!;
			const alike = rotation.reduce((sum, v, i) => sum + v * half[i], 0);
			expect(Math.abs(alike)).toBeCloseTo(1, 9);
		}
	});

	it('are refused with shear, and where they flatten space', () => {
		const turned = compose([0, 0, 0], fromEuler([0, 0, 30], 'XYZ'), [1, 1, 1]);
		const squashed = compose([0, 0, 0], fromEuler([0, 0, 0], 'XYZ'), [2, 1, 1]);
		expect(decompose(multiplyMatrices(squashed, turned))).toBeNull();
		expect(invertMatrix(compose([1, 2, 3], [0, 0, 0, 1], [1, 0, 1]))).toBeNull();
	});
});

/** Where points of a part's drawing and its children are in the world at a time. */
function places(doc: Doc, clip: string, id: string, t: number): Vec3[] {
	const { compiled, posed } = shownAt(doc, clip, t);
	const offset = doc.parts[id].drawing.offset;
	const own = worldMatrix(compiled, id, posed)!;
	const marks: Vec3[] = [
		[0, 0, 0],
		[1, 0, 0],
		[0, 1, 0],
		[0, 0, 1],
	];
	const drawn = marks.map((mark) => transformPoint(own, mark.map((v, k) => v + offset[k]) as Vec3));
	const children = compiled.parts.filter((part) => part.parent === id);
	return [
		...drawn,
		...children.map((child) => transformPoint(worldMatrix(compiled, child.id, posed)!, [0, 0, 0])),
	];
}

function expectSame(a: Vec3[], b: Vec3[], digits = 9): void {
	a.forEach((point, i) => point.forEach((v, k) => expect(b[i][k]).toBeCloseTo(v, digits)));
}

/** A sign that hangs on a beam, with a lamp that hangs on it. */
function sign(rest: Vec3 = [0, 0, 0], scale: Vec3 = [1, 1, 1]): Doc {
	return new ProjectBuilder('Sign', 'world', 30)
		.part('beam', { kind: 'box', size: [4, 0.2, 0.2] }, { at: [1, 3, 0], turn: [0, 20, 0] })
		.part('sign', { kind: 'box', size: [1, 1, 0.1] }, { parent: 'beam', at: [0.5, -1, 0], turn: rest, scale })
		.part('lamp', { kind: 'ball', size: [0.2, 0.2, 0.2] }, { parent: 'sign', at: [0, -0.6, 0] })
		.part('boat', { kind: 'box', size: [1, 1, 1] }, { at: [-2, 0, 1], turn: [0, -40, 0] })
		.startClip('swing', 60, ONCE)
		.keys('sign', 'translation.x', [
			[0, 0.5, handles],
			[30, 0.9, handles],
			[60, 0.5],
		])
		.keys('lamp', 'translation.y', [
			[0, -0.6, linear],
			[60, -0.8],
		])
		.keys('boat', 'translation.x', [
			[0, -2, eased(0.4, 0.4)],
			[60, 2],
		])
		.keys('boat', 'rotation.y', [
			[0, -40, linear],
			[60, 40],
		])
		.build();
}

describe('a pivot', () => {
	it('moves while drawing and children stay, at every rest pose', () => {
		fc.assert(
			fc.property(vec(angle), vec(factor), vec(place), fc.nat(144_000), (rest, scale, d, t) => {
				const doc = sign(rest, scale);
				const moved = movePivot(doc, 'sign', d);
				// Nothing turns or grows in this clip, so that it is exact at any time.
				expectSame(places(doc, 'swing', 'sign', t), places(moved, 'swing', 'sign', t), 6);
				expect(pivotDrift(doc, moved, doc.clips.swing, 'sign')).toBeLessThan(1e-6);
			}),
			{ numRuns: 40 },
		);
	});

	it('goes there and back to the same project', () => {
		const doc = sign([10, 20, 30]);
		const back = movePivot(movePivot(doc, 'sign', [0.5, -0.25, 1]), 'sign', [-0.5, 0.25, -1]);
		expectSame(places(doc, 'swing', 'sign', 50_000), places(back, 'swing', 'sign', 50_000));
	});

	it('tells how far the drawing is elsewhere while the part turns', () => {
		const doc = makeQuay();
		const moved = movePivot(doc, 'crane-arm', [1, 0, 0]);
		const drift = pivotDrift(doc, moved, doc.clips['crane-swing'], 'crane-arm');
		// A turn from 16° to 44°, and another rest: the chord of what it turned away from its rest.
		const rest = doc.parts['crane-arm'].rest.rotation[2];
		const most = Math.max(Math.abs(44 - rest), Math.abs(16 - rest));
		expect(drift).toBeCloseTo(2 * Math.sin((most * Math.PI) / 360), 3);
	});
});

describe('another parent', () => {
	const at = { local: 54_321 };

	it('leaves a part where it is at the playhead', () => {
		for (const parent of ['boat', null]) {
			const doc = sign([10, 20, 30], [1, 1.5, 1]);
			const hung = reparent(doc, 'sign', parent, { clip: doc.clips.swing, ...at });
			if (!hung.ok) throw new Error(hung.problems[0].message);
			expect(hung.value.parts.sign.parent).toBe(parent);
			expectSame(places(doc, 'swing', 'sign', at.local), places(hung.value, 'swing', 'sign', at.local));
		}
	});

	it('leaves it where it is all through a clip, when baked', () => {
		const doc = sign([10, 20, 30]);
		const hung = reparentBaked(doc, 'sign', 'boat', { clip: doc.clips.swing, ...at });
		if (!hung.ok) throw new Error(hung.problems[0].message);
		for (let t = 0; t <= 144_000; t += 1111)
			places(doc, 'swing', 'sign', t).forEach((point, i) => {
				const now = places(hung.value, 'swing', 'sign', t)[i];
				expect(Math.hypot(...point.map((v, k) => v - now[k]))).toBeLessThan(0.012);
			});
	});

	it('is refused where it would shear the part, or make a ring', () => {
		const doc = sign([0, 0, 30]);
		const squashed = {
			...doc,
			parts: {
				...doc.parts,
				boat: { ...doc.parts.boat, rest: { ...doc.parts.boat.rest, scale: [2, 1, 1] as Vec3 } },
			},
		};
		const sheared = reparent(squashed, 'sign', 'boat', { clip: doc.clips.swing, ...at });
		expect(sheared.ok ? '' : sheared.problems[0].message).toMatch(/sheared/);
		const ring = reparent(doc, 'sign', 'lamp', { clip: doc.clips.swing, ...at });
		expect(ring.ok ? '' : ring.problems[0].message).toMatch(/cannot hang on something that hangs on it/);
	});

	it('keeps an orientation pointing where it did', () => {
		const doc = sign([10, 20, 30]);
		const turnOf = (shown: Doc) => {
			const { compiled, posed } = shownAt(shown, 'swing', 0);
			return decompose(worldMatrix(compiled, 'sign', posed)!)!.rotation;
		};
		const hung = reparent(doc, 'sign', null, { clip: doc.clips.swing, local: 0 });
		if (!hung.ok) throw new Error();
		expect(angleBetween(turnOf(doc), turnOf(hung.value))).toBeLessThan(1e-6);
	});
});

describe('a seam', () => {
	const buoy = (last: number, frame = 60): Doc =>
		new ProjectBuilder('Buoy', 'world', 30)
			.part('buoy', { kind: 'ball', size: [1, 1, 1] })
			.startClip('bob', 60, REPEAT)
			.keys('buoy', 'translation.y', [
				[0, 1, handles],
				[20, 3, handles],
				[45, 0, handles],
				[frame, last, handles],
			])
			.build();
	const id = 'bob/buoy/translation/y';
	const seam = (doc: Doc) => {
		const channel = doc.channels[id];
		return seamOf(curveOf(channel, doc.clips.bob), doc.clips.bob, {
			rotates: false,
			accumulates: channel.accumulates,
		});
	};
	const value = (doc: Doc, t: number) => evaluateCurve(curveOf(doc.channels[id], doc.clips.bob), t);

	it.each([
		['ends where it starts', (doc: Doc) => endAtStart(doc, id)],
		['has its last key shifted', (doc: Doc) => shiftLastKey(doc, id)],
		['leads over to its start', (doc: Doc) => blendSeam(doc, id, 36_000)],
		['travels on', (doc: Doc) => markAccumulating(doc, id)],
	])('is closed when it %s', (_, mend) => {
		for (const doc of [buoy(1.7), buoy(-2)]) {
			expect(Math.abs(seam(doc).gap)).toBeGreaterThan(0.5);
			expect(seam(mend(doc)).gap).toBeCloseTo(0, 9);
		}
	});

	it('is led over to without a change before the stretch', () => {
		const doc = buoy(1.7);
		const led = blendSeam(doc, id, 36_000);
		// Before its second key, a smooth first key follows the neighbours that it now has across the seam.
		for (let t = 48_000; t <= 108_000; t += 2400) expect(value(led, t)).toBeCloseTo(value(doc, t), 9);
		expect(value(led, 144_000)).toBeCloseTo(1, 9);
		expect(Math.abs(value(led, 108_001) - value(led, 108_000))).toBeLessThan(1e-3);
	});

	it('has no knock when smoothed', () => {
		const closed = endAtStart(buoy(1.7), id);
		const smooth = smoothSeam(closed, id);
		expect(seam(smooth).gap).toBe(0);
		expect(Math.abs(seam(smooth).slopeGap)).toBeLessThan(0.01);
	});

	it('gets last keys that stand a little beside it', () => {
		const doc = buoy(1, 58);
		expect(moveStrayKeys(doc, doc.clips.bob, 7200).channels[id].keys.at(-1)).toMatchObject({
			t: 144_000,
			v: 1,
		});
		expect(moveStrayKeys(doc, doc.clips.bob, 2400)).toBe(doc);
	});

	it('of a rotation closes on whole turns', () => {
		const spin = (last: number) =>
			new ProjectBuilder('Lamp', 'world', 30)
				.part('lamp', { kind: 'box', size: [1, 1, 1] })
				.startClip('bob', 60, REPEAT)
				.keys('lamp', 'rotation.y', [
					[0, 10, linear],
					[60, last],
				])
				.build();
		const own = 'bob/lamp/rotation/y';
		for (const [last, closed] of [
			[-352, -350],
			[720, 730],
		])
			expect(endAtStart(spin(last), own).channels[own].keys.at(-1)!.v).toBeCloseTo(closed, 9);
	});
});
