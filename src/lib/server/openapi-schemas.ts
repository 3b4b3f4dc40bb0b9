/** The schemas of the API's bodies, for its description. */

export const ref = (name: string) => ({ $ref: `#/components/schemas/${name}` });

export const schemas = {
	Problem: {
		type: 'object',
		required: ['type', 'title', 'status'],
		properties: {
			type: { type: 'string' },
			title: { type: 'string' },
			status: { type: 'integer' },
			detail: { type: 'string' },
			pointer: { type: 'string', description: 'JSON Pointer into the request body.' },
			revision: { type: 'integer', description: 'Of a stale revision: the one there is now.' },
			missed: { type: ['array', 'null'], items: ref('Foreign') },
		},
	},
	Saved: {
		type: 'object',
		required: ['revision', 'undo', 'redo'],
		properties: {
			revision: { type: 'integer' },
			undo: { type: ['string', 'null'] },
			redo: { type: ['string', 'null'] },
		},
	},
	Foreign: {
		type: 'object',
		description: 'What was done that the asking client had not seen.',
		required: ['revision', 'label', 'changeset'],
		properties: {
			revision: { type: 'integer' },
			label: { type: 'string' },
			changeset: ref('Changeset'),
		},
	},
	Answered: {
		allOf: [
			ref('Saved'),
			{
				type: 'object',
				required: ['missed'],
				properties: {
					missed: {
						type: 'array',
						description: 'All that was done between the base and this answer, in order.',
						items: ref('Foreign'),
					},
					label: { type: 'string', description: 'Of undo and redo: the edit concerned.' },
					changeset: ref('Changeset'),
				},
			},
		],
	},
	Changeset: {
		type: 'object',
		required: ['put', 'splice', 'drop'],
		properties: {
			put: { type: 'object', description: 'Entities to set, by id.' },
			splice: { type: 'object', description: 'Changes within the keys of channels, by channel id.' },
			drop: { type: 'array', items: { type: 'string' } },
		},
	},
};
