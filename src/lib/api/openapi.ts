/** The description of the API, OpenAPI 3.1. */
import { FORMATS } from '$core/formats/registry';
import { BEGINNINGS } from '$core/motions/beginnings';
import { SPACES } from '$core/pose/space';
import { contentOf, exportPaths } from './openapi-exports';
import { badBody, jsonBody, missing, problem, project, withTrouble } from './openapi-pieces';
import { members, ref, schemas } from './schemas';

/** Longest name of a version. */
export const VERSION_NAME = 80;

const ifMatch = {
	name: 'If-Match',
	in: 'header',
	required: true,
	description: 'The revision that the edit is based on, in quotes.',
	schema: { type: 'string', pattern: '^"\\d+"$' },
};
const id = jsonBody(ref('Created'));

function retrace(word: string) {
	return {
		operationId: word,
		summary: word === 'undo' ? 'Takes the last edit back' : 'Does the edit undone last again',
		parameters: [project, ifMatch],
		requestBody: {
			required: true,
			...jsonBody(
				members(
					{
						editId: { type: 'string', maxLength: 64 },
						of: {
							type: 'string',
							maxLength: 64,
							description: 'The edit that is meant; refused where another one is the last.',
						},
					},
					['of'],
				),
			),
		},
		responses: {
			'200': { description: 'The new revision and what changed.', ...jsonBody(ref('Retraced')) },
			...missing,
			...badBody,
			'409': problem(
				'There is nothing to take back or to do again, or a newer Hillock has written the project.',
			),
			'412': problem('The project has changed in the meantime; `missed` says what was done.'),
			'422': problem('A member is not valid.'),
			'428': problem('If-Match is missing.'),
		},
	};
}

const takenContent = contentOf(FORMATS.flatMap(({ takes, mediaTypes }) => (takes ? mediaTypes : [])));

