/** Two fingers on the lanes: apart and together zooms time, along and across scrolls. */

export interface Finger {
	id: number;
	x: number;
	y: number;
}

/** What a move of one of two fingers means. */
export interface Pinch {
	/** Factor on ticks a pixel: below 1 shows more closely. */
	zoom: number;
	/** Pixel across which it is zoomed. */
	x: number;
	/** Pixels that the middle of both has moved. */
	dx: number;
	dy: number;
}

/** Nearer than this across, in pixels, fingers zoom no further: the factor would leap. */
const NEAREST = 24;

export class TwoFingers {
	private readonly fingers = new Map<number, Finger>();

	/** Both are down: what one finger alone began is over. */
	get areDown(): boolean {
		return this.fingers.size === 2;
	}

	/** A third finger counts for nothing. */
	down(finger: Finger): void {
		if (this.fingers.size < 2) this.fingers.set(finger.id, finger);
	}

	up(id: number): void {
		this.fingers.delete(id);
	}

	/** What a move means while both are down; null else. */
	move(finger: Finger): Pinch | null {
		const before = this.fingers.get(finger.id);
		if (!before) return null;
		const other = [...this.fingers.values()].find(({ id }) => id !== finger.id);
		this.fingers.set(finger.id, finger);
		if (!other) return null;
		const apart = (own: Finger) => Math.max(NEAREST, Math.abs(own.x - other.x));
		return {
			zoom: apart(before) / apart(finger),
			x: (finger.x + other.x) / 2,
			dx: (finger.x - before.x) / 2,
			dy: (finger.y - before.y) / 2,
		};
	}
}
