import { expect, it } from 'vitest';
import { linear, ProjectBuilder, REPEAT } from '../../demo/builder';
import { checkClip } from './check';
import { markIntended } from './intended';
import { RULES } from './rules';
import { toSarif } from './sarif';

const doc = new ProjectBuilder('Told', 'world', 30)
	.part('crate', { kind: 'empty' })
	.startClip('up', 30, REPEAT)
	.keys('crate', 'translation.y', [
		[0, 0, linear],
		[30, 2],
	])
	.build();

interface Log {
	version: string;
	runs: {
		tool: { driver: { rules: { id: string; shortDescription: { text: string } }[] } };
		results: {
			ruleId: string;
			level: string;
			message: { text: string };
			locations: {
				physicalLocation: { artifactLocation: { uri: string } };
				logicalLocations: { fullyQualifiedName: string }[];
			}[];
			properties: { seconds: number; mends: string[] };
		}[];
	}[];
}

it('a finding is a result of its rule, with its level, its place and what mends it', () => {
	const log = toSarif(doc, 'a/told.json', checkClip(doc, doc.clips.up)) as Log;
	expect(log.version).toBe('2.1.0');
	const [{ tool, results }] = log.runs;
	expect(tool.driver.rules.map(({ id }) => id)).toEqual(RULES.map(({ id }) => id));
	expect(results).toHaveLength(1);
	const [result] = results;
	expect(result).toMatchObject({ ruleId: 'seam-gap', level: 'error' });
	expect(result.message.text).toBe(
		'Does not close at the seam: a jump of 2 m. Each new round starts with a jump.',
	);
	expect(result.locations[0].physicalLocation.artifactLocation.uri).toBe('a/told.json');
	expect(result.locations[0].logicalLocations[0].fullyQualifiedName).toBe('up / crate / translation y');
	expect(result).not.toHaveProperty('suppressions');
	const [finding] = checkClip(doc, doc.clips.up);
	const marked = markIntended(doc, finding, 'it is a film of a jump');
	const told = toSarif(marked, 'a', checkClip(marked, marked.clips.up)) as Log;
	expect(told.runs[0].results[0]).toMatchObject({
		suppressions: [{ kind: 'external', justification: 'it is a film of a jump' }],
	});
	expect(result.properties).toEqual({
		seconds: 1,
		mends: ['End at start value', 'Blend into the start', 'Accumulate'],
	});
});
