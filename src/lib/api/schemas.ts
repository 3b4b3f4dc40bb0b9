/** The schemas of the API's bodies: its description, the client's types and the server's are made of them. */
import { SPACES } from '$core/pose/space';

export const ref = (name: keyof typeof schemas) => ({ $ref: `#/components/schemas/${name}` });

const text = { type: 'string' };
const whole = { type: 'integer' };
const number = { type: 'number' };
const truth = { type: 'boolean' };
const list = (items: object) => ({ type: 'array', items });
const orNull = (schema: { type: string }) => ({ ...schema, type: [schema.type, 'null'] });
const about = (description: string, schema: object) => ({ ...schema, description });

/** An object of just these members, all of them there unless they are named as optional. */
export function members(properties: Record<string, object>, optional: readonly string[] = []) {
	const required = Object.keys(properties).filter((name) => !optional.includes(name));
	return { type: 'object', additionalProperties: false, required, properties };
}

/** What core has a type and a schema for; `x-type` is where its type is. */
const ofCore = (file: string, type: string, description: string) => ({
	type: 'object',
	description,
	'x-type': { file: `$core/${file}`, type },
});
const schemaRef = (name: string) => ({ $ref: `#/components/schemas/${name}` });

const saved = {
	revision: whole,
	undo: about('What undo would take back.', orNull(text)),
	redo: about('What redo would do again.', orNull(text)),
};
const foreign = { revision: whole, label: text, changeset: schemaRef('Changeset') };
const missed = about(
	'All that was done between the base and this answer, in order.',
	list(schemaRef('Foreign')),
);
const document = schemaRef('Document');
const leftOut = about('What did not come along, in words.', list(text));

const track = members(
	{
		id: about('clip/part/path, of their ids.', text),
		part: about("The part's name in the file.", text),
		path: text,
		encoding: text,
		exact: about('Whether the keys are the motion itself, not a fit.', truth),
		guaranteed: about('Whether the error holds everywhere.', truth),
		baked: about('That its keys are at a fixed rate, whatever error comes of that.', { const: true }),
		keys: whole,
		bytes: whole,
		bakedBytes: about('What the same track costs as linear keys at 60 Hz.', whole),
		bound: about('In the units of the project; degrees for rotations.', number),
		error: number,
		errorAt: about('Seconds.', number),
	},
	['baked'],
);

export const schemas = {
	Problem: {
		type: 'object',
		required: ['type', 'title', 'status', 'detail'],
		properties: {
			type: text,
			title: text,
			status: whole,
			detail: text,
			pointer: about('JSON Pointer into the request body.', text),
			revision: about('Of a stale revision: the one there is now.', whole),
			undo: orNull(text),
			redo: orNull(text),
			missed: { type: ['array', 'null'], items: schemaRef('Foreign') },
		},
	},
	Document: ofCore(
		'document/types',
		'Doc',
		'A whole project, as docs/schema/hillock-project.schema.json describes it.',
	),
	Changeset: {
		...ofCore('document/changeset', 'Changeset', 'Changes of a document, all of them or none.'),
		required: ['put', 'splice', 'drop'],
		properties: {
			put: about('Entities to set, by id.', { type: 'object' }),
			splice: about('Changes within the keys of channels, by channel id.', { type: 'object' }),
			drop: list(text),
		},
	},
	Health: members({ status: { const: 'ok' } }),
	Outside: members({
		addresses: about('With the access token in them; none where only this machine can reach it.', list(text)),
	}),
	Created: members({ id: text }),
	Ids: members({ ids: list(text) }),
	ProjectCard: members({
		id: text,
		name: text,
		space: { enum: SPACES },
		frameRate: number,
		clips: whole,
		firstClip: orNull(text),
		parts: whole,
		revision: whole,
		updatedAt: about('ISO 8601.', text),
		bytes: whole,
		ridges: about('A few profiles of the first clip, values in 0…1.', list(list(number))),
	}),
	DeletedProject: members({
		id: text,
		name: text,
		deletedAt: about('ISO 8601.', text),
		keptUntil: about('ISO 8601: until then it can be restored.', text),
	}),
	Projects: members({ projects: list(schemaRef('ProjectCard')), deleted: list(schemaRef('DeletedProject')) }),
	Saved: members(saved),
	Loaded: members({ doc: document, ...saved }),
	Foreign: about('What was done that the asking client had not seen.', members(foreign)),
	Event: about(
		'What was done, as it is told live.',
		members({ ...foreign, undo: saved.undo, redo: saved.redo }),
	),
	Answered: members({ ...saved, missed }),
	Retraced: about(
		'The answer to undo and redo: also what they did.',
		members({ ...saved, missed, label: text, changeset: schemaRef('Changeset') }),
	),
	JournalEntry: members({
		revision: whole,
		kind: { enum: ['edit', 'undo', 'redo'] },
		label: text,
		made_at: about('ISO 8601.', text),
		name: about('What the version after this edit is called.', orNull(text)),
		touched: ofCore('edits/touched', 'Touched', 'What the edit did, for a list of versions.'),
	}),
	Journal: members({ rows: list(schemaRef('JournalEntry')) }),
	Version: members({ doc: document, revision: whole }),
	Asset: members({ id: about('SHA-256 of its content.', text), mediaType: text }),
	Model: members({ doc: document, leftOut }),
	Imported: members({ id: text, leftOut }),
	Weight: members({ bytes: whole, gzip: whole }),
	Exported: members({
		id: about('To fetch the file by.', text),
		fileName: text,
		bytes: whole,
		gzip: about('Bytes of the file as servers send it.', whole),
		clips: list(
			members({
				clip: text,
				name: text,
				seconds: number,
				tracks: list(track),
				leftOut: list(members({ part: text, what: text, why: text })),
			}),
		),
		plainer: about('Parts that the file draws plainer than they are, in words.', list(text)),
		origin: {
			...members({ part: text, clip: text, error: number, seconds: number }),
			type: ['object', 'null'],
			description: 'The farthest that an origin is off in the world.',
		},
		contact: {
			...members({ part: text, clip: text, error: number, seconds: number }),
			type: ['object', 'null'],
			description: 'The farthest that an origin slides while it stands still in the project.',
		},
	}),
};
