/** Errors at the edges are values: what is wrong and where (a JSON Pointer, RFC 6901). */
export interface Problem {
	pointer: string;
	message: string;
}
export type Result<T> = { ok: true; value: T } | { ok: false; problems: Problem[] };

export function ok<T>(value: T): Result<T> {
	return { ok: true, value };
}

export function fail(pointer: string, message: string): { ok: false; problems: Problem[] } {
	return { ok: false, problems: [{ pointer, message }] };
}

/** One reference token of a JSON Pointer, escaped. */
export function token(text: string): string {
	return text.replaceAll('~', '~0').replaceAll('/', '~1');
}

export function describe(problem: Problem): string {
	return problem.pointer ? `${problem.message} (at ${problem.pointer})` : problem.message;
}
