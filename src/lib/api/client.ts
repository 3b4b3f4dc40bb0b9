/** Calls of the API, with its problems as values that say what to do. */
import { shortName } from '$core/text';
import createClient from 'openapi-fetch';
import type { Beginning } from '$core/motions/beginnings';
import type { components, operations, paths } from './types.generated';

type Schemas = components['schemas'];
export type Saved = Schemas['Saved'];
export type Loaded = Schemas['Loaded'];
/** The answer to an edit, with what was done between its base and itself. */
export type Answered = Schemas['Answered'];
/** The answer to undo and redo: also what they did. */
export type Retraced = Schemas['Retraced'];
export type JournalEntry = Schemas['JournalEntry'];
export type ProjectCard = Schemas['ProjectCard'];
/** A written file, kept by the server to be fetched. */
export type Exported = Schemas['Exported'];
/** What another window did, or an edit that this one has not seen yet; live, with what undo and redo would do. */
export type Foreign = Schemas['Foreign'] & Partial<Schemas['Event']>;
type Body<Name extends 'editProject' | 'undo' | 'exportClips'> =
	operations[Name]['requestBody']['content']['application/json'];

/** `status` is 0 when the server could not be reached. */
export type ApiProblem = Omit<Schemas['Problem'], 'type'>;
export type Answer<T> = { ok: true; value: T } | { ok: false; problem: ApiProblem };

const AWAY: ApiProblem = {
	status: 0,
	title: 'The server does not answer',
	detail: 'It may have been stopped. What you do is kept here and sent when it is back.',
};
/** Longest name of a file that the server is told. */
const NAME = 120;

// The page of all projects is drawn on the server first, where nothing is asked for.
const client = createClient<paths>({
	baseUrl: globalThis.location?.origin,
	fetch: (request) => fetch(request),
});

async function answerOf<T>(
	call: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<Answer<T>> {
	const { data, error, response } = await call.catch(() => ({
		data: undefined,
		error: AWAY,
		response: undefined,
	}));
	if (response?.ok) return { ok: true, value: data as T };
	// What stands in between may answer with a page of its own.
	const told: Partial<ApiProblem> = typeof error === 'object' && error ? error : {};
	const title = told.title ?? `The server answered ${response?.status}`;
	const status = response?.status ?? 0;
	return { ok: false, problem: { ...told, title, detail: told.detail ?? '', status } };
}

const at = (project: string) => ({ path: { project } });
const onRevision = (project: string, revision: number) => ({
	...at(project),
	header: { 'If-Match': `"${revision}"` },
});
/** A file as it is. */
const content = (file: File) => ({
	body: file as never,
	bodySerializer: (body: unknown) => body as File,
	headers: { 'content-type': 'application/octet-stream' },
});

const projectPath = (id: string) => `/api/projects/${encodeURIComponent(id)}`;
/** Where things of a project are fetched by a link, a picture or a stream. */
export const addresses = {
	asset: (project: string, asset: string) => `${projectPath(project)}/assets/${encodeURIComponent(asset)}`,
	file: (project: string) => `${projectPath(project)}/file`,
	live: (project: string, revision: number) => `${projectPath(project)}/live?since=${revision}`,
	allProjects: '/api/all-projects.zip',
	exported: (id: string) => `/api/exports/${encodeURIComponent(id)}`,
};

/** Formats are known by the registry alone: any id of one will do. */
export type ExportRequest = Omit<Body<'exportClips'>, 'target'> & { target: string };

export const api = {
	load: (project: string, fetcher?: typeof fetch) =>
		answerOf(client.GET('/api/projects/{project}', { params: at(project), fetch: fetcher })),
	save: (project: string, revision: number, body: Body<'editProject'>) =>
		answerOf(client.PATCH('/api/projects/{project}', { params: onRevision(project, revision), body })),
	retrace: (project: string, revision: number, body: Body<'undo'>, kind: 'undo' | 'redo') =>
		answerOf(client.POST(`/api/projects/{project}/${kind}`, { params: onRevision(project, revision), body })),
	journal: (project: string, query: { upTo?: number; named?: boolean } = {}) =>
		answerOf(client.GET('/api/projects/{project}/journal', { params: { ...at(project), query } })),
	version: (project: string, revision: number) =>
		answerOf(
			client.GET('/api/projects/{project}/versions/{revision}', { params: { path: { project, revision } } }),
		),
	nameVersion: (project: string, revision: number, name: string | null) =>
		answerOf(
			client.PATCH('/api/projects/{project}/versions/{revision}', {
				params: { path: { project, revision } },
				body: { name },
			}),
		),
	/** Takes in a picture, a film or a sound. */
	addAsset: (project: string, file: File) =>
		answerOf(
			client.POST('/api/projects/{project}/assets', {
				params: { ...at(project), query: { name: shortName(file.name, NAME) } },
				...content(file),
			}),
		),
	/** Keeps a glTF file, and reads it as a document. */
	addModel: (project: string, file: File) =>
		answerOf(
			client.POST('/api/projects/{project}/models', {
				params: { ...at(project), query: { name: shortName(file.name.replace(/\.\w+$/, ''), NAME) } },
				...content(file),
			}),
		),
	/** A file of any format as takes; its name says what it is. */
	addRecording: (project: string, file: File) =>
		answerOf(
			client.POST('/api/projects/{project}/recordings', {
				params: { ...at(project), query: { name: file.name.slice(-NAME) } },
				...content(file),
			}),
		),
	create: (name: string, space: Schemas['ProjectCard']['space'], start: Beginning = 'nothing') =>
		answerOf(client.POST('/api/projects', { body: { name, space, start } })),
	/** A file of any format that comes in. */
	importFile: (file: File) =>
		answerOf(
			client.POST('/api/projects/import', { params: { query: { name: file.name } }, ...content(file) }),
		),
	/** Where other devices find this server. */
	outside: () => answerOf(client.GET('/api/outside')),
	addDemo: () => answerOf(client.POST('/api/demo')),
	forgetMended: () => answerOf(client.DELETE('/api/mended')),
	remove: (project: string) => answerOf(client.DELETE('/api/projects/{project}', { params: at(project) })),
	restore: (project: string) =>
		answerOf(client.POST('/api/projects/{project}/restore', { params: at(project) })),
	export: (project: string, request: ExportRequest) => {
		const body = request as Body<'exportClips'>;
		return answerOf(client.POST('/api/projects/{project}/export', { params: at(project), body }));
	},
	/** How large a file would be. */
	weigh: (project: string, request: ExportRequest, signal: AbortSignal) => {
		const body = request as Body<'exportClips'>;
		return answerOf(client.POST('/api/projects/{project}/weigh', { params: at(project), body, signal }));
	},
};
