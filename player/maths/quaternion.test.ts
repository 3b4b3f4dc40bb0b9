import fc from 'fast-check';
import { Euler, Quaternion as ThreeQuaternion } from 'three';
import { describe, expect, it } from 'vitest';
import { EULER_ORDERS } from './quaternion';
import type { Vec3 } from './vector';
import {
	angleBetween,
	closestEuler,
	eulerInto,
	fromEuler,
	multiply,
	axisTurn,
	slerp,
	toEuler,
	type Quaternion,
} from './quaternion';
import { between } from '../testing';

const angle = between(-720, 720);
const angles = fc.tuple(angle, angle, angle);

describe.each(EULER_ORDERS)('Euler angles in the order %s', (order) => {
	it('give the orientation that another library gives', () => {
		fc.assert(
			fc.property(angles, (euler) => {
				const [x, y, z] = euler.map((a) => (a * Math.PI) / 180);
				const other = new ThreeQuaternion().setFromEuler(new Euler(x, y, z, order));
				const out = new Float64Array(4);
				eulerInto(...euler, order, out);
				expect(angleBetween(fromEuler(euler, order), other.toArray())).toBeLessThan(1e-9);
				expect(angleBetween(out, other.toArray())).toBeLessThan(1e-9);
			}),
		);
	});

	it('come back from it, as close to the angles before as can be', () => {
		fc.assert(
			fc.property(angles, (euler) => {
				const read = closestEuler(toEuler(fromEuler(euler, order), order), euler, order);
				expect(angleBetween(fromEuler(read, order), fromEuler(euler, order))).toBeLessThan(1e-4);
			}),
		);
		const turned: Vec3 = [0, 0, 0];
		turned[2] = 730;
		const near = closestEuler(toEuler(fromEuler(turned, order), order), [0, 0, 725], order);
		expect(near[2]).toBeCloseTo(730, 6);
	});
});

it('the angle between an orientation and its negative is none', () => {
	const q: Quaternion = [0.5, 0.5, 0.5, 0.5];
	expect(
		angleBetween(
			q,
			q.map((v) => -v),
		),
	).toBe(0);
	expect(angleBetween([0, 0, 0, 1], [0, 1, 0, 0])).toBeCloseTo(180, 9);
});

it('between two orientations it turns evenly about one axis, the short way', () => {
	fc.assert(
		fc.property(angles, angles, between(0, 1), (one, other, x) => {
			const [a, b] = [fromEuler(one, 'XYZ'), fromEuler(other, 'ZYX')];
			const out: Quaternion = [0, 0, 0, 0];
			slerp(a, b, x, out);
			expect(Math.hypot(...out)).toBeCloseTo(1, 7);
			const whole = angleBetween(a, b);
			expect(angleBetween(a, out)).toBeCloseTo(x * whole, 4);
			expect(angleBetween(out, b)).toBeCloseTo((1 - x) * whole, 4);
		}),
	);
	const quarter: Quaternion = [0, 0, 0, 0];
	slerp(axisTurn(1, 10), axisTurn(1, 130), 0.25, quarter);
	expect(angleBetween(quarter, axisTurn(1, 40))).toBeLessThan(1e-6);
});

it('at the singularity of the angles the orientation is still the same', () => {
	for (const order of EULER_ORDERS)
		for (const middle of [90, -90, 90 - 1e-3, 90 - 1e-6, 89.98]) {
			const euler: Vec3 = [0, 0, 0];
			euler['XYZ'.indexOf(order[0])] = 35;
			euler['XYZ'.indexOf(order[1])] = middle;
			euler['XYZ'.indexOf(order[2])] = -20;
			const q = fromEuler(euler, order);
			expect(angleBetween(fromEuler(toEuler(q, order), order), q)).toBeLessThan(1e-5);
		}
});

it('turns are put one after the other as another library does', () => {
	fc.assert(
		fc.property(angles, angles, (one, other) => {
			const [a, b] = [fromEuler(one, 'XYZ'), fromEuler(other, 'XYZ')];
			const product = new ThreeQuaternion(...a).multiply(new ThreeQuaternion(...b)).toArray();
			multiply(a, b).forEach((v, k) => expect(v).toBeCloseTo(product[k], 9));
		}),
	);
});
