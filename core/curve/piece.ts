/** Where a value over time has a corner or a jump, and what it is between. */

export interface Piece {
	/** Ticks. */
	t: number;
	/** Whether the value jumps there. */
	jump: boolean;
	/**
	 * Whether every component is a polynomial of degree three at most from there to the next piece (or to the end):
	 * the residual of a file is one then too, and its peaks are known. Of a rotation: what turns it.
	 */
	cubic?: boolean;
}
