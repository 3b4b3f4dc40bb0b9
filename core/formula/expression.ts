/**
 * Formulas as text: parsed to a tree in which only what is listed here may occur, and compiled to closures. Nothing is
 * ever evaluated as code. Angles in degrees; truth is 1, untruth 0.
 */
import jsep from 'jsep';
import { FUNCTIONS } from './functions';

export const MAX_FORMULA_LENGTH = 500;
/** Names that every formula knows, in the order of the numbers that `evaluate` is given first. */
export const BUILT_IN_NAMES = ['time', 'frame', 'length', 'rest'] as const;
export const CONSTANTS: Readonly<Record<string, number>> = { pi: Math.PI, true: 1, false: 0 };

const SIGNS: Readonly<Record<string, (a: number) => number>> = { '-': (a) => -a, '+': (a) => a };
const POWER = '**';

/** What the parser gives its hooks, of which its types say nothing. */
interface Parser {
	readonly code: number;
	readonly expr: string;
	index: number;
	gobbleSpaces(): void;
	gobbleToken(): jsep.Expression | false;
}

// A power binds stronger than a sign before it, as in mathematics and in most languages: -2 ** 2 is -4.
jsep.hooks.add('gobble-token', function (this: Parser, env: { node?: unknown }) {
	const operator = this.expr.charAt(this.index);
	if (!Object.hasOwn(SIGNS, operator)) return;
	this.index++;
	const power = (): unknown => {
		const base = this.gobbleToken();
		if (!base)
			throw Object.assign(new Error(), { index: this.index, description: 'a sign has nothing behind it' });
		this.gobbleSpaces();
		if (!this.expr.startsWith(POWER, this.index)) return base;
		this.index += POWER.length;
		this.gobbleSpaces();
		return { type: 'BinaryExpression', operator: POWER, left: base, right: power() };
	};
	this.gobbleSpaces();
	env.node = { type: 'UnaryExpression', operator, argument: power(), prefix: true };
} as never);

/** A place in the text and what is wrong there. */
export interface FormulaProblem {
	/** Character at which it starts. */
	index: number;
	message: string;
	/** A name that may have been meant. */
	suggestion?: string;
}

/** The numbers of the built-in names, then those of the inputs in the order that `compileExpression` was given. */
export type Evaluate = (numbers: Float64Array) => number;

export type CompiledExpression =
	{ ok: true; evaluate: Evaluate; names: ReadonlySet<string> } | { ok: false; problem: FormulaProblem };

class Refusal extends Error {
	constructor(readonly problem: FormulaProblem) {
		super(problem.message);
	}
}

const UNARY: Readonly<Record<string, (a: number) => number>> = {
	...SIGNS,
	'!': (a) => (a === 0 ? 1 : 0),
};

type Binary = (a: Evaluate, b: Evaluate) => Evaluate;
const BINARY: Readonly<Record<string, Binary>> = {
	'+': (a, b) => (n) => a(n) + b(n),
	'-': (a, b) => (n) => a(n) - b(n),
	'*': (a, b) => (n) => a(n) * b(n),
	'/': (a, b) => (n) => a(n) / b(n),
	'%': (a, b) => (n) => FUNCTIONS.mod.compute(a(n), b(n)),
	'**': (a, b) => (n) => a(n) ** b(n),
	'<': (a, b) => (n) => (a(n) < b(n) ? 1 : 0),
	'<=': (a, b) => (n) => (a(n) <= b(n) ? 1 : 0),
	'>': (a, b) => (n) => (a(n) > b(n) ? 1 : 0),
	'>=': (a, b) => (n) => (a(n) >= b(n) ? 1 : 0),
	'==': (a, b) => (n) => (a(n) === b(n) ? 1 : 0),
	'!=': (a, b) => (n) => (a(n) !== b(n) ? 1 : 0),
	'&&': (a, b) => (n) => (a(n) !== 0 && b(n) !== 0 ? 1 : 0),
	'||': (a, b) => (n) => (a(n) !== 0 || b(n) !== 0 ? 1 : 0),
};

/** Edits (insert, delete, replace) that lead from one word to another: Levenshtein distance. */
function editDistance(a: string, b: string): number {
	let row = Array.from({ length: b.length + 1 }, (_, j) => j);
	for (let i = 1; i <= a.length; i++) {
		const next = [i];
		for (let j = 1; j <= b.length; j++) {
			next[j] = Math.min(row[j] + 1, next[j - 1] + 1, row[j - 1] + (a[i - 1] === b[j - 1] ? 0 : 1));
		}
		row = next;
	}
	return row[b.length];
}

function nearest(name: string, known: readonly string[]): string | undefined {
	const wanted = name.toLowerCase();
	let best: string | undefined;
	let least = (name.length <= 3 ? 1 : Math.max(2, Math.floor(name.length / 3))) + 1;
	for (const candidate of known) {
		const distance = editDistance(wanted, candidate.toLowerCase());
		if (distance < least) [best, least] = [candidate, distance];
	}
	return best;
}

class Compiler {
	readonly names = new Set<string>();
	private readonly slots: ReadonlyMap<string, number>;

