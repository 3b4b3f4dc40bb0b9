/** What people type into number fields: numbers, sums, and changes such as `+2`, `*1.5`, `-10%`. */
import jsep from 'jsep';

function compute(node: jsep.Expression): number {
	switch (node.type) {
		case 'Literal':
			return typeof node.value === 'number' ? node.value : NaN;
		case 'UnaryExpression': {
			const value = compute(node.argument as jsep.Expression);
			return node.operator === '-' ? -value : node.operator === '+' ? value : NaN;
		}
		case 'BinaryExpression': {
			const a = compute(node.left as jsep.Expression);
			const b = compute(node.right as jsep.Expression);
			switch (node.operator) {
				case '+':
					return a + b;
				case '-':
					return a - b;
				case '*':
					return a * b;
				case '/':
					return a / b;
			}
			return NaN;
		}
		default:
			return NaN;
	}
}

function arithmetic(text: string): number {
	try {
		return compute(jsep(text));
	} catch {
		return NaN;
	}
}

/**
 * The number that a text means for a field that holds `old`, or null where it means none. `+2`, `*2` and `/2` change
 * the old value; `-10%` and `+10%` change it by that share; a bare minus starts a negative number.
 */
export function readNumber(text: string, old: number): number | null {
	const clean = text
		.trim()
		.replace(',', '.')
		.replace(/[−–]/g, '-')
		.replace(/\s*(°|px|m|s|ms)$/, '');
	if (clean === '') return null;
	const percent = /^([+-])\s*([\d.]+)\s*%$/.exec(clean);
	let value: number;
	if (percent) value = old * (1 + (percent[1] === '-' ? -1 : 1) * (Number(percent[2]) / 100));
	else if (/^[*/]/.test(clean)) value = arithmetic(`(${old})${clean}`);
	else if (clean.startsWith('+')) value = arithmetic(`(${old})+(${clean.slice(1)})`);
	else value = arithmetic(clean);
	return Number.isFinite(value) ? value : null;
}

/** A number as fields show it: as many digits as mean something, no trailing zeros. */
export function writeNumber(value: number, digits = 3): string {
	const text = (Math.abs(value) < 0.5 * 10 ** -digits ? 0 : value).toFixed(digits);
	return text.includes('.') ? text.replace(/\.?0+$/, '') : text;
}
