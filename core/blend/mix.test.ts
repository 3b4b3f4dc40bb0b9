/** Laws of mixing whole poses: of two parts, turned about any axis. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ProjectBuilder } from '../../demo/builder';
import { compileClip, POSE_STRIDE, slotOffset } from '../clip/compile';
import { angleBetween, fromEuler, multiply, type Quaternion } from '../pose/quaternion';
import { between } from '../testing';
import { addDecay, poseDecay } from './inertial';
import { chooseWays, crossfade, layOver } from './mix';

const doc = new ProjectBuilder('Two', 'world', 30)
	.part('buoy', { kind: 'box', size: [1, 1, 1] })
	.part('bell', { kind: 'box', size: [1, 1, 1] }, { parent: 'buoy' })
	.startClip('c', 30)
	.build();
const { parts, rest } = compileClip(doc, doc.clips.c);
const [ROTATION, SCALE, COLOUR] = [
	slotOffset('rotation', 'x'),
	slotOffset('scale', 'x'),
	slotOffset('colour', 'value'),
];
const OPACITY = slotOffset('opacity', 'value');
const VISIBLE = slotOffset('visible', 'value');

const numbers = (low: number, high: number) =>
	fc.tuple(between(low, high), between(low, high), between(low, high));
const posed = fc
	.array(
		fc.record({
			translation: numbers(-5, 5),
			rotation: numbers(-170, 170),
			scale: numbers(0.2, 3),
			opacity: between(0, 1),
			visible: fc.constantFrom(0, 1),
		}),
		{ minLength: 2, maxLength: 2 },
	)
	.map((all) => {
		const pose = rest.slice();
		all.forEach(({ translation, rotation, scale, opacity, visible }, i) => {
			pose.set([...translation, ...rotation, ...scale, opacity, visible], i * POSE_STRIDE);
		});
		return pose;
	});
const turnOf = (pose: Float64Array, i: number): Quaternion =>
	fromEuler(pose.subarray(i * POSE_STRIDE + ROTATION, i * POSE_STRIDE + SCALE), 'XYZ');
/** Numbers alike and turns alike, however their angles are written. */
function expectSame(a: Float64Array, b: Float64Array, digits = 6): void {
	for (let i = 0; i < parts.length; i++) {
		expect(angleBetween(turnOf(a, i), turnOf(b, i))).toBeLessThan(10 ** -(digits - 2));
		for (let k = 0; k < POSE_STRIDE; k++)
			if (k < ROTATION || k >= SCALE)
				expect(a[i * POSE_STRIDE + k]).toBeCloseTo(b[i * POSE_STRIDE + k], digits);
	}
}
function faded(a: Float64Array, b: Float64Array, w: number): Float64Array {
	const out = new Float64Array(a.length);
	crossfade(parts, a, b, w, chooseWays(parts, a, b), out);
	return out;
}

describe('a crossfade', () => {
	it('is the first pose at 0, the second at 1, and the same from either side', () => {
		fc.assert(
			fc.property(posed, posed, between(0.01, 0.99), (a, b, w) => {
				expectSame(faded(a, b, 0), a);
				expectSame(faded(a, b, 1), b);
				const there = faded(a, b, w);
				const back = faded(b, a, 1 - w);
				if (Math.abs(w - 0.5) > 1e-6) expectSame(there, back);
			}),
		);
	});

	it('turns evenly, the short way, and mixes numbers straight; switches change at a half', () => {
		fc.assert(
			fc.property(posed, posed, between(0, 1), (a, b, w) => {
				const there = faded(a, b, w);
				for (let i = 0; i < 2; i++) {
					const at = i * POSE_STRIDE;
					const whole = angleBetween(turnOf(a, i), turnOf(b, i));
					expect(angleBetween(turnOf(a, i), turnOf(there, i))).toBeCloseTo(w * whole, 4);
					for (const k of [0, 1, 2, SCALE, SCALE + 2, OPACITY])
						expect(there[at + k]).toBeCloseTo(a[at + k] + w * (b[at + k] - a[at + k]), 9);
					expect(there[at + VISIBLE]).toBe((w < 0.5 ? a : b)[at + VISIBLE]);
				}
			}),
		);
	});
});

