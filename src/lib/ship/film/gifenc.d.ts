declare module 'gifenc' {
	type Palette = number[][];
	interface Gif {
		writeFrame(
			index: Uint8Array,
			width: number,
			height: number,
			options: {
				palette: Palette;
				/** Milliseconds. */
				delay: number;
				repeat?: number;
				transparent?: boolean;
				transparentIndex?: number;
				dispose?: number;
			},
		): void;
		finish(): void;
		bytes(): Uint8Array;
	}
	export function GIFEncoder(): Gif;
	type Format = 'rgb565' | 'rgb444' | 'rgba4444';
	export function quantize(
		rgba: Uint8ClampedArray,
		most: number,
		options?: { format?: Format; oneBitAlpha?: boolean },
	): Palette;
	export function applyPalette(rgba: Uint8ClampedArray, palette: Palette, format?: Format): Uint8Array;
}
