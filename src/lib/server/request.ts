/** Reading requests: bodies within a limit, JSON within a depth, headers as what they mean. */
import { MAX_FILE_LENGTH, MOST_PACK_BYTES } from '$core/formats/project/limits';
import { parseJson } from '$core/json';
import { ApiError } from './problem';

export const MEGABYTE = 1024 * 1024;
/** Largest changeset: one that changes all that a project may have. */
export const EDIT_LIMIT = MAX_FILE_LENGTH;
/** Largest request that carries no edit: it names what is to be done. */
export const REQUEST_LIMIT = 1 * MEGABYTE;
/** Largest picture or film. */
export const ASSET_LIMIT = 32 * MEGABYTE;
/** Largest project with its files in one. */
export const PACK_LIMIT = MOST_PACK_BYTES;

/** The body; refused as soon as it is longer than `limit` bytes. */
export async function bodyBytes(request: Request, limit: number): Promise<Buffer> {
	const tooLarge = () =>
		new ApiError('too-large', `The body may have ${Math.round(limit / MEGABYTE)} MB at most.`);
	if (Number(request.headers.get('content-length') ?? 0) > limit) throw tooLarge();
	const chunks: Uint8Array[] = [];
	let length = 0;
	const reader = request.body?.getReader();
	while (reader) {
		const { done, value } = await reader.read().catch((error: unknown) => {
			// What stands before us has a limit of its own.
			throw (error as { status?: number }).status === 413 ? tooLarge() : error;
		});
		if (done) break;
		length += value.length;
		if (length > limit) {
			void drain(reader);
			throw tooLarge();
		}
		chunks.push(value);
	}
	return Buffer.concat(chunks);
}

/** A line that is cut while a client writes shows it no answer: so much more is read, and thrown away. */
const DRAINED = 64 * MEGABYTE;

async function drain(reader: ReadableStreamDefaultReader<Uint8Array>): Promise<void> {
	try {
		let length = 0;
		while (length <= DRAINED) {
			const { done, value } = await reader.read();
			if (done) return;
			length += value.length;
		}
		await reader.cancel();
	} catch {
		// The client is gone.
	}
}

export async function bodyText(request: Request, limit: number): Promise<string> {
	const bytes = await bodyBytes(request, limit);
	try {
		return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
	} catch {
		throw new ApiError('bad-request', 'The body is not UTF-8 text.');
	}
}

export async function bodyJson(request: Request, limit: number): Promise<unknown> {
	const type = request.headers.get('content-type') ?? '';
	if (!/^application\/(?:[\w.-]+\+)?json\b/i.test(type)) {
		throw new ApiError('not-json', 'Send the body with the content type application/json.');
	}
	const parsed = parseJson(await bodyText(request, limit));
	if (!parsed.ok) throw new ApiError('bad-request', parsed.problems[0].message, parsed.problems[0].pointer);
	return parsed.value;
}

/** The revision in If-Match, as `"12"`. */
export function baseRevision(request: Request): number {
	const header = request.headers.get('if-match');
	if (!header)
		throw new ApiError('revision-needed', 'Send the revision that the edit is based on in If-Match.');
	const match = /^"(\d{1,12})"$/.exec(header.trim());
	if (!match) throw new ApiError('bad-request', 'If-Match must be a revision in quotes, as "12".');
	return Number(match[1]);
}

export function textMember(body: unknown, name: string, maxLength: number): string {
	const value = (body as Record<string, unknown> | null)?.[name];
	if (typeof value !== 'string' || value.trim() === '' || value.length > maxLength) {
		throw new ApiError('bad-document', `"${name}" must be text of 1 to ${maxLength} characters.`, `/${name}`);
	}
	return value;
}
