/** What is between two poses of one layout. */
import type { PoseLayout, Target } from '../layout';
import { mixColours } from '../maths/colour';

/** Sines below which two orientations are one, or lie so far apart that there is no way between them. */
const LEAST_SINE = 1e-9;

function dot(a: ArrayLike<number>, b: ArrayLike<number>, at: number): number {
	return a[at] * b[at] + a[at + 1] * b[at + 1] + a[at + 2] * b[at + 2] + a[at + 3] * b[at + 3];
}

/**
 * On which side of each other the rotations of two poses are: for each target 1, or −1 where a rotation must be turned
 * about to go the short way. Allocates nothing.
 */
export function chooseWays(layout: PoseLayout, a: Float64Array, b: Float64Array, out: Int8Array): void {
	const { targets } = layout;
	for (let i = 0; i < targets.length; i++)
		out[i] = targets[i].kind === 'rotation' && dot(a, b, targets[i].at) < 0 ? -1 : 1;
}

/** Slerp that keeps to a way chosen before, even where the other has become the shorter one. */
function turnBetween(
	a: Float64Array,
	b: Float64Array,
	at: number,
	way: number,
	w: number,
	out: Float64Array,
): void {
	const cosine = Math.max(-1, Math.min(1, way * dot(a, b, at)));
	const angle = Math.acos(cosine);
	const sine = Math.sin(angle);
	let wa = 1 - w;
	let wb = way * w;
	if (sine >= LEAST_SINE) {
		wa = Math.sin(angle * (1 - w)) / sine;
		wb = (way * Math.sin(angle * w)) / sine;
	} else if (cosine < 0) {
		wa = w < 0.5 ? 1 : 0;
		wb = 1 - wa;
	}
	for (let k = at; k < at + 4; k++) out[k] = wa * a[k] + wb * b[k];
}

/** What is between two poses in one of their targets. `out` may be a or b. Allocates nothing. */
export function mixTarget(
	{ kind, at, size }: Target,
	a: Float64Array,
	b: Float64Array,
	w: number,
	way: number,
	out: Float64Array,
): void {
	switch (kind) {
		case 'number':
			for (let k = at; k < at + size; k++) out[k] = a[k] + (b[k] - a[k]) * w;
			break;
		case 'rotation':
			turnBetween(a, b, at, way, w, out);
			break;
		case 'colour':
			mixColours(a, at, b, at, w, 'linear', out, at);
			break;
		default:
			for (let k = at; k < at + size; k++) out[k] = w < 0.5 ? a[k] : b[k];
	}
}

/**
 * Crossfade: what is between two poses at a weight (0 is a, 1 is b). Numbers are mixed straight, rotations the short
 * way as `ways` has it, colours in linear light, switches change at a half. `out` may be a or b. Allocates nothing.
 */
export function crossfade(
	{ targets }: PoseLayout,
	a: Float64Array,
	b: Float64Array,
	w: number,
	ways: Int8Array,
	out: Float64Array,
): void {
	for (let i = 0; i < targets.length; i++) mixTarget(targets[i], a, b, w, ways[i], out);
}
