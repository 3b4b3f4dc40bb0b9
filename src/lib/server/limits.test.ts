import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { MOST_ROWS } from '$core/formats/csv/shipping';
import { MOST_PARTS } from '$core/formats/incoming/document';
import { MOST_TAKE_COLUMNS } from '$core/document/takes';
import { MOST_TAKE_SAMPLES } from '$core/takes/samples-file';
import { MAX_FILE_LENGTH, MOST_ASSET_BYTES, MOST_KEYS, MOST_PACK_BYTES } from '$core/formats/project/limits';
import { MOST_FILES } from '$core/formats/project/pack';
import { FORMATS } from '$core/formats/registry';
import { MAX_JSON_DEPTH } from '$core/json';
import { MAX_CLIP_TICKS } from '$core/time';
import { MOST_ROUNDS } from '$core/tracks/rounds';
import { ticksToSeconds } from '$player/time';
import { BACKUPS_KEPT } from './db/backups';
import { MEMORY_LIMIT_MB, TIME_LIMIT_MS, WAITING_LIMIT } from './exports/pool';
import { ASSET_LIMIT, EDIT_LIMIT, MEGABYTE, PACK_LIMIT, REQUEST_LIMIT } from './request';

const megabytes = (bytes: number) => `${bytes / MEGABYTE} MB`;
const taken = (id: string) => megabytes(FORMATS.find((format) => format.id === id)!.takes!.mostBytes);

it('the table of limits says what holds', () => {
	const rows = readFileSync('docs/limits.md', 'utf8').matchAll(/^\| ([^|]+?) +\| ([^|]+?) +\|$/gm);
	const table = Object.fromEntries([...rows].slice(1).map(([, what, most]) => [what, most]));
	expect(table).toMatchObject({
		'a clip': `${ticksToSeconds(MAX_CLIP_TICKS)} s`,
		'a project file': megabytes(MAX_FILE_LENGTH),
		'a project with its files in a zip, unpacked': megabytes(MOST_PACK_BYTES),
		'files in such a zip': String(MOST_FILES),
		'a body that is sent to import a project': megabytes(PACK_LIMIT),
		'an edit': megabytes(EDIT_LIMIT),
		'any other request': megabytes(REQUEST_LIMIT),
		'a picture, film, sound, model or take': megabytes(ASSET_LIMIT),
		'samples of a take': String(MOST_TAKE_SAMPLES),
		'channels of a take': String(MOST_TAKE_COLUMNS),
		'all pictures, films, sounds, models and takes of a project': megabytes(MOST_ASSET_BYTES),
		'a glTF file that comes in': taken('gltf'),
		'a table that comes in': taken('csv'),
		'a skeleton with motion that comes in': taken('bvh'),
		'samples as JSON that come in': taken('samples'),
		'an X3D scene or keyframes of scripts that come in': taken('x3d'),
		'a style sheet or an SVG that comes in': taken('css'),
		'parts of what comes in from other formats': String(MOST_PARTS),
		'keys of what comes in from other formats': String(MOST_KEYS),
		'depth of JSON': String(MAX_JSON_DEPTH),
		'iterations written out': String(MOST_ROUNDS),
		'rows of a table that leaves': String(MOST_ROWS),
		'an export, an import or a weighing on the server': `${TIME_LIMIT_MS / 1000} s`,
		'memory of such a task': `${MEMORY_LIMIT_MB} MB`,
		'tasks that wait': String(WAITING_LIMIT),
		'daily copies of the database': String(BACKUPS_KEPT),
	});
	expect([taken('animations'), taken('svg'), taken('project')]).toEqual([
		taken('x3d'),
		taken('css'),
		megabytes(MAX_FILE_LENGTH),
	]);
	// What a project may keep fits into the zip that it is saved as, with its own file, and that into a body.
	expect(MOST_PACK_BYTES).toBeGreaterThanOrEqual(MOST_ASSET_BYTES + MAX_FILE_LENGTH);
	expect([PACK_LIMIT, FORMATS.find(({ id }) => id === 'pack')!.takes!.mostBytes]).toEqual([
		MOST_PACK_BYTES,
		MOST_PACK_BYTES,
	]);
});
