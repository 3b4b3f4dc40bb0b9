import { describe, expect, it } from 'vitest';
import { makeQuay } from '../../demo/quay';
import { applyOwn, diffDocuments } from './changeset';
import { migrateChangeset, migrateDocument, migrateEntity, VERSION, type Step } from './migrate';
import { MAPS, type Doc } from './types';
import { setValue } from '../edits/keys';

/** A version to come: notes get another name, keys count from one tick later, and a kind of entity comes. */
const NEXT: Record<number, Step> = {
	[VERSION]: {
		newMaps: ['ledgers'],
		entity: ({ note, ...body }) => (note === undefined ? body : { ...body, remark: note }),
		key: (key) => ({ ...key, t: (key.t as number) + 1 }),
	},
};

const quay = makeQuay();
const file = (doc: Doc) => ({ format: 'hillock-project', version: VERSION, ...doc });
/** A document as its rows are: each entity by itself. */
const rowByRow = (doc: Doc) =>
	Object.fromEntries(
		MAPS.map((map) => [
			map,
			Object.fromEntries(Object.values(doc[map]).map((own) => [own.id, migrateEntity(own, VERSION, NEXT)])),
		]),
	) as unknown as Doc;

describe('an older version', () => {
	it('of a file and of its rows one by one becomes the same', () => {
		const { version, ledgers, project, format, ...maps } = migrateDocument(file(quay), NEXT) as Record<
			string,
			unknown
		>;
		expect([version, ledgers, format]).toEqual([VERSION + 1, {}, 'hillock-project']);
		expect(project).toEqual(quay.project);
		expect(maps).toEqual(rowByRow(quay));
	});

	it('of the journal leads from an old document brought up to the new one brought up', () => {
		const address = {
			clip: 'sack-drop',
			part: 'mail-sack',
			property: 'translation',
			component: 'y',
		} as const;
		const edited = { ...setValue(quay, address, 7200, 9) };
		const noted = {
			...edited,
			clips: { ...edited.clips, 'sack-drop': { ...edited.clips['sack-drop'], note: 'heavy' } },
		};
		const changeset = diffDocuments(quay, noted);
		expect(Object.keys(changeset.splice)).toHaveLength(1);
		expect(Object.keys(changeset.put)).toHaveLength(1);
		const upNow = { ...quay, ...rowByRow(quay) };
		const applied = applyOwn(upNow, migrateChangeset(changeset, VERSION, NEXT));
		expect(applied).toEqual({ ...noted, ...rowByRow(noted) });
	});

	it('goes through all versions between', () => {
		const first = Object.fromEntries(
			Object.entries(quay).filter(([name]) => !['formulas', 'blends', 'shapes'].includes(name)),
		);
		const read = migrateDocument({ format: 'hillock-project', ...first, version: 1 }) as unknown as Doc;
		expect([read.formulas, read.blends, read.shapes]).toEqual([{}, {}, {}]);
		expect(read).toMatchObject({ version: VERSION, channels: quay.channels });
	});

	it('that is not known, or no file at all, is left as it is', () => {
		for (const value of [null, 3, 'x', [], {}, { version: 'one' }, { version: VERSION + 7 }])
			expect(migrateDocument(value)).toBe(value);
	});
});
