/** Colours as text. */
import type { Four } from '../../player/maths/vector';

const byteOf = (share: number) => Math.round(255 * Math.min(1, Math.max(0, share)));
const hexOf = (share: number) => byteOf(share).toString(16).padStart(2, '0');

/** The shares of a `#rrggbb` or `#rrggbbaa`; without alpha it is 1. */
export function parseHex(text: string): Four {
	const share = (i: number) => parseInt(text.slice(1 + 2 * i, 3 + 2 * i), 16) / 255;
	return [share(0), share(1), share(2), text.length > 7 ? share(3) : 1];
}

/** `#rrggbb` of a colour at `at`; alpha is not told. */
export function writeHex(colour: ArrayLike<number>, at = 0): string {
	return `#${hexOf(colour[at])}${hexOf(colour[at + 1])}${hexOf(colour[at + 2])}`;
}

/** `#rrggbbaa` of a colour. */
export function writeHexAlpha(colour: Readonly<Four>): string {
	return writeHex(colour) + hexOf(colour[3]);
}

/** A colour that was changed as text: a share whose byte is the same keeps its exact value. */
export function changedByHex(was: Readonly<Four>, text: string): Four {
	return parseHex(text).map((share, i) => (byteOf(was[i]) === byteOf(share) ? was[i] : share)) as Four;
}
