/** How the stage shows things: a matter of looking, never of the document. */
import type { Quaternion } from '$player/maths/quaternion';
import type { Vec3 } from '$player/maths/vector';

export type ViewName = 'perspective' | 'front' | 'side' | 'top' | 'screen' | 'camera';
export type AxesOf = 'parent' | 'part' | 'world';
export const AXES_OF: readonly AxesOf[] = ['parent', 'part', 'world'];

/** In the project's own space: what is looked at, just before all that is drawn there, and the eye that sees it. */
export interface Standpoint {
	middle: Vec3;
	eye: { at: Vec3; orientation: Quaternion };
}

export class StageLook {
	view = $state<ViewName>('front');
	/** The camera of the project that was picked last, to look through. */
	camera = $state<string | null>(null);
	/** Whose axes the arms of the handles follow. */
	axes = $state<AxesOf>('parent');
	/** The way of the selected part. */
	path = $state(true);
	/** Motion path as the part's parent sees it, not as the world does. */
	pathInParent = $state(false);
	/** The selected part before and after the playhead. */
	ghosts = $state(false);
	/** Frames between ghosts. */
	ghostStep = $state(4);
	/** Ghosts on each side of the playhead. */
	ghostCount = $state(3);
	/** The selected part as it rests, as an outline. */
	rest = $state(false);
	/** What numbers of one's own are at the playhead, where the clip moves some. */
	numbers = $state(true);
	/** Whether the browser draws without a graphics processor; the stage says so once it draws. */
	isSoftware = $state(false);
	/** Where the middle of the picture is, and its eye; the stage puts it here once it draws. */
	standpoint: () => Standpoint | null = () => null;
	/** Brings a part, or with null everything, into sight; the stage puts it here once it draws. */
	frame: (part: string | null) => void = () => {};
}
