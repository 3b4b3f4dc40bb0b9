/** What parts look like on the page that plays a clip file: plain data, written beside the clips. */

/** A triangle mesh, in its part's own axes. */
export interface Solid {
	positions: number[];
	normals: number[];
	indices: number[];
	/** Of each vertex, how bright its colour is; all are 1 when absent. */
	shades?: number[];
	/** `#rrggbb` */
	colour: string;
}

/** Something flat: a box in its part's own axes, with y down, and what is in it. */
export interface Face {
	/** Middle, width and height. */
	box: [x: number, y: number, width: number, height: number];
	radius?: number;
	/** An ellipse. */
	isRound?: boolean;
	/** An outline in the part's own axes, instead of the box's. */
	d?: string;
	text?: string;
	align?: 'left' | 'center' | 'right';
	/** Not filled: the line alone. */
	hollow?: boolean;
	line?: { width: number; colour: string; trim: [start: number, end: number] };
	/** Shares hidden from top, right, bottom and left. */
	reveal?: number[];
}

/** Of a part, in the order of the clip file's parts. */
export interface Look {
	/** `#rrggbb` */
	colour: string;
	opacity?: number;
	hidden?: boolean;
	face?: Face;
	solids?: Solid[];
}

export interface PageData {
	title: string;
	looks: Look[];
}
