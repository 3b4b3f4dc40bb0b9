import { headOf } from '../head';
import type { Format } from '../format';

const HEADER = /^"?clip"?,"?time \[s\]"?/;

export const csv: Format = {
	id: 'csv',
	name: 'CSV',
	extensions: ['.csv'],
	mediaTypes: ['text/csv'],
	detect: (bytes) => (HEADER.test(headOf(bytes)) ? 2 : 0),
	ships: {
		for: 'tools',
		about: 'for tables and one’s own tools: a row a moment, a column a number',
		hasDrawings: false,
		hasMotion: false,
		switches: [],
		numbers: [
			{
				id: 'rate',
				flag: 'rate',
				says: 'rows a second',
				unit: ' Hz',
				lowest: 1,
				highest: 1000,
				initial: ({ project }) => project.frameRate,
				initially: "the project's frame rate",
			},
		],
	},
};
