/** For tests: a canvas that writes down what is drawn on it, one line a call or setting. */

const written = (value: unknown): string =>
	typeof value === 'number'
		? String(Math.round(value * 10) / 10 + 0)
		: Array.isArray(value)
			? `[${value.map(written).join(' ')}]`
			: value instanceof RecordedPath
				? `{${value.lines.join('; ')}}`
				: String(value);

function recording(lines: string[], known: Record<string, unknown>): object {
	return new Proxy(known, {
		get: (own, name: string) => {
			if (name in own) return own[name];
			return (...values: unknown[]) => void lines.push([name, ...values.map(written)].join(' '));
		},
		set: (own, name: string, value: unknown) => {
			own[name] = value;
			lines.push(`${name} = ${typeof value === 'number' ? Math.round(value * 1000) / 1000 : written(value)}`);
			return true;
		},
	});
}

/** Takes the place of the browser's `Path2D`. */
export class RecordedPath {
	readonly lines: string[] = [];
	constructor() {
		return Object.setPrototypeOf(
			recording(this.lines, { lines: this.lines }),
			RecordedPath.prototype,
		) as RecordedPath;
	}
}

/** What puts something on the canvas, or ends a state: after it a new line begins. */
const ENDS = /^(stroke|fill|clip|save|restore)/;

/** A context, and what was drawn on it, a stroke or a filling a line. Text is six pixels a letter. */
export function recordedCanvas(): { context: CanvasRenderingContext2D; drawn: () => string } {
	const lines: string[] = [];
	const context = recording(lines, { measureText: (text: string) => ({ width: 6 * text.length }) });
	const isEnd = (line: string) => ENDS.test(line) && !line.includes(' = ');
	const drawn = () => lines.map((line) => line + (isEnd(line) ? '\n' : '; ')).join('');
	return { context: context as CanvasRenderingContext2D, drawn };
}