describe('a layer', () => {
	const layer = (
		mode: 'add' | 'replace',
		weight: number,
		pose: Float64Array,
		mask: string[] | null = null,
	) => ({
		mode,
		weight,
		mask: mask && new Set(mask),
		pose,
		reference: rest,
	});

	it('of no weight changes nothing; one that replaces wholly leaves nothing of what was there', () => {
		fc.assert(
			fc.property(posed, posed, (base, pose) => {
				const out = new Float64Array(base.length);
				layOver(parts, base, [layer('add', 0, pose), layer('replace', 0, pose)], out);
				expectSame(out, base);
				layOver(parts, base, [layer('replace', 1, pose)], out);
				expectSame(out, pose);
			}),
		);
	});

	it('that adds its pose to rest is that pose, and to another puts its turn behind the one that is there', () => {
		fc.assert(
			fc.property(posed, posed, (base, pose) => {
				const out = rest.slice();
				layOver(parts, rest, [layer('add', 1, pose)], out);
				for (let i = 0; i < 2; i++) expect(angleBetween(turnOf(out, i), turnOf(pose, i))).toBeLessThan(1e-4);
				layOver(parts, base, [layer('add', 1, pose)], out);
				for (let i = 0; i < 2; i++) {
					const both = multiply(turnOf(base, i), turnOf(pose, i));
					expect(angleBetween(turnOf(out, i), both)).toBeLessThan(1e-4);
					const at = i * POSE_STRIDE;
					expect(out[at + 1]).toBeCloseTo(base[at + 1] + pose[at + 1], 9);
					expect(out[at + SCALE]).toBeCloseTo(base[at + SCALE] * pose[at + SCALE], 9);
				}
			}),
		);
	});

	it('is for the parts of its mask alone, whichever they are', () => {
		const modes = fc.constantFrom('add' as const, 'replace' as const);
		fc.assert(
			fc.property(posed, posed, modes, fc.constantFrom(0, 1), (base, pose, mode, which) => {
				const out = new Float64Array(base.length);
				layOver(parts, base, [layer(mode, 1, pose, [parts[which].id])], out);
				const other = (1 - which) * POSE_STRIDE;
				expect(out.slice(other, other + POSE_STRIDE)).toEqual(base.slice(other, other + POSE_STRIDE));
				expect(angleBetween(turnOf(out, which), turnOf(base, which))).toBeGreaterThanOrEqual(0);
				const at = which * POSE_STRIDE;
				expect(out[at]).toBeCloseTo(mode === 'add' ? base[at] + pose[at] : pose[at], 9);
			}),
		);
	});
});

describe('an inertial blend of poses', () => {
	it('shows what was there at its start, whatever axis it turns about, and the next motion at its end', () => {
		fc.assert(
			fc.property(posed, posed, (before, after) => {
				const poses = { earlier: before, before, afterEarlier: after, after };
				const decay = poseDecay(parts, poses, 1 / 240, 0.4, 2 / 60);
				const shown = after.slice();
				addDecay(parts, decay, 0, shown);
				for (let i = 0; i < 2; i++) {
					const at = i * POSE_STRIDE;
					expect(angleBetween(turnOf(shown, i), turnOf(before, i))).toBeLessThan(1e-4);
					for (const k of [0, 1, 2, SCALE, OPACITY]) expect(shown[at + k]).toBeCloseTo(before[at + k], 9);
					// Colours and switches change at once.
					for (const k of [VISIBLE, COLOUR]) expect(shown[at + k]).toBe(after[at + k]);
				}
				const ended = after.slice();
				addDecay(parts, decay, 0.4, ended);
				expect(ended).toEqual(after);
			}),
		);
	});

	it('turns on at the pace that it had', () => {
		const at = (degrees: number) => {
			const pose = rest.slice();
			pose.set([degrees, degrees / 2, 0], POSE_STRIDE + ROTATION);
			return pose;
		};
		const dt = 1 / 240;
		const still = at(0);
		const poses = { earlier: at(20), before: at(20 + 60 * dt), afterEarlier: still, after: still };
		const decay = poseDecay(parts, poses, dt, 0.4, 2 / 60);
		const shown = still.slice();
		const soon = dt / 40;
		addDecay(parts, decay, soon, shown);
		// Sixty degrees a second about x, as before the switch.
		const pace = angleBetween(turnOf(shown, 1), turnOf(poses.before, 1)) / soon;
		const had = angleBetween(turnOf(poses.before, 1), turnOf(poses.earlier, 1)) / dt;
		expect(pace / had).toBeCloseTo(1, 1);
	});
});
