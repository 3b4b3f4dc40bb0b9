/** Positions in the project's units with the drawing's offset in them; three numbers a vertex, three indices a face. */
export interface Mesh {
	positions: Float32Array;
	normals: Float32Array;
	indices: Uint32Array;
	/** Of a pattern: what is left of the colour at each vertex, in linear light. */
	shades?: Float32Array;
}
