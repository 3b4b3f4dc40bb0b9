/** A handle of the stage that is held. */
import type { Matrix4, Vector3 } from 'three';
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
export type Placed = 'translation' | 'rotation' | 'scale';
/** What each handle changes. */
export const PROPERTY: Record<Exclude<Hold['kind'], 'pivot'>, Placed> = {
	move: 'translation',
	free: 'translation',
	turn: 'rotation',
	scale: 'scale',
	even: 'scale',
};
