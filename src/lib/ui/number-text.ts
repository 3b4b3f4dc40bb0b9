/** What people type into number fields: numbers, sums, and changes such as `+=2`, `*=1.5`, `-=10%`. */
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
		}
	}
	return NaN;
}

function arithmetic(text: string): number {
	try {
		return compute(jsep(text));
	} catch {
		return NaN;
	}
}

/** What other units are in that of a field, by how they are written. */
export type Units = Readonly<Record<string, number>>;

const LENGTHS: Units = { m: 1, cm: 0.01, mm: 0.001, km: 1000 };
const ANGLES: Units = { '°': 1, deg: 1, rad: 180 / Math.PI, turn: 360, turns: 360 };

/** Units that may be typed into a field that counts in one; frames take seconds where their rate is known. */
export function unitsFor(unit: string, frameRate = 0): Units {
	const own = unit.trim();
	switch (own) {
		case '':
			return {};
		case 'm':
			return LENGTHS;
		case '°':
			return ANGLES;
		case 's':
			return { s: 1, ms: 0.001 };
		case 'ms':
			return { ms: 1, s: 1000 };
		case 'f':
			return frameRate > 0 ? { f: 1, s: frameRate, ms: frameRate / 1000 } : { f: 1 };
		default:
			return { [own]: 1 };
	}
}

/**
 * The number that a text means for a field that holds `old`, or null where it means none. `+=2`, `-=2`, `*=2` and `/=2`
 * change the old value (the last two also without their sign of equality, since no number begins so); `+=10%` and
 * `-=10%` change it by that share. A bare sign is a sign. A unit at the end must be one of those given, and a number in
 * it is turned into the field's own.
 */
export function readNumber(text: string, old: number, units: Units = {}): number | null {
	const clean = text.trim().replace(',', '.').replace(/[−–]/g, '-');
	const [, operator, rest] = /^([-+*/])=\s*(.*)$/.exec(clean) ?? /^([*/])\s*(.*)$/.exec(clean) ?? [];
	if (operator === undefined) return readAmount(clean, units);
	const share = /^([\d.]+)\s*%$/.exec(rest);
	if (share && (operator === '+' || operator === '-'))
		return finite(old * (1 + (operator === '-' ? -1 : 1) * (Number(share[1]) / 100)));
	// A factor has no unit.
	const amount = readAmount(rest, operator === '*' || operator === '/' ? {} : units);
	if (amount === null) return null;
	switch (operator) {
		case '+':
			return finite(old + amount);
		case '-':
			return finite(old - amount);
		case '*':
			return finite(old * amount);
		default:
			return finite(old / amount);
	}
}

/** Whether a text is more than a plain number, so that what it comes to is worth telling. */
export function isComputed(text: string): boolean {
	return !/^[-+−–]?[\d.,]*(e[-+]?\d*)?$/i.test(text.trim());
}

function readAmount(clean: string, units: Units): number | null {
	const [, bare, unit] = /^(.*?[\d.)])\s*([a-z°%×]*)$/i.exec(clean) ?? [];
	if (bare === undefined) return null;
	const factor = unit === '' ? 1 : units[unit.toLowerCase()];
	return factor === undefined ? null : finite(factor * arithmetic(bare));
}

function finite(value: number): number | null {
	return Number.isFinite(value) ? value : null;
}

/** A number as fields show it: as many digits as mean something, no trailing zeros. */
export function writeNumber(value: number, digits = 3): string {
	const text = (Math.abs(value) < 0.5 * 10 ** -digits ? 0 : value).toFixed(digits);
	return text.includes('.') ? text.replace(/\.?0+$/, '') : text;
}
