/** Codes read by a reader that is not ours. */
import readQr from 'jsqr';
import { expect, it } from 'vitest';
import { qrPath } from './qr-path';

/** The path as a picture, so many pixels a square. */
function drawn({ size, d }: ReturnType<typeof qrPath>, scale = 3) {
	const side = size * scale;
	const pixels = new Uint8ClampedArray(4 * side * side).fill(255);
	for (const [, x, y] of d.matchAll(/M(\d+) (\d+)h1v1h-1z/g))
		for (let row = 0; row < scale; row++)
			for (let column = 0; column < scale; column++) {
				const at = 4 * ((Number(y) * scale + row) * side + Number(x) * scale + column);
				pixels.fill(0, at, at + 3);
			}
	return { pixels, side };
}

it.each([
	'http://192.168.0.5:4720/p/quay/rehearse?token=tide',
	`http://[2001:db8::1]:4720/p/${'a'.repeat(36)}/rehearse?token=${'%C3%A9'.repeat(40)}`,
])('a code of %s is read as that', (text) => {
	const { pixels, side } = drawn(qrPath(text));
	expect(readQr(pixels, side, side)?.data).toBe(text);
});
