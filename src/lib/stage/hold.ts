/** A handle of the stage that is held. */
import type { Matrix4, Vector3 } from 'three';
import { AXES } from '$core/document/types';
import type { Decision } from '$core/edits/by-hand';
import type { Drag } from '$lib/session/project.svelte';
import type { Vec3 } from '$player/maths/vector';

export type Axis = 0 | 1 | 2;

export interface Hold {
	kind: 'move' | 'free' | 'turn' | 'scale' | 'even' | 'pivot';
	axis: Axis;
	x: number;
	y: number;
	centre: { x: number; y: number };
	from: Record<Placed, Vec3>;
	grabbed: Vector3 | null;
	/** The arm's direction in the axes of the part's parent. */
	direction: Vector3;
	sign: 1 | -1;
	/** For the pivot: from the world into the part as it was. */
	toPart: Matrix4 | null;
	drag: Drag;
	part: string;
	/** How what it changes is written; null for the pivot. */
	decided: Extract<Decision, { ok: true }> | null;
	/** Radians turned so far, for counting on past half a turn. */
	turned: number;
}
export const LABELS: Record<Hold['kind'], string> = {
	move: 'Move',
	free: 'Move',
	turn: 'Turn',
	scale: 'Scale',
	even: 'Scale',
	pivot: 'Move the pivot of',
};
/** What can be caught on the stage. */
export type Handle = Exclude<Hold['kind'], 'pivot'>;
export type Placed = 'translation' | 'rotation' | 'scale';
/** What each handle changes. */
export const PROPERTY: Record<Handle, Placed> = {
	move: 'translation',
	free: 'translation',
	turn: 'rotation',
	scale: 'scale',
	even: 'scale',
};

const NAMES: Record<Handle, string> = {
	free: 'move',
	move: 'move along',
	turn: 'turn about',
	scale: 'scale along',
	even: 'scale evenly',
};
/** What a handle is called, for who does not see it. */
export function nameOf(kind: Handle, axis: Axis): string {
	return kind === 'even' || kind === 'free' ? NAMES[kind] : `${NAMES[kind]} ${AXES[axis]}`;
}

/** What can be done with the handle under the pointer. */
export function hintFor(kind: Handle, axis: Axis, movesPivot: boolean): string {
	switch (kind) {
		case 'free':
			return movesPivot
				? 'drag: move the pivot; the drawing stays'
				: 'drag: move in the view; Shift: in steps';
		case 'move':
			return `drag: move along ${AXES[axis]}; Shift: in steps; type a number for an exact distance`;
		case 'turn':
			return `drag: turn about ${AXES[axis]}; Shift: 15° steps; type degrees`;
		case 'scale':
			return `drag: scale along ${AXES[axis]}; Shift: in quarters; type a factor`;
		case 'even':
			return 'drag: scale evenly; Shift: in quarters; type a factor';
	}
}

/** What an arrow key on a handle applies: units along an arm, degrees, or a factor; `way` is 1 or −1. */
export function stepOf(
	kind: Exclude<Handle, 'free'>,
	way: number,
	isLarge: boolean,
	isWorld: boolean,
): number {
	if (kind === 'move') return way * (isWorld ? (isLarge ? 0.5 : 0.01) : isLarge ? 10 : 1);
	if (kind === 'turn') return way * (isLarge ? 15 : 1);
	return 1 + way * (isLarge ? 0.25 : 0.01);
}
