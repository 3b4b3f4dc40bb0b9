import fc from 'fast-check';
import { VERSION } from './migrate';
import { describe, expect, it } from 'vitest';
import { demoFiles } from '../../demo/files';
import { makeQuay } from '../../demo/quay';
import { readFileSync } from 'node:fs';
import { readProjectFile, writeProjectFile } from '../formats/project/file';
import { applyOwn, diffDocuments, isEmpty } from './changeset';
import { applyChecked } from './checked-changeset';
import { duplicateClip, putClip, putCue, removeClip, updateClip, updateProject } from '../edits/clips';
import {
	duplicateKeys,
	expandSpans,
	insertKey,
	moveKeys,
	removeChannels,
	removeKeys,
	setAccumulates,
	setEnds,
	setModes,
	setShape,
	setValue,
} from '../edits/keys';
import { removePart, setRestValue, updatePart } from '../edits/parts';
import type { Doc, Part } from './types';
import { validateDocument } from './validate';

const quay = makeQuay();
const channels = Object.values(quay.channels);
const channel = fc.constantFrom(...channels);
const tick = fc.integer({ min: 0, max: 60 }).map((frame) => frame * 2400);
const some = channel.chain((c) =>
	fc
		.subarray(
			c.keys.map((key) => key.t),
			{ minLength: 1 },
		)
		.map((times) => new Map([[c.id, new Set(times)]])),
);
type Edit = (doc: Doc) => Doc;

/** Edits of every kind, with arguments that fit the demo (some no longer do after the edits before). */
const edit: fc.Arbitrary<Edit> = fc.oneof(
	fc.tuple(channel, tick, fc.integer({ min: -9, max: 9 })).map(
		([c, t, v]): Edit =>
			(doc) =>
				doc.clips[c.clip] && doc.parts[c.part] ? setValue(doc, c, t, v) : doc,
	),
	fc.tuple(channel, tick).map(
		([c, t]): Edit =>
			(doc) =>
				insertKey(doc, c.id, t),
	),
	some.map(
		(keys): Edit =>
			(doc) =>
				removeKeys(doc, keys),
	),
	fc.tuple(some, fc.integer({ min: 0, max: 9 })).map(
		([keys, frames]): Edit =>
			(doc) =>
				moveKeys(doc, keys, frames * 2400, 1),
	),
	some.map(
		(keys): Edit =>
			(doc) =>
				setShape(doc, keys, {
					kind: 'spring',
					mass: 1,
					stiffness: 90,
					damping: 9,
					velocity: 0,
					time: 'fitted',
				}),
	),
	some.map(
		(keys): Edit =>
			(doc) =>
				expandSpans(setShape(doc, keys, { kind: 'bounce', restitution: 0.5, count: 2 }), keys),
	),
	fc
		.tuple(some, fc.constantFrom('smooth' as const, 'flat' as const, 'joined' as const, 'split' as const))
		.map(
			([keys, mode]): Edit =>
				(doc) =>
					setModes(doc, keys, mode),
		),
	fc.tuple(some, tick).map(
		([keys, t]): Edit =>
			(doc) =>
				duplicateKeys(doc, keys, t),
	),
	channel.map(
		(c): Edit =>
			(doc) =>
				setEnds(setAccumulates(doc, [c.id], true), [c.id], { before: 'straight', after: 'repeat' }),
	),
	channel.map(
		(c): Edit =>
			(doc) =>
				removeChannels(doc, [c.id]),
	),
	channel.map(
		(c): Edit =>
			(doc) =>
				removePart(doc, c.part),
	),
	channel.map(
		(c): Edit =>
			(doc) =>
				removeClip(doc, c.clip),
	),
	channel.map(
		(c): Edit =>
			(doc) =>
				setRestValue(updatePart(doc, c.part, { name: 'gull', colour: '#010203' }), c.part, 'scale', 'y', 2),
	),
	channel.map(
		(c): Edit =>
			(doc) =>
				updateClip(doc, c.clip, { length: 99_999 }),
	),
	channel.map(
		(c): Edit =>
			(doc) =>
				doc.clips[c.clip]
					? duplicateClip(doc, c.clip, { ...doc.clips[c.clip], id: 'copy' }, () => 'cue')
					: doc,
	),
	fc.constant<Edit>((doc) => updateProject(doc, { name: 'Jetty', frameRate: 24 })),
	fc.constant<Edit>((doc) =>
		putCue(putClip(doc, { ...quay.clips['sack-drop'], id: 'new', name: 'new' }), {
			type: 'cue',
			id: 'c',
			clip: 'new',
			name: 'splash',
			t: 9,
			payload: { wet: true },
		}),
	),
);

