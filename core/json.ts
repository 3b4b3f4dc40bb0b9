/** Reads JSON from outside: size and nesting are bounded before anything is built from it. */
import { fail, ok, type Result } from './result';

export const MAX_JSON_DEPTH = 64;

/** How deep arrays and objects nest in JSON text, counted up to `limit` + 1. */
function nestingDepth(text: string, limit: number): number {
	let depth = 0;
	let deepest = 0;
	let inString = false;
	for (let i = 0; i < text.length; i++) {
		const code = text.charCodeAt(i);
		if (inString) {
			if (code === 92) i++;
			else if (code === 34) inString = false;
		} else if (code === 34) inString = true;
		else if (code === 91 || code === 123) {
			depth++;
			if (depth > deepest) deepest = depth;
			if (deepest > limit) return deepest;
		} else if (code === 93 || code === 125) depth--;
	}
	return deepest;
}

/** The message of a failed parse with line and column, where the engine tells the position. */
function placeOfError(text: string, error: unknown): string {
	const message = error instanceof Error ? error.message : String(error);
	const position = /position (\d+)/.exec(message);
	if (!position) return message;
	const before = text.slice(0, Number(position[1])).split('\n');
	return `${message.replace(/ \(line.*$/, '')} (line ${before.length}, column ${before.at(-1)!.length + 1})`;
}

export function parseJson(text: string): Result<unknown> {
	if (nestingDepth(text, MAX_JSON_DEPTH) > MAX_JSON_DEPTH) {
		return fail('', `The JSON nests deeper than ${MAX_JSON_DEPTH} levels.`);
	}
	try {
		return ok(JSON.parse(text) as unknown);
	} catch (error) {
		return fail('', `This is not JSON: ${placeOfError(text, error)}`);
	}
}
