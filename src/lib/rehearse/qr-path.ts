/** A text as a QR code, one path on a grid of unit squares. */
import qrcode from 'qrcode-generator';

/** Empty squares that readers want about a code. Source: ISO/IEC 18004, 6.3.8. */
const QUIET = 4;

export function qrPath(text: string): { size: number; d: string } {
	const code = qrcode(0, 'M');
	code.addData(text);
	code.make();
	const count = code.getModuleCount();
	let d = '';
	for (let row = 0; row < count; row++)
		for (let column = 0; column < count; column++)
			if (code.isDark(row, column)) d += `M${column + QUIET} ${row + QUIET}h1v1h-1z`;
	return { size: count + 2 * QUIET, d };
}
