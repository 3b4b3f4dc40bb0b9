/** Interpolators of an X3D file as samplers. */
import type { Sampler } from '../../fit/sampler';
import { numbersIn, type Element } from '../xml';

const SIZES: Readonly<Record<string, number>> = {
	PositionInterpolator: 3,
	ColorInterpolator: 3,
	ScalarInterpolator: 1,
	OrientationInterpolator: 4,
};

export const isInterpolator = ({ tag }: Element) => Object.hasOwn(SIZES, tag);

/** All nodes below one, those that hold others before them. */
export function nodesOf(root: Element): Element[] {
	return [root, ...root.children.flatMap(nodesOf)];
}

/** A quaternion of an axis and an angle in radians. */
export function quaternionOf([x, y, z, angle]: readonly number[]): number[] {
	const length = Math.hypot(x, y, z);
	if (length === 0) return [0, 0, 0, 1];
	const sine = Math.sin(angle / 2) / length;
	return [x * sine, y * sine, z * sine, Math.cos(angle / 2)];
}

/** Straight keys over a cycle of so many seconds; times that float32 cannot tell apart are a hair apart. */
export function interpolatorSampler({ tag, attributes }: Element, seconds: number): Sampler {
	const size = SIZES[tag];
	const values = numbersIn(attributes.keyValue ?? '');
	const keys = numbersIn(attributes.key ?? '').slice(0, Math.floor(values.length / size));
	const rows = keys.map((_, i) => {
		const row = values.slice(i * size, (i + 1) * size);
		return tag === 'OrientationInterpolator' ? quaternionOf(row) : row;
	});
	// q and −q turn alike: viewers go the shorter way.
	for (let i = 1; i < rows.length; i++)
		if (tag === 'OrientationInterpolator' && rows[i].reduce((sum, v, k) => sum + v * rows[i - 1][k], 0) < 0)
			rows[i] = rows[i].map((v) => -v);
	const times = Float32Array.from(keys, (key) => key * seconds);
	return {
		interpolation: 'LINEAR',
		size,
		plain: tag !== 'OrientationInterpolator',
		times,
		values: Float32Array.from(rows.flat()),
	};
}
