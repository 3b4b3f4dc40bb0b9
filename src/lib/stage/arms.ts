/** Where the handles of a part stand about its pivot, in pixels of the canvas. */
import type { AxesOf } from '$lib/session/stage-look.svelte';
import type { Axis } from './hold';
import type { StageScene } from './scene';

export interface Arm {
	axis: Axis;
	/** Its end. */
	x: number;
	y: number;
	/** Its direction, of length 1. */
	dx: number;
	dy: number;
}

/** Arms begin here, so that a small part is seen between them. */
export const GAP = 16;
export const ARM = 58;
/** Bars that scale stand beyond the arms. */
export const BAR = 80;
export const RING = 40;
/** The even scale stands outside the ring, which is free all round, down and to the right. */
export const KNOB = 62 * Math.SQRT1_2;
/** As near as this to the handles nothing moves the view: a handle was meant. */
export const GUARD = BAR + 10;

/** An axis of which a metre, or a hundred pixels, is shorter than this on screen points at the eye. */
const LEAST = 6;

/** The arms of a part's axes that are seen from the side, `reach` pixels long. */
export function armsOf(
	scene: StageScene,
	part: string,
	of: AxesOf,
	centre: { x: number; y: number },
	reach: number,
): Arm[] {
	return ([0, 1, 2] as const).flatMap((axis) => {
		const unit = scene.onScreen(part, scene.direction(part, axis, of));
		const length = Math.hypot(unit.x, unit.y);
		if (length * scene.stretch < LEAST) return [];
		const [dx, dy] = [unit.x / length, unit.y / length];
		return [{ axis, x: centre.x + dx * reach, y: centre.y + dy * reach, dx, dy }];
	});
}
