/** Anything that the fit can read: a value over time with its known pieces and jumps. */
import type { Degree, Piece } from '../curve/piece';
import { angleBetween } from '../../player/maths/quaternion';

/** What the numbers of a value are. */
export interface RowKind {
	/** Components; four are a unit quaternion, unless they are said to be plain numbers (weights). */
	size: number;
	plain?: boolean;
}

export function rotates({ size, plain }: RowKind): boolean {
	return size === 4 && !plain;
}

export interface Source extends RowKind {
	/** Ticks; the source is read on [start, end]. */
	start: number;
	end: number;
	/** Places where the value may have a corner or a jump, in order; start and end need not be among them. */
	pieces: readonly Piece[];
	/**
	 * Of a source of which nobody knows how fast it bends between its pieces: places a second at which it is to be looked
	 * at. Its bound is measured there, not guaranteed everywhere.
	 */
	looks?: number;
	/**
	 * Writes the value at a time in ticks (any real number), continuous from the right; in a later round than the first
	 * with what accumulates until then.
	 */
	evaluate(ticks: number, out: Float64Array, round?: number): void;
}

/** Says of times in ticks, in order, which degree the source (or what turns it) has there. */
export function degreesOf({ pieces }: Source): (ticks: number) => Degree | undefined {
	let at = 0;
	return (ticks) => {
		if (pieces.length === 0 || ticks < pieces[0].t) return undefined;
		while (at + 1 < pieces.length && pieces[at + 1].t <= ticks) at++;
		return pieces[at].degree;
	};
}

/** How far two values are apart: degrees for quaternions, else the largest difference of a component. */
export function distance(kind: RowKind, a: ArrayLike<number>, b: ArrayLike<number>): number {
	if (rotates(kind)) return angleBetween(a, b);
	let worst = 0;
	for (let i = 0; i < kind.size; i++) worst = Math.max(worst, Math.abs(a[i] - b[i]));
	return worst;
}

/** How far left of a jump the value before it is read, in ticks. */
export const JUST_BEFORE = 1e-4;
