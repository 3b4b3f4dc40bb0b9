/** Calls of the API, with its problems as values that say what to do. */
import type { Changeset } from '$core/document/changeset';
import type { Doc } from '$core/document/types';

export interface ApiProblem {
	/** 0 when the server could not be reached. */
	status: number;
	title: string;
	detail: string;
	pointer?: string;
	/** Of a stale revision: what is there now, and what was missed; null where that is not known. */
	revision?: number;
	undo?: string | null;
	redo?: string | null;
	missed?: Foreign[] | null;
}
export type Answer<T> = { ok: true; value: T } | { ok: false; problem: ApiProblem };

export interface Saved {
	revision: number;
	undo: string | null;
	redo: string | null;
}
export interface Loaded extends Saved {
	doc: Doc;
}

/** What another window did, or an edit that this one has not seen yet. */
export interface Foreign extends Partial<Pick<Saved, 'undo' | 'redo'>> {
	revision: number;
	label: string;
	changeset: Changeset;
}
/** The answer to an edit, with what was done between its base and itself. */
export interface Answered extends Saved {
	missed: Foreign[];
}
/** The answer to undo and redo: also what they did. */
export interface Retraced extends Answered {
	label: string;
	changeset: Changeset;
}

/** An edit as the journal tells it. */
export interface JournalEntry {
	revision: number;
	kind: 'edit' | 'undo' | 'redo';
	label: string;
	made_at: string;
}

const AWAY: ApiProblem = {
	status: 0,
	title: 'The server does not answer',
	detail: 'It may have been stopped. What you do is kept here and sent when it is back.',
};

export async function call<T>(
	path: string,
	init?: RequestInit,
	fetcher: typeof fetch = fetch,
): Promise<Answer<T>> {
	let response: Response;
	try {
		response = await fetcher(path, init);
	} catch {
		return { ok: false, problem: AWAY };
	}
	if (response.ok) {
		return {
			ok: true,
			value: (response.status === 204 ? null : await response.json().catch(() => null)) as T,
		};
	}
	const body = (await response.json().catch(() => ({}))) as Partial<ApiProblem>;
	const title = body.title ?? `The server answered ${response.status}`;
	return { ok: false, problem: { ...body, title, detail: body.detail ?? '', status: response.status } };
}

export function send<T>(method: string, path: string, body?: unknown, revision?: number): Promise<Answer<T>> {
	const headers: Record<string, string> = { 'content-type': 'application/json' };
	if (revision !== undefined) headers['if-match'] = `"${revision}"`;
	return call<T>(path, { method, headers, body: body === undefined ? undefined : JSON.stringify(body) });
}

/** Where a file of a project is fetched. */
export const assetPath = (project: string, asset: string) =>
	`/api/projects/${encodeURIComponent(project)}/assets/${encodeURIComponent(asset)}`;

const projectPath = (id: string) => `/api/projects/${encodeURIComponent(id)}`;

export const api = {
	load: (id: string, fetcher?: typeof fetch) => call<Loaded>(projectPath(id), undefined, fetcher),
	save: (id: string, revision: number, edit: { editId: string; label: string; changeset: Changeset }) =>
		send<Answered>('PATCH', projectPath(id), edit, revision),
	retrace: (id: string, revision: number, step: { editId: string; of?: string }, kind: 'undo' | 'redo') =>
		send<Retraced>('POST', `${projectPath(id)}/${kind}`, step, revision),
	journal: (id: string) => call<{ rows: JournalEntry[] }>(`${projectPath(id)}/journal`),
	version: (id: string, revision: number) => call<{ doc: Doc }>(`${projectPath(id)}/versions/${revision}`),
	/** Takes in a picture, a film or a sound. */
	addAsset: (id: string, file: File) =>
		call<{ id: string; mediaType: string }>(
			`${projectPath(id)}/assets?name=${encodeURIComponent(file.name.slice(0, 120))}`,
			{ method: 'POST', headers: { 'content-type': 'application/octet-stream' }, body: file },
		),
	create: (name: string, space: string) => send<{ id: string }>('POST', '/api/projects', { name, space }),
	/** A file of any format that comes in. */
	importFile: (file: File) =>
		call<{ id: string; leftOut: string[] }>(`/api/projects/import?name=${encodeURIComponent(file.name)}`, {
			method: 'POST',
			headers: { 'content-type': 'application/octet-stream' },
			body: file,
		}),
	/** Keeps a glTF file, and reads it as a document. */
	addModel: (id: string, file: File) =>
		call<{ doc: Doc; leftOut: string[] }>(
			`${projectPath(id)}/models?name=${encodeURIComponent(file.name.replace(/\.\w+$/, '').slice(0, 120))}`,
			{ method: 'POST', headers: { 'content-type': 'application/octet-stream' }, body: file },
		),
	addDemo: () => send<{ ids: string[] }>('POST', '/api/demo'),
	remove: (id: string) => send<null>('DELETE', projectPath(id)),
	restore: (id: string) => send<null>('POST', `${projectPath(id)}/restore`),
	export: <T>(id: string, request: unknown) => send<T>('POST', `${projectPath(id)}/export`, request),
};
