/** Laws of mixing whole poses: of two parts, turned about any axis. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { between } from '../testing';
import { makeLayout, placeOf } from '../layout';
import { angleBetween, fromEuler, multiply, type Quaternion } from '../maths/quaternion';
import { chooseWays, crossfade } from './crossfade';
import { decaySeconds, offsetAt, PoseDecay } from './inertial';
import { layOver, partsOf, type LayerMode } from './layers';

const layout = makeLayout(
	['buoy', 'bell'].flatMap((part) => [
		{ part, path: 'translation', kind: 'number' as const, rest: [0, 0, 0] },
		{ part, path: 'angles', kind: 'angles' as const, rest: [0, 0, 0] },
		{ part, path: 'rotation', kind: 'rotation' as const, rest: [0, 0, 0, 1] },
		{ part, path: 'scale', kind: 'number' as const, rest: [1, 1, 1] },
		{ part, path: 'opacity', kind: 'number' as const, rest: [1] },
		{ part, path: 'visible', kind: 'switch' as const, rest: [1] },
		{ part, path: 'colour', kind: 'colour' as const, rest: [0.5, 0.25, 1, 1] },
	]),
);
const { rest } = layout;
const PARTS = ['buoy', 'bell'] as const;
const placeIn = (path: string) => placeOf(layout, 'buoy', path);
/** Numbers of a part. */
const STRIDE = placeOf(layout, 'bell', 'translation');
const [ROTATION, SCALE, OPACITY, VISIBLE, COLOUR] = ['rotation', 'scale', 'opacity', 'visible', 'colour'].map(
	placeIn,
);

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
			const at = i * STRIDE;
			pose.set(translation, at);
			pose.set(fromEuler(rotation, 'XYZ'), at + ROTATION);
			pose.set([...scale, opacity, visible], at + SCALE);
		});
		return pose;
	});
const turnOf = (pose: Float64Array, i: number): Quaternion =>
	[...pose.subarray(i * STRIDE + ROTATION, i * STRIDE + ROTATION + 4)] as Quaternion;
