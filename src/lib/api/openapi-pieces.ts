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

/** What any answer may say of the disk, or of the data on it. */
const trouble = {
	'500': problem('The data on the server are damaged, or something went wrong there.'),
	'507': problem('The server has no room on its disk, or cannot write: nothing was lost, try again.'),
};

interface Operation {
	responses: Record<string, object>;
}
type Paths = Record<string, Record<string, Operation>>;

/** Every operation with what each may answer. */
export function withTrouble<P extends Paths>(paths: P): P {
	const all = Object.entries(paths).map(([path, methods]) => [
		path,
		Object.fromEntries(
			Object.entries(methods).map(([method, own]) => [
				method,
				{ ...own, responses: { ...own.responses, ...trouble } },
			]),
		),
	]);
	return Object.fromEntries(all) as P;
}
