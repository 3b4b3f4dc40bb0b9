/** What is seen and heard while a clip is made, and never shipped. */

/** A picture or a film behind the stage while a clip is made: never part of what is shipped. */
export interface Reference {
	kind: 'picture' | 'film';
	/** SHA-256 of the content, in hexadecimal. */
	asset: string;
	name: string;
	/** Middle and width, in the project's units. */
	x: number;
	y: number;
	width: number;
	opacity: number;
	/** Of a film: ticks of the clip at which it begins, and its seconds in each of the clip's. */
	begins: number;
	rate: number;
}

/** A sound that is heard while a clip plays here: never part of what is shipped. */
export interface Sound {
	/** SHA-256 of the content, in hexadecimal. */
	asset: string;
	name: string;
	/** Ticks of the clip at which it begins. */
	begins: number;
	/** Loudness as a factor. */
	gain: number;
}
