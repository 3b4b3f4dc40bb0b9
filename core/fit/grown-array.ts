/** A copy with room for twice as many numbers. */
export function grown(array: Float64Array): Float64Array<ArrayBuffer> {
	const larger = new Float64Array(array.length * 2);
	larger.set(array);
	return larger;
}
