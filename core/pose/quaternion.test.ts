import fc from 'fast-check';
import { Euler, Quaternion as ThreeQuaternion } from 'three';
import { describe, expect, it } from 'vitest';
import { EULER_ORDERS, type Vec3 } from '../document/types';
import { angleBetween, closestEuler, eulerInto, fromEuler, toEuler, type Quaternion } from './quaternion';
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
