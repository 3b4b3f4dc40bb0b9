import { headOf } from '../head';
import type { Format } from '../format';

/** A line of heads of which one is of times. */
const LIKE_A_TABLE = /^[^\n{<]*\b(t|time|times?tamp|seconds?|ms|frames?)\b[^\n]*[,;\t][^\n]*\n/i;
const HEADER = /^"?clip"?,"?time \[s\]"?/;

export const csv: Format = {
	id: 'csv',
	name: 'CSV',
	extensions: ['.csv'],
	mediaTypes: ['text/csv'],
	detect: (bytes) => (HEADER.test(headOf(bytes)) ? 2 : LIKE_A_TABLE.test(headOf(bytes)) ? 1 : 0),
	takes: { mostBytes: 32 * 1024 * 1024, isHeavy: true },
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
