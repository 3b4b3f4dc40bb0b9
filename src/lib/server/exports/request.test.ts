import { describe, expect, it } from 'vitest';
import { clipsInOrder } from '$core/document/types';
import { makeQuay } from '../../../../demo/quay';
import { ApiError } from '../problem';
import { chosenClips, readExportRequest } from './request';

const doc = makeQuay();
const clips = ['sack-drop'];

describe('what is asked of an export', () => {
	it('is read with the bounds that go without saying', () => {
		expect(readExportRequest({ clips, target: 'gltf' }, doc)).toMatchObject({ bounds: { relative: 0.001 } });
		const own = { relative: 1, rotation: 0.1 };
		expect(readExportRequest({ clips, target: 'gltf', bounds: own }, doc).bounds).toMatchObject(own);
		const parts = { 'crane-arm': { rotation: 0.05, relative: 0.5 } };
		expect(readExportRequest({ clips, target: 'gltf', bounds: { parts } }, doc).bounds).toEqual({
			relative: 0.001,
			parts,
		});
	});

	it.each<[string, unknown, string]>([
		['nothing', null, '/target'],
		['a target that is not there', { clips, target: 'song' }, '/target'],
		['a target that is for another kind of project', { clips, target: 'css' }, '/target'],
		['a target that is no word', { clips, target: ['gltf'] }, '/target'],
		['no clip', { clips: [], target: 'gltf' }, '/clips'],
		['clips that are no list', { clips: 'sack-drop', target: 'gltf' }, '/clips'],
		['a clip that is not there', { clips: ['sack-drop', 'constructor'], target: 'gltf' }, '/clips/1'],
		['a bound of nothing', { clips, target: 'gltf', bounds: { relative: 0 } }, '/bounds/relative'],
		['a bound that is everything', { clips, target: 'gltf', bounds: { relative: 1.1 } }, '/bounds/relative'],
		[
			'a bound of a part that is not there',
			{ clips, target: 'gltf', bounds: { parts: { constructor: { rotation: 1 } } } },
			'/bounds/parts/constructor',
		],
		[
			'a share of a part that is over all of it',
			{ clips, target: 'gltf', bounds: { parts: { 'crane-arm': { relative: 1.1 } } } },
			'/bounds/parts/crane-arm/relative',
		],
		['a bound in words', { clips, target: 'gltf', bounds: { relative: '0.1' } }, '/bounds/relative'],
	])('%s is refused with its place', (_, body, pointer) => {
		let refused: unknown;
		try {
			readExportRequest(body, doc);
		} catch (error) {
			refused = error;
		}
		expect(refused).toBeInstanceOf(ApiError);
		expect((refused as ApiError).pointer).toBe(pointer);
	});
});

it('clips of an address are found by name or id, each once; without any all are meant', () => {
	const all = clipsInOrder(doc).map(({ id }) => id);
	expect(chosenClips(doc, [])).toEqual(all);
	expect(chosenClips(doc, ['pelican hop', 'sack-drop', 'sack drop'])).toEqual(['pelican-hop', 'sack-drop']);
	expect(() => chosenClips(doc, ['sack drop', 'hasOwnProperty'])).toThrow(
		'There is no clip “hasOwnProperty”.',
	);
	expect(() => chosenClips({ ...doc, clips: {} }, [])).toThrow(/no clips yet/);
});
