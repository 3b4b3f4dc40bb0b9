/** What many answers of the API have in common. */
import { ref } from './schemas';

export const problem = (description: string) => ({
	description,
	content: { 'application/problem+json': { schema: ref('Problem') } },
});
export const jsonBody = (schema: object) => ({
	content: { 'application/json': { schema } },
});
export const project = {
	name: 'project',
	in: 'path',
	required: true,
	schema: { type: 'string' },
};
export const missing = {
	'404': problem('There is no such project.'),
	'409': problem('A newer Hillock has written the project.'),
};
export const badBody = {
	'400': problem('The request cannot be read.'),
	'413': problem('The body is too large.'),
	'415': problem('The body is not of the media type that is taken.'),
};