describe('changesets', () => {
	it('lead from before to after and back, whatever the edits', () => {
		fc.assert(
			fc.property(fc.array(edit, { minLength: 1, maxLength: 5 }), (edits) => {
				const after = edits.reduce((doc, make) => make(doc), quay);
				const forward = JSON.parse(JSON.stringify(diffDocuments(quay, after))) as ReturnType<
					typeof diffDocuments
				>;
				const applied = applyChecked(quay, forward);
				// As it is stored: JSON knows no −0.
				expect(applied).toEqual({ ok: true, value: JSON.parse(JSON.stringify(after)) });
				// What is trusted comes to the same.
				expect(applied).toEqual({ ok: true, value: applyOwn(quay, forward) });
				const back = applyChecked(after, diffDocuments(after, quay));
				expect(back).toEqual({ ok: true, value: quay });
				expect(validateDocument({ format: 'hillock-project', version: VERSION, ...after }).ok).toBe(true);
			}),
			{ numRuns: 150 },
		);
	});

	it('hold only the keys that changed', () => {
		const after = setValue(
			quay,
			{ clip: 'sack-drop', part: 'mail-sack', property: 'translation', component: 'y' },
			27 * 2400,
			2,
		);
		const { put, splice, drop } = diffDocuments(quay, after);
		expect([put, drop]).toEqual([{}, []]);
		expect(Object.values(splice)).toEqual([
			[{ at: 4, remove: 1, insert: [expect.objectContaining({ v: 2 })] }],
		]);
		expect(isEmpty(diffDocuments(quay, quay))).toBe(true);
	});
});

describe('project files', () => {
	it('are refused where two things have one id', () => {
		const [clip] = Object.values(quay.clips);
		const problemOf = (doc: Doc) => validateDocument({ format: 'hillock-project', version: VERSION, ...doc });
		const twice = { ...quay, clips: { ...quay.clips, pelican: { ...clip, id: 'pelican' } } };
		expect(problemOf(twice)).toMatchObject({
			problems: [{ pointer: '/clips/pelican', message: 'The id "pelican" is used in "parts" already.' }],
		});
	});

	it('are read back as what was written, the same text each time', () => {
		const text = writeProjectFile(quay);
		expect(readProjectFile(text)).toEqual({ ok: true, value: quay });
		expect(writeProjectFile((readProjectFile(text) as { value: Doc }).value)).toBe(text);
	});

	it.each(['garbage', 'M 0 0 L 1e300 0 L 0 1 Z', `M 0 0 L ${'1 1 '.repeat(20_000)}`])(
		'with a path that cannot be drawn are refused at its place: %.24s',
		(d) => {
			const { parts } = quay;
			const drawing = { ...parts['mail-sack'].drawing, d } as Part['drawing'];
			const spoilt = { ...quay, parts: { ...parts, 'mail-sack': { ...parts['mail-sack'], drawing } } };
			expect(readProjectFile(writeProjectFile(spoilt))).toMatchObject({
				ok: false,
				problems: [{ pointer: '/parts/mail-sack/drawing/d' }],
			});
		},
	);

	it('of the demo are what its code makes', () => {
		for (const [name, text] of Object.entries(demoFiles()))
			expect(readFileSync(`demo/${name}`, 'utf8')).toBe(text);
	});
});
