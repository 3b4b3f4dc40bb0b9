/** What a part looks like. */
import type { Vec3 } from '../../player/maths/vector';

/** The line about a flat drawing. `start` and `end` say which share of its way is drawn, in 0…1. */
export interface Stroke {
	/** In the project's units. */
	width: number;
	/** `#rrggbb`. */
	colour: string;
	start: number;
	end: number;
}

/** How a flat drawing shows its outline; it is filled unless it says otherwise. */
interface Outlined {
	stroke?: Stroke;
	filled?: boolean;
}

export const TEXT_ALIGNS = ['left', 'center', 'right'] as const;
export type TextAlign = (typeof TEXT_ALIGNS)[number];

export const MOST_WEIGHTS = 8;

export const EDGES = ['top', 'right', 'bottom', 'left'] as const;
/** What is hidden of a drawing and of all that hangs on it, from each of its edges, as a share of its size there. */
export type Reveal = Readonly<Record<(typeof EDGES)[number], number>>;

/** What a part looks like. Sizes in the project's units; `offset` places the drawing about the part's pivot. */
export type Drawing = {
	offset: Vec3;
	/** Quarters darker in turn, so that turning shows. */
	pattern?: 'quarters';
	/** Of something flat; nothing is hidden where it is absent. */
	reveal?: Reveal;
} & (
	| { kind: 'empty' }
	| { kind: 'box'; size: Vec3 }
	| { kind: 'ball'; size: Vec3 }
	| { kind: 'cylinder'; size: Vec3 }
	| { kind: 'cone'; size: Vec3 }
	| ({ kind: 'plane'; size: Vec3 } & Outlined)
	| ({ kind: 'card'; size: Vec3; radius: number } & Outlined)
	| ({ kind: 'ellipse'; size: Vec3 } & Outlined)
	| ({ kind: 'path'; d: string; depth: number } & Outlined)
	/** The text's place in its box is in the middle unless it says otherwise. */
	| { kind: 'label'; text: string; size: Vec3; align?: TextAlign }
	/** `asset` is the SHA-256 of a picture that the project keeps. */
	| { kind: 'image'; asset: string; size: Vec3 }
	/**
	 * A mesh of a glTF file that the project keeps, by its index there; `weights` of its morph targets at rest, and
	 * what the file calls these (an empty name is none).
	 */
	| {
			kind: 'model';
			asset: string;
			mesh: number;
			size: Vec3;
			weights: readonly number[];
			targets?: readonly string[];
	  }
	/** Looks along −z; vertical field of view in degrees. */
	| { kind: 'camera'; fieldOfView: number }
);
export type DrawingKind = Drawing['kind'];
