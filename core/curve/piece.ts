/** Where a value over time has a corner or a jump, and what it is between. */

/** Straight, or cubic at most. */
export type Degree = 1 | 3;

export interface Piece {
	/** Ticks. */
	t: number;
	/** Whether the value jumps there. */
	jump: boolean;
	/**
	 * The degree of every component at most, where each is a polynomial from there to the next piece (or to the end): the
	 * residual of a file is one then too, and its peaks are known. Of a rotation: of what turns it.
	 */
	degree?: Degree;
}