/** Numbers alike and turns alike, however their angles are written. */
function expectSame(a: Float64Array, b: Float64Array, digits = 6): void {
	for (let i = 0; i < PARTS.length; i++) {
		expect(angleBetween(turnOf(a, i), turnOf(b, i))).toBeLessThan(10 ** -(digits - 2));
		for (let k = 0; k < STRIDE; k++)
			if (k < 3 || k >= SCALE) expect(a[i * STRIDE + k]).toBeCloseTo(b[i * STRIDE + k], digits);
	}
}
function faded(a: Float64Array, b: Float64Array, w: number): Float64Array {
	const out = new Float64Array(a.length);
	const ways = new Int8Array(layout.targets.length);
	chooseWays(layout, a, b, ways);
	crossfade(layout, a, b, w, ways, out);
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
					const at = i * STRIDE;
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

it('a crossfade mixes colours in linear light', () => {
	const [a, b] = [rest.slice(), rest.slice()];
	a.set([0, 0, 0, 1], COLOUR);
	b.set([1, 1, 1, 0], COLOUR);
	const middle = faded(a, b, 0.5);
	// Half the light is 1.055 · 0.5^(1/2.4) − 0.055 in sRGB.
	for (let k = 0; k < 3; k++) expect(middle[COLOUR + k]).toBeCloseTo(0.7353569, 6);
	expect(middle[COLOUR + 3]).toBe(0.5);
});

/** What layers show over a pose: each with its mode, its weight, its pose and the parts that it is for. */
function laid(base: Float64Array, ...layers: [LayerMode, number, Float64Array, string[]?][]): Float64Array {
	const out = base.slice();
	const ways = new Int8Array(layout.targets.length);
	for (const [mode, weight, pose, parts] of layers)
		layOver(layout, mode, pose, weight, parts ? partsOf(layout, parts) : null, ways, out);
	return out;
}

describe('a layer', () => {
	it('of no weight changes nothing; one that replaces wholly leaves nothing of what was there', () => {
		fc.assert(
			fc.property(posed, posed, (base, pose) => {
				expectSame(laid(base, ['add', 0, pose], ['replace', 0, pose]), base);
				expectSame(laid(base, ['replace', 1, pose]), pose);
			}),
		);
	});

	it('that adds its pose to rest is that pose, and to another puts its turn behind the one that is there', () => {
		fc.assert(
			fc.property(posed, posed, (base, pose) => {
				const added = laid(rest, ['add', 1, pose]);
				for (let i = 0; i < 2; i++)
					expect(angleBetween(turnOf(added, i), turnOf(pose, i))).toBeLessThan(1e-4);
				const out = laid(base, ['add', 1, pose]);
				for (let i = 0; i < 2; i++) {
					const both = multiply(turnOf(base, i), turnOf(pose, i));
					expect(angleBetween(turnOf(out, i), both)).toBeLessThan(1e-4);
					const at = i * STRIDE;
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
				const out = laid(base, [mode, 1, pose, [PARTS[which]]]);
				const other = (1 - which) * STRIDE;
				expect(out.slice(other, other + STRIDE)).toEqual(base.slice(other, other + STRIDE));
				expect(angleBetween(turnOf(out, which), turnOf(base, which))).toBeGreaterThanOrEqual(0);
				const at = which * STRIDE;
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
				const decay = new PoseDecay(layout);
				decay.begin(poses, 1 / 240, 0.4, 2 / 60);
				const shown = after.slice();
				decay.addTo(shown, 0);
				for (let i = 0; i < 2; i++) {
					const at = i * STRIDE;
					expect(angleBetween(turnOf(shown, i), turnOf(before, i))).toBeLessThan(1e-4);
					for (const k of [0, 1, 2, SCALE, OPACITY]) expect(shown[at + k]).toBeCloseTo(before[at + k], 9);
					// Colours and switches change at once.
					for (const k of [VISIBLE, COLOUR]) expect(shown[at + k]).toBe(after[at + k]);
				}
				const ended = after.slice();
				decay.addTo(ended, 0.4);
				expect(ended).toEqual(after);
			}),
		);
	});

	it('turns on at the pace that it had', () => {
		const at = (degrees: number) => {
			const pose = rest.slice();
			pose.set(fromEuler([degrees, degrees / 2, 0], 'XYZ'), STRIDE + ROTATION);
			return pose;
		};
		const dt = 1 / 240;
		const still = at(0);
		const poses = { earlier: at(20), before: at(20 + 60 * dt), afterEarlier: still, after: still };
		const decay = new PoseDecay(layout);
		decay.begin(poses, dt, 0.4, 2 / 60);
		const shown = still.slice();
		const soon = dt / 40;
		decay.addTo(shown, soon);
		// Sixty degrees a second about x, as before the switch.
		const pace = angleBetween(turnOf(shown, 1), turnOf(poses.before, 1)) / soon;
		const had = angleBetween(turnOf(poses.before, 1), turnOf(poses.earlier, 1)) / dt;
		expect(pace / had).toBeCloseTo(1, 1);
	});
});

describe('layers', () => {
	const posedAt = (change: Record<number, number>) => {
		const pose = rest.slice();
		for (const [place, v] of Object.entries(change)) pose[Number(place)] = v;
		return pose;
	};

	it('that add put their difference on top: doubly where two do', () => {
		const pose = posedAt({ 0: 2, [SCALE]: 1.5 });
		const out = laid(posedAt({ 0: 1, [SCALE]: 2 }), ['add', 1, pose], ['add', 0.5, pose]);
		expect(out[0]).toBeCloseTo(1 + 2 + 1, 12);
		expect(out[SCALE]).toBeCloseTo(2 * 1.5 * 1.25, 12);
	});

	it('add the difference where a rest scale of 0 has no factor', () => {
		const flat = makeLayout([{ part: 'buoy', path: 'scale', kind: 'number', rest: [0, 2] }]);
		const out = Float64Array.of(3, 3);
		layOver(flat, 'add', Float64Array.of(1, 4), 0.5, null, new Int8Array(1), out);
		expect([...out]).toEqual([3.5, 4.5]);
	});

	it('that add in turn add up, in whatever order numbers come; a turn goes by shares of its angle', () => {
		fc.assert(
			fc.property(posed, posed, posed, between(0, 1), (base, a, b, w) => {
				const [one, other] = [
					laid(base, ['add', w, a], ['add', 1, b]),
					laid(base, ['add', 1, b], ['add', w, a]),
				];
				for (const k of [0, 1, 2, SCALE, OPACITY]) expect(one[k]).toBeCloseTo(other[k], 9);
				const share = angleBetween(turnOf(base, 0), turnOf(laid(base, ['add', w, a]), 0));
				expect(share).toBeCloseTo(w * angleBetween(turnOf(rest, 0), turnOf(a, 0)), 4);
			}),
		);
	});
});

describe('two layers laid together first, and then over what is below', () => {
	it('are the same as one after the other where they add', () => {
		fc.assert(
			fc.property(posed, posed, posed, between(0, 1), between(0, 1), (ground, a, b, wa, wb) => {
				const together = laid(rest, ['add', wa, a], ['add', wb, b]);
				expectSame(laid(ground, ['add', 1, together]), laid(ground, ['add', wa, a], ['add', wb, b]));
			}),
		);
	});

	it('are the same where they replace, in all that is mixed straight', () => {
		fc.assert(
			fc.property(posed, posed, posed, between(0, 1), between(0.01, 1), (ground, a, b, wa, wb) => {
				// Together they cover what neither lets through, and b is seen of them by its share of that.
				const covered = 1 - (1 - wa) * (1 - wb);
				const together = laid(a, ['replace', wb / covered, b]);
				const [once, twice] = [
					laid(ground, ['replace', covered, together]),
					laid(ground, ['replace', wa, a], ['replace', wb, b]),
				];
				for (const { kind, at, size } of layout.targets)
					if (kind === 'number')
						for (let k = at; k < at + size; k++) expect(once[k]).toBeCloseTo(twice[k], 9);
			}),
		);
	});
});

describe('an inertial offset', () => {
	const finite = (size: number) => between(-size, size);

	it('starts as it was, with the rate that it had, and ends at rest', () => {
		fc.assert(
			fc.property(finite(10), finite(50), (o, rate) => {
				const seconds = decaySeconds(o, rate, 0.4, 0.03);
				const at = (t: number) => offsetAt(o, rate, seconds, t);
				const h = 1e-6;
				expect(at(0)).toBeCloseTo(o, 9);
				expect((at(h) - at(0)) / h).toBeCloseTo(rate, 1);
				// Before the switch it is what led up to it.
				expect((at(0) - at(-h)) / h).toBeCloseTo(rate, 1);
				expect(Math.abs(at(seconds - 1e-4))).toBeLessThan(1e-6);
				expect(at(seconds)).toBe(0);
			}),
		);
	});

	it('never crosses zero, unless it would have to stop within two frames', () => {
		fc.assert(
			fc.property(finite(10), finite(50), (o, rate) => {
				const seconds = decaySeconds(o, rate, 0.4, 0);
				for (let i = 0; i <= 50; i++)
					expect(offsetAt(o, rate, seconds, (seconds * i) / 50) * o).toBeGreaterThanOrEqual(-1e-12 * o * o);
			}),
		);
		expect(decaySeconds(1, -1000, 0.4, 2 / 60)).toBeCloseTo(2 / 60, 12);
	});
});