export const openapi = {
	openapi: '3.1.0',
	info: {
		title: 'Hillock',
		version: '1',
		description:
			'Projects of animation clips: documents, edits with undo, exports. Times are ticks, 72000 a second.',
		license: { name: 'MIT', identifier: 'MIT' },
	},
	servers: [{ url: '/' }],
	paths: withTrouble({
		...exportPaths,
		'/api/health': {
			get: {
				operationId: 'health',
				summary: 'Whether the server answers and its database is open',
				responses: { '200': { description: 'It does.', ...jsonBody(ref('Health')) } },
			},
		},
		'/api/outside': {
			get: {
				operationId: 'outside',
				summary: 'Where other devices find this server',
				responses: { '200': { description: 'Its addresses.', ...jsonBody(ref('Outside')) } },
			},
		},
		'/api/openapi.json': {
			get: {
				operationId: 'openapi',
				summary: 'This description',
				responses: { '200': { description: 'OpenAPI 3.1.', ...jsonBody({ type: 'object' }) } },
			},
		},
		'/api/demo': {
			post: {
				operationId: 'addDemo',
				summary: 'Adds the two demo projects',
				responses: { '201': { description: 'Their ids.', ...jsonBody(ref('Ids')) } },
			},
		},
		'/api/all-projects.zip': {
			get: {
				operationId: 'allProjects',
				summary: 'Every project as its file, in one zip',
				responses: {
					'200': {
						description: 'The zip.',
						content: { 'application/zip': { schema: { type: 'string', format: 'binary' } } },
					},
				},
			},
		},
		'/api/mended': {
			delete: {
				operationId: 'forgetMended',
				summary: 'Somebody has read how a damaged database came out',
				responses: { '204': { description: 'It is told no more.' } },
			},
		},
		'/api/projects': {
			get: {
				operationId: 'listProjects',
				summary: 'All projects, the one changed last first, and those that can be restored',
				responses: { '200': { description: 'The projects.', ...jsonBody(ref('Projects')) } },
			},
			post: {
				operationId: 'createProject',
				summary: 'Makes a project: empty, or with a part that moves already',
				requestBody: {
					required: true,
					...jsonBody(
						members(
							{
								name: { type: 'string', maxLength: 120 },
								space: { enum: SPACES },
								start: { enum: BEGINNINGS, description: 'What there is to begin with; nothing if absent.' },
							},
							['start'],
						),
					),
				},
				responses: {
					'201': { description: 'Its id.', ...id },
					...badBody,
					'422': problem('A member is not valid.'),
				},
			},
		},
		'/api/projects/import': {
			post: {
				operationId: 'importProject',
				summary: 'Stores a file of any format that comes in as a new project',
				parameters: [
					{
						name: 'name',
						in: 'query',
						schema: { type: 'string' },
						description:
							'Name of the file: its ending helps to tell the format, the rest names a project that has no name.',
					},
				],
				requestBody: {
					required: true,
					description: 'Of project files see docs/schema/hillock-project.schema.json.',
					content: takenContent,
				},
				responses: {
					'201': { description: 'Its id.', ...jsonBody(ref('Imported')) },
					...badBody,
					'422': problem('The file is not valid; the pointer says where.'),
				},
			},
		},
		'/api/projects/{project}': {
			get: {
				operationId: 'loadProject',
				summary: 'The whole document with its revision',
				parameters: [project],
				responses: { '200': { description: 'The document.', ...jsonBody(ref('Loaded')) }, ...missing },
			},
			patch: {
				operationId: 'editProject',
				summary: 'Applies a changeset, all of it or nothing',
				parameters: [project, ifMatch],
				requestBody: {
					required: true,
					...jsonBody(
						members({
							editId: {
								type: 'string',
								maxLength: 64,
								description: 'Made by the client; a retry gets the first answer.',
							},
							label: { type: 'string', maxLength: 200, description: 'What the edit did, for undo.' },
							changeset: ref('Changeset'),
						}),
					),
				},
				responses: {
					'200': { description: 'The new revision.', ...jsonBody(ref('Answered')) },
					'412': problem('Others changed the same entities since; `missed` says what they did.'),
					...badBody,
					'422': problem('The changeset is not valid; the pointer says where.'),
					'428': problem('If-Match is missing.'),
					...missing,
				},
			},
			delete: {
				operationId: 'deleteProject',
				summary: 'Puts a project away; it can be restored for 30 days',
				parameters: [project],
				responses: { '204': { description: 'Done.' }, ...missing },
			},
		},
		'/api/projects/{project}/live': {
			get: {
				operationId: 'live',
				summary: 'Tells what is done to a project as it happens',
				description:
					'Server-Sent Events: each has a revision as its id, and as its data the label, the changeset and what undo and redo would do. A lost line is taken up by Last-Event-ID. The event "gone" tells that the project was deleted.',
				parameters: [
					project,
					{
						name: 'since',
						in: 'query',
						required: true,
						description: 'The revision after which to begin.',
						schema: { type: 'integer', minimum: 0 },
					},
				],
				responses: {
					'200': { description: 'A stream of events.', content: { 'text/event-stream': {} } },
					'400': problem('The revision is missing.'),
					...missing,
				},
			},
		},
		'/api/projects/{project}/undo': { post: retrace('undo') },
		'/api/projects/{project}/redo': { post: retrace('redo') },
		'/api/projects/{project}/restore': {
			post: {
				operationId: 'restoreProject',
				summary: 'Brings a deleted project back',
				parameters: [project],
				responses: { '204': { description: 'Done.' }, ...missing },
			},
		},
		'/api/projects/{project}/journal': {
			get: {
				operationId: 'journal',
				summary: 'The last edits with what they touched, newest first, a page at a time',
				parameters: [
					project,
					{
						name: 'upTo',
						in: 'query',
						description: 'The newest revision to be told; without it the last one.',
						schema: { type: 'integer', minimum: 0 },
					},
					{
						name: 'named',
						in: 'query',
						description: 'Only those whose version has a name; all of them, on one page.',
						schema: { type: 'boolean' },
					},
				],
				responses: {
					'200': { description: 'The rows.', ...jsonBody(ref('Journal')) },
					'400': problem('The revision cannot be read.'),
					...missing,
				},
			},
		},
		'/api/projects/{project}/versions/{revision}': {
			get: {
				operationId: 'version',
				summary: 'The project as it was after an edit',
				parameters: [
					project,
					{ name: 'revision', in: 'path', required: true, schema: { type: 'integer', minimum: 0 } },
				],
				responses: { '200': { description: 'The project.', ...jsonBody(ref('Version')) }, ...missing },
			},
			patch: {
				operationId: 'nameVersion',
				summary: 'Gives a version a name, or takes it away',
				parameters: [
					project,
					{ name: 'revision', in: 'path', required: true, schema: { type: 'integer', minimum: 1 } },
				],
				requestBody: {
					required: true,
					...jsonBody(members({ name: { type: ['string', 'null'], maxLength: VERSION_NAME } })),
				},
				responses: {
					'204': { description: 'Done.' },
					...badBody,
					'422': problem('The name is not valid.'),
					...missing,
				},
			},
		},
		'/api/projects/{project}/assets': {
			post: {
				operationId: 'addAsset',
				summary: 'Takes in a picture, a film, a sound, a model or the samples of a take',
				parameters: [project, { name: 'name', in: 'query', schema: { type: 'string', maxLength: 120 } }],
				requestBody: { required: true, content: { 'application/octet-stream': { schema: {} } } },
				responses: {
					'201': { description: 'Its id and media type.', ...jsonBody(ref('Asset')) },
					'400': problem('It is none of these.'),
					'413': problem('It is too large.'),
					...missing,
				},
			},
		},
		'/api/projects/{project}/models': {
			post: {
				operationId: 'addModel',
				summary: 'Takes in a glTF model, and reads its nodes and animations as a document',
				parameters: [project, { name: 'name', in: 'query', schema: { type: 'string', maxLength: 120 } }],
				requestBody: { required: true, content: { 'application/octet-stream': { schema: {} } } },
				responses: {
					'201': { description: 'The document, and what was left out.', ...jsonBody(ref('Model')) },
					'400': problem('Models stand in the world only.'),
					'413': problem('It is too large.'),
					'422': problem('The file cannot be read.'),
					...missing,
				},
			},
		},
		'/api/projects/{project}/recordings': {
			post: {
				operationId: 'addRecording',
				summary: 'Takes in a file of any format as takes, to be laid on parts of the project',
				parameters: [project, { name: 'name', in: 'query', schema: { type: 'string', maxLength: 120 } }],
				requestBody: { required: true, content: { 'application/octet-stream': { schema: {} } } },
				responses: {
					'201': {
						description: 'What was recorded, as a document with its takes, and what was left out.',
						...jsonBody(ref('Model')),
					},
					'413': problem('It is too large.'),
					'422': problem('The file cannot be read.'),
					...missing,
				},
			},
		},
		'/api/projects/{project}/assets/{asset}': {
			get: {
				operationId: 'asset',
				summary: 'A picture or a film',
				parameters: [project, { name: 'asset', in: 'path', required: true, schema: { type: 'string' } }],
				responses: {
					'200': { description: 'Its content.', content: { 'image/png': { schema: {} } } },
					...missing,
				},
			},
		},
		'/api/projects/{project}/file': {
			get: {
				operationId: 'projectFile',
				summary: 'The project as a file',
				parameters: [project],
				responses: {
					'200': {
						description: 'A .hillock.json file, or a .hillock.zip with what it refers to.',
						...jsonBody(ref('Document')),
					},
					...missing,
				},
			},
		},
	}),
	components: {
		schemas,
	},
};
