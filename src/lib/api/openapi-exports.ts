/** How clips leave, as the description of the API tells it. */
import { SHIPPING } from '$core/formats/registry';
import { badBody, jsonBody, missing, problem, project } from './openapi-pieces';
import { members, ref } from './schemas';

/** What the formats that clips leave as can be asked for, and what they are sent as. */
const choices = Object.fromEntries(
	SHIPPING.flatMap(({ ships }): [string, object][] => [
		...ships.switches.map(({ id: name, says }): [string, object] => [
			name,
			{ type: 'boolean', description: says },
		]),
		...(ships.numbers ?? []).map(
			({ id: name, says, lowest, highest, whole, initially }): [string, object] => [
				name,
				{
					type: whole ? 'integer' : 'number',
					minimum: lowest,
					maximum: highest,
					description: `${says}; without it ${initially}`,
				},
			],
		),
	]),
);
export const contentOf = (mediaTypes: readonly string[]) =>
	Object.fromEntries(mediaTypes.map((type) => [type, { schema: {} }]));
const shippedContent = contentOf([...SHIPPING.map(({ mediaTypes }) => mediaTypes[0]), 'application/zip']);

/** What is asked for where clips are written. */
const exportBody = members(
	{
		clips: { type: 'array', minItems: 1, items: { type: 'string' } },
		target: { enum: SHIPPING.map(({ id }) => id) },
		perClip: { type: 'boolean', description: 'A file for each clip, all in a zip.' },
		...choices,
		bounds: members(
			{
				relative: { type: 'number', exclusiveMinimum: 0, maximum: 1 },
				translation: { type: 'number', exclusiveMinimum: 0 },
				rotation: { type: 'number', exclusiveMinimum: 0, description: 'degrees' },
				scale: { type: 'number', exclusiveMinimum: 0 },
				number: { type: 'number', exclusiveMinimum: 0, description: 'of all other numbers' },
				parts: {
					type: 'object',
					description:
						'Of single parts, by their ids: `relative` for all of one, or by a path of the report, in its units. Goes before the others.',
					additionalProperties: {
						type: 'object',
						additionalProperties: { type: 'number', exclusiveMinimum: 0, maximum: 1e6 },
					},
				},
			},
			['relative', 'translation', 'rotation', 'scale', 'number', 'parts'],
		),
	},
	[...Object.keys(choices), 'perClip', 'bounds'],
);

export const exportPaths = {
	'/api/projects/{project}/clips.json': {
		get: {
			operationId: 'clipsNow',
			summary: 'The clip file of a project as it is now',
			description:
				'For a game that runs beside the work, with `live`: written within the bound, not measured. The ETag is the revision.',
			parameters: [
				project,
				{
					name: 'clip',
					in: 'query',
					description: 'Name or id of a clip; may be given several times. Without it all clips.',
					schema: { type: 'array', items: { type: 'string' } },
				},
				{
					name: 'bound',
					in: 'query',
					description: "Largest error as a share of each path's range.",
					schema: { type: 'number', exclusiveMinimum: 0, maximum: 1, default: 0.001 },
				},
			],
			responses: {
				'200': { description: 'The clip file.', content: { 'application/json': {} } },
				'304': { description: 'Nothing has changed since the revision in If-None-Match.' },
				'400': problem('The bound is none.'),
				...missing,
				'503': problem('The work took too long.'),
			},
		},
	},
	'/api/projects/{project}/weigh': {
		post: {
			operationId: 'weighClips',
			summary: 'How large clips would be as a file',
			description: 'Written and read back as for an export, and not kept.',
			parameters: [project],
			requestBody: { required: true, ...jsonBody(exportBody) },
			responses: {
				'200': { description: 'Its size.', ...jsonBody(ref('Weight')) },
				...badBody,
				'422': problem('A member is not valid, or the bound cannot be kept.'),
				'503': problem('The work took too long.'),
				...missing,
			},
		},
	},
	'/api/projects/{project}/export': {
		post: {
			operationId: 'exportClips',
			summary: 'Writes clips as a file and reads it back',
			parameters: [project],
			requestBody: {
				required: true,
				...jsonBody(exportBody),
			},
			responses: {
				'201': {
					description: 'The report, and the id to fetch the file by.',
					...jsonBody(ref('Exported')),
				},
				...badBody,
				'422': problem('A member is not valid, or the bound cannot be kept.'),
				'503': problem('The work took too long.'),
				...missing,
			},
		},
	},
	'/api/exports/{export}': {
		get: {
			operationId: 'exportFile',
			summary: 'An exported file',
			parameters: [{ name: 'export', in: 'path', required: true, schema: { type: 'string' } }],
			responses: {
				'200': { description: 'The file.', content: shippedContent },
				'404': problem('It is no longer kept.'),
			},
		},
	},
};
