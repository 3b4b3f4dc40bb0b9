/** Errors of the API in the form of RFC 9457 (problem details). */
import type { Problem } from '$core/result';

const TITLES = {
	'bad-request': [400, 'The request cannot be read'],
	'forbidden-host': [403, 'This host name is not served'],
	'foreign-origin': [403, 'Writes are taken from the own pages only'],
	'token-needed': [401, 'An access token is needed'],
	'not-found': [404, 'There is no such thing'],
	'newer-project': [409, 'The project is newer than this Hillock'],
	'stale-revision': [412, 'The project has changed in the meantime'],
	'too-large': [413, 'The body is too large'],
	'not-json': [415, 'The body must be JSON'],
	'bad-document': [422, 'The content is not valid'],
	'nothing-to-undo': [409, 'There is nothing to take back or to do again'],
	'bound-not-kept': [422, 'The bound cannot be kept'],
	'revision-needed': [428, 'The base revision is missing'],
	'too-slow': [503, 'The work took too long'],
	stopping: [503, 'The server is being stopped'],
	'disk-full': [507, 'The disk of the server is full'],
	'not-writable': [507, 'The server cannot write its data'],
	damaged: [500, 'The data on the server are damaged'],
} as const;
export type ProblemType = keyof typeof TITLES;

/** Thrown by the server's functions, turned into an answer at the edge. */
export class ApiError extends Error {
	constructor(
		readonly type: ProblemType,
		detail: string,
		readonly pointer?: string,
		readonly extra: Record<string, unknown> = {},
	) {
		super(detail);
	}

	static of(problems: readonly Problem[]): ApiError {
		const [first] = problems;
		return new ApiError('bad-document', first.message, first.pointer, { problems });
	}
}

export function problemResponse(error: ApiError): Response {
	const [status, title] = TITLES[error.type];
	const body = {
		type: `/problems/${error.type}`,
		title,
		status,
		detail: error.message,
		...(error.pointer === undefined ? {} : { pointer: error.pointer }),
		...error.extra,
	};
	return new Response(JSON.stringify(body), {
		status,
		headers: { 'content-type': 'application/problem+json', 'cache-control': 'no-store' },
	});
}

/** What the database cannot do, as a problem; null where it is something else. */
function troubleOf(error: unknown): ApiError | null {
	const code = String((error as { code?: unknown } | null)?.code);
	if (code === 'SQLITE_FULL')
		return new ApiError('disk-full', 'Nothing was lost: it goes on by itself when there is room again.');
	if (/^SQLITE_(READONLY|IOERR|CANTOPEN)/.test(code))
		return new ApiError(
			'not-writable',
			`Its data folder cannot be written (${code}). It goes on by itself when it can.`,
		);
	if (/^SQLITE_(CORRUPT|NOTADB)/.test(code))
		return new ApiError(
			'damaged',
			'Start Hillock anew: it reads what can be read, and takes the rest from its backups.',
		);
	return null;
}

/** Runs a handler and turns ApiErrors and troubles of the disk into problem answers. Anything else is a bug and stays one. */
export async function answer(handler: () => Response | Promise<Response>): Promise<Response> {
	try {
		return await handler();
	} catch (error) {
		const known = error instanceof ApiError ? error : troubleOf(error);
		if (known) return problemResponse(known);
		throw error;
	}
}
