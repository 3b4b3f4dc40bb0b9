/** Mixing poses of the same parts: crossfades and layers. Poses are those of `clip/compile.ts`. */
import { DRAWING_OFFSET, POSE_STRIDE } from '../clip/compile';
import type { Four } from '../pose/vector';
import type { Part } from '../document/types';
import { mixColours } from '../pose/colour';
import {
	closestEuler,
	conjugate,
	fromEuler,
	multiply,
	slerp,
	toEuler,
	type Quaternion,
} from '../pose/quaternion';

const ROTATION = 3;
const SCALE = 6;
const OPACITY = 9;
const VISIBLE = 10;
const COLOUR = 11;

function rotationAt(pose: Float64Array, at: number, part: Part): Quaternion {
	return fromEuler(pose.subarray(at + ROTATION, at + ROTATION + 3), part.eulerOrder);
}

function dot(a: Quaternion, b: Quaternion): number {
	return a[0] * b[0] + a[1] * b[1] + a[2] * b[2] + a[3] * b[3];
}

/** On which side of each other the rotations of two poses are, part by part: 1, or −1 where one must be turned about. */
export function chooseWays(parts: readonly Part[], a: Float64Array, b: Float64Array): Int8Array {
	return Int8Array.from(parts, (part, i) => {
		const at = i * POSE_STRIDE;
		return dot(rotationAt(a, at, part), rotationAt(b, at, part)) < 0 ? -1 : 1;
	});
}

/** Slerp that keeps to a way chosen before, even where the other has become the shorter one. */
function turnBetween(a: Quaternion, b: Quaternion, way: number, w: number): Quaternion {
	const out: Quaternion = [0, 0, 0, 1];
	const cosine = way * dot(a, b);
	if (cosine >= 0) {
		slerp(a, b, w, out);
		return out;
	}
	const angle = Math.acos(Math.max(-1, cosine));
	const sine = Math.sin(angle);
	if (sine < 1e-9) return w < 0.5 ? a : b;
	const [wa, wb] = [Math.sin(angle * (1 - w)) / sine, (way * Math.sin(angle * w)) / sine];
	return a.map((v, k) => wa * v + wb * b[k]) as Quaternion;
}

/**
 * Crossfade: what is between two poses at a weight (0 is a, 1 is b). Numbers are mixed straight, rotations the short
 * way as `ways` chose it, colours in linear light, switches change at a half. `out` may be a or b.
 */
export function crossfade(
	parts: readonly Part[],
	a: Float64Array,
	b: Float64Array,
	w: number,
	ways: Int8Array,
	out: Float64Array,
): void {
	parts.forEach((part, i) => {
		const at = i * POSE_STRIDE;
		let rotation: ArrayLike<number> | null = null;
		let same = true;
		for (let k = ROTATION; k < SCALE; k++) same &&= a[at + k] === b[at + k];
		if (!same) {
			const turned = turnBetween(rotationAt(a, at, part), rotationAt(b, at, part), ways[i], w);
			const near = (w < 0.5 ? a : b).subarray(at + ROTATION, at + SCALE);
			rotation = closestEuler(toEuler(turned, part.eulerOrder), near, part.eulerOrder);
		}
		const from = Array.from(a.subarray(at + COLOUR, at + COLOUR + 4)) as Four;
		const to = Array.from(b.subarray(at + COLOUR, at + COLOUR + 4)) as Four;
		for (let k = 0; k <= OPACITY; k++) out[at + k] = a[at + k] + (b[at + k] - a[at + k]) * w;
		for (let k = DRAWING_OFFSET; k < POSE_STRIDE; k++) out[at + k] = a[at + k] + (b[at + k] - a[at + k]) * w;
		if (rotation) out.set(rotation, at + ROTATION);
		out[at + VISIBLE] = w < 0.5 ? a[at + VISIBLE] : b[at + VISIBLE];
		mixColours(from, to, w, 'linear', out, at + COLOUR);
	});
}

export interface Layer {
	mode: 'replace' | 'add';
	/** 0…1. */
	weight: number;
	/** Parts that it is for; null for all. */
	mask: ReadonlySet<string> | null;
	pose: Float64Array;
	/** What an added pose counts from: usually its rest pose. */
	reference: Float64Array;
}

/**
 * Lays layers over a base pose, in order, into `out`. Replace fades over; add puts the difference from its reference
 * on top: translation (and opacity, and what the drawing has) + w·Δ, rotation · slerp(1, reference⁻¹ · pose, w), scale · (1 + w·(pose/reference − 1)).
 * Throws a RangeError where a reference scale is 0.
 */
export function layOver(
	parts: readonly Part[],
	base: Float64Array,
	layers: readonly Layer[],
	out: Float64Array,
): void {
	if (out !== base) out.set(base);
	for (const layer of layers) {
		const { pose, reference, weight, mask } = layer;
		if (layer.mode === 'replace') {
			const before = out.slice();
			crossfade(parts, before, pose, weight, chooseWays(parts, before, pose), out);
			if (mask) restoreOutside(parts, mask, before, out);
			continue;
		}
		parts.forEach((part, i) => {
			if (mask && !mask.has(part.id)) return;
			const at = i * POSE_STRIDE;
			for (let k = 0; k < ROTATION; k++) out[at + k] += weight * (pose[at + k] - reference[at + k]);
			addRotation(part, at, layer, out);
			for (let k = SCALE; k < OPACITY; k++) {
				if (reference[at + k] === 0)
					throw new RangeError(`"${part.name}" has a scale of 0 in the pose that an added layer counts from`);
				out[at + k] *= 1 + weight * (pose[at + k] / reference[at + k] - 1);
			}
			const add = (k: number) => (out[at + k] += weight * (pose[at + k] - reference[at + k]));
			add(OPACITY);
			for (let k = DRAWING_OFFSET; k < POSE_STRIDE; k++) add(k);
		});
	}
}

function addRotation(part: Part, at: number, { pose, reference, weight }: Layer, out: Float64Array): void {
	let moved = false;
	for (let k = ROTATION; k < SCALE; k++) moved ||= pose[at + k] !== reference[at + k];
	if (!moved) return;
	const difference = multiply(conjugate(rotationAt(reference, at, part)), rotationAt(pose, at, part));
	const share: Quaternion = [0, 0, 0, 1];
	slerp([0, 0, 0, 1], difference, weight, share);
	const turned = multiply(rotationAt(out, at, part), share);
	const before = out.subarray(at + ROTATION, at + SCALE);
	out.set(closestEuler(toEuler(turned, part.eulerOrder), before, part.eulerOrder), at + ROTATION);
}

function restoreOutside(
	parts: readonly Part[],
	mask: ReadonlySet<string>,
	before: Float64Array,
	out: Float64Array,
): void {
	parts.forEach((part, i) => {
		const at = i * POSE_STRIDE;
		if (!mask.has(part.id)) out.set(before.subarray(at, at + POSE_STRIDE), at);
	});
}