	constructor(
		private readonly text: string,
		inputs: readonly string[],
	) {
		this.slots = new Map([...BUILT_IN_NAMES, ...inputs].map((name, slot) => [name, slot]));
	}

	/** Where a word first stands in the text. */
	private placeOf(word: string): number {
		return Math.max(0, this.text.search(new RegExp(`(?<![\\w$])${word.replace(/\W/g, '\\$&')}(?!\\w)`)));
	}

	private unknown(name: string, kind: 'name' | 'function', known: readonly string[]): Refusal {
		const suggestion = nearest(name, known);
		return new Refusal({
			index: this.placeOf(name),
			message: `There is no ${kind} "${name}" here.${suggestion ? ` Did you mean "${suggestion}"?` : ''}`,
			...(suggestion ? { suggestion } : {}),
		});
	}

	compile(node: jsep.Expression): Evaluate {
		switch (node.type) {
			case 'Literal': {
				const { value } = node as jsep.Literal;
				if (typeof value === 'boolean') return value ? () => 1 : () => 0;
				if (typeof value !== 'number') throw this.refuse('Only numbers can be written here.', String(value));
				return () => value;
			}
			case 'Identifier':
				return this.name((node as jsep.Identifier).name);
			case 'UnaryExpression': {
				const { operator, argument } = node as jsep.UnaryExpression;
				if (!Object.hasOwn(UNARY, operator)) throw this.refuse(`"${operator}" is not known here.`, operator);
				const [apply, a] = [UNARY[operator], this.compile(argument)];
				return (n) => apply(a(n));
			}
			case 'BinaryExpression': {
				const { operator, left, right } = node as jsep.BinaryExpression;
				if (!Object.hasOwn(BINARY, operator)) throw this.refuse(`"${operator}" is not known here.`, operator);
				return BINARY[operator](this.compile(left), this.compile(right));
			}
			case 'ConditionalExpression': {
				const { test, consequent, alternate } = node as jsep.ConditionalExpression;
				const [is, then, otherwise] = [test, consequent, alternate].map((part) => this.compile(part));
				return (n) => (is(n) !== 0 ? then(n) : otherwise(n));
			}
			case 'CallExpression':
				return this.call(node as jsep.CallExpression);
			case 'Compound':
				throw this.refuse('One expression is wanted: something is missing between its parts.');
			default:
				throw this.refuse('Only numbers, names, functions and arithmetic can be used here.');
		}
	}

	private refuse(message: string, word?: string): Refusal {
		return new Refusal({ index: word === undefined ? 0 : Math.max(0, this.text.indexOf(word)), message });
	}

	private name(name: string): Evaluate {
		const slot = this.slots.get(name);
		if (slot !== undefined) {
			this.names.add(name);
			return (n) => n[slot];
		}
		if (Object.hasOwn(CONSTANTS, name)) {
			const value = CONSTANTS[name];
			return () => value;
		}
		if (Object.hasOwn(FUNCTIONS, name)) throw this.refuse(`"${name}" is a function: write ${name}(…).`, name);
		throw this.unknown(name, 'name', [...this.slots.keys(), ...Object.keys(CONSTANTS)]);
	}

	private call(node: jsep.CallExpression): Evaluate {
		if (node.callee.type !== 'Identifier') throw this.refuse('Only functions by their names can be called.');
		const { name } = node.callee as jsep.Identifier;
		if (!Object.hasOwn(FUNCTIONS, name)) throw this.unknown(name, 'function', Object.keys(FUNCTIONS));
		const { compute, least, most, words } = FUNCTIONS[name];
		const count = node.arguments.length;
		if (count < least || count > most) throw this.refuse(`Write it as ${name}(${words}).`, name);
		const args = node.arguments.map((argument) => this.compile(argument));
		const [a, b, c] = args;
		switch (count) {
			case 1:
				return (n) => compute(a(n));
			case 2:
				return (n) => compute(a(n), b(n));
			case 3:
				return (n) => compute(a(n), b(n), c(n));
			default:
				return (n) => compute(...args.map((argument) => argument(n)));
		}
	}
}

/** Compiles a formula's text; `inputs` are the names that it may use beside the built-in ones. */
export function compileExpression(text: string, inputs: readonly string[]): CompiledExpression {
	const refused = (index: number, message: string): CompiledExpression => ({
		ok: false,
		problem: { index, message },
	});
	if (text.trim() === '') return refused(0, 'Write what the value should be.');
	if (text.length > MAX_FORMULA_LENGTH)
		return refused(MAX_FORMULA_LENGTH, `A formula has at most ${MAX_FORMULA_LENGTH} characters.`);
	const compiler = new Compiler(text, inputs);
	try {
		return { ok: true, evaluate: compiler.compile(jsep(text)), names: compiler.names };
	} catch (error) {
		if (error instanceof Refusal) return { ok: false, problem: error.problem };
		const { index, description } = error as { index?: number; description?: string };
		return refused(index ?? 0, `This cannot be read: ${description ?? 'it is not complete'}.`);
	}
}
