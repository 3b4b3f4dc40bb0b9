/** Colours as text. */
import type { Four } from '../../player/maths/vector';

/** The shares of a `#rrggbb`, with full alpha. */
export function parseHex(text: string): Four {
	const value = parseInt(text.slice(1), 16);
	return [((value >> 16) & 255) / 255, ((value >> 8) & 255) / 255, (value & 255) / 255, 1];
}

/** `#rrggbb` of a colour at `at`; alpha is not told. */
export function writeHex(colour: ArrayLike<number>, at = 0): string {
	const byte = (i: number) =>
		Math.round(255 * Math.min(1, Math.max(0, colour[at + i])))
			.toString(16)
			.padStart(2, '0');
	return `#${byte(0)}${byte(1)}${byte(2)}`;
}
