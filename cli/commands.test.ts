/** The commands, called as the command line calls them. */
import { createHash } from 'node:crypto';
import {
	existsSync,
	mkdirSync,
	mkdtempSync,
	readdirSync,
	readFileSync,
	rmSync,
	writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { checkClip } from '../core/check/check';
import { markIntended } from '../core/check/intended';
import { writeProjectFile } from '../core/formats/project/file';
import { putProfile } from '../core/edits/profiles';
import { linear, ONCE, ProjectBuilder, REPEAT } from '../demo/builder';
import { openDatabase } from '../src/lib/server/db/database';
import { ProjectStore } from '../src/lib/server/project-store';
import { readPack } from '../core/formats/project/pack';
import { checkFile } from './check';
import { cleanFile } from './clean';
import { CliError } from './error';
import { exportFiles } from './export';
import { importFile } from './import';
import { jobsOf, type ExportOptions } from './jobs';
import { rehearseFile } from './rehearse';
import { sampleFile } from './sample';
import { serve } from './serve';

const doc = new ProjectBuilder('Jump', 'world', 30)
	.part('crate', { kind: 'empty' })
	.startClip('up', 30, REPEAT)
	.keys('crate', 'translation.y', [
		[0, 0, linear],
		[12, 3, linear],
		[30, 2],
	])
	.startClip('dim', 30, ONCE)
	.keys('crate', 'opacity', [
		[0, 1, linear],
		[30, 0],
	])
	.keys('crate', 'scale.x', [
		[0, 1, linear],
		[30, -1],
	])
	.build();
const [gap] = checkClip(doc, doc.clips.up);

let folder: string;
let file: string;
let out: string;
let err: string;

beforeEach(() => {
	folder = mkdtempSync(join(tmpdir(), 'hillock-commands-'));
	file = join(folder, 'jump.hillock.json');
	writeFileSync(file, writeProjectFile(doc));
	out = err = '';
	vi.spyOn(process.stdout, 'write').mockImplementation((text) => ((out += String(text)), true));
	vi.spyOn(process.stderr, 'write').mockImplementation((text) => ((err += String(text)), true));
});
afterEach(() => {
	vi.restoreAllMocks();
	rmSync(folder, { recursive: true });
	process.exitCode = undefined;
});

function refusal(call: () => unknown): CliError {
	try {
		call();
	} catch (error) {
		if (error instanceof CliError) return error;
		throw error;
	}
	throw new Error('It was not refused.');
}

describe('check', () => {
	it('tells what was found, and fails on errors alone, unless it is strict', () => {
		checkFile(file, { clip: ['dim'] });
		expect(out).toMatch(
			/^warning: dim \/ crate \/ scale x, frame [\d.]+: .*\n.*: ok \(2 clips, 1 parts, 3 channels\), 1 findings\n$/,
		);
		expect(process.exitCode).toBe(undefined);
		checkFile(file, { clip: ['dim'], strict: true });
		expect(process.exitCode).toBe(1);
		process.exitCode = undefined;
		checkFile(file, { clip: ['up'] });
		expect(out).toContain('error: up / crate / translation y, frame 30: ');
		expect(out).toContain('(mend: End at start value; ');
		// What has no mend says nothing of one.
		expect(out.split('\n').filter((line) => line.includes('(mend: )'))).toEqual([]);
		expect(process.exitCode).toBe(1);
	});

	it('does not count what is intended, and says why it is', () => {
		writeFileSync(file, writeProjectFile(markIntended(doc, gap, 'a cut')));
		checkFile(file, { clip: ['up'], strict: true });
		expect(out).toMatch(/^intended: .* \(a cut\)\n/);
		expect(process.exitCode).toBe(undefined);
		out = '';
		checkFile(file, { clip: ['up'], json: true });
		expect(JSON.parse(out)).toMatchObject([{ rule: 'seam-gap', frame: 30, seconds: 1, intended: 'a cut' }]);
		out = '';
		checkFile(file, { clip: ['up'], sarif: true });
		expect(JSON.parse(out).runs[0].results[0].suppressions).toMatchObject([{ justification: 'a cut' }]);
	});

	it('refuses two ways to print, a clip that is not there and a file that is none', () => {
		expect(refusal(() => checkFile(file, { json: true, sarif: true }))).toMatchObject({ exitCode: 2 });
		expect(refusal(() => checkFile(file, { clip: ['down'] }))).toMatchObject({
			exitCode: 2,
			message: 'there is no clip "down"; there are: "up", "dim"',
		});
		expect(refusal(() => checkFile(folder, {}))).toMatchObject({ exitCode: 2 });
		writeFileSync(file, '{');
		expect(refusal(() => checkFile(file, {}))).toMatchObject({ exitCode: 1 });
	});
});

describe('export', () => {
	const target = () => join(folder, 'jump.glb');
	const call = (clip: string, to = 'gltf') =>
		exportFiles([file], { clip: [clip], to, bound: 0.001, out: target() });

	it('writes the file, and tells its size, its error and what is left out', async () => {
		await call('all');
		expect(out).toMatch(/jump\.glb: (\d+) bytes, \d+ of them curves; largest error [\d.]+ % of its bound\n/);
		expect(Number(/: (\d+) bytes/.exec(out)![1])).toBe(readFileSync(target()).length);
		expect(err).toMatch(/^hillock: dim: left out: crate .*\n$/);
	});

	it('takes bounds of single parts by their names, and refuses those of none', () => {
		const crate = Object.keys(doc.parts)[0];
		const bounds = (...boundPart: string[]) =>
			jobsOf([file], { clip: ['up'], to: 'gltf', bound: 0.001, out: target(), boundPart })[0].options.bounds;
		expect(bounds('crate/translation=0.25', 'crate=0.5', `${crate}/scale=2`)).toMatchObject({
			relative: 0.001,
			parts: { [crate]: { translation: 0.25, relative: 0.5, scale: 2 } },
		});
		for (const said of ['crate', 'crate=', 'crate=-1', 'crate=2', 'box/scale=1', '=1', 'crate/scale=1e9'])
			expect(
				refusal(() => bounds(said)),
				said,
			).toMatchObject({ exitCode: 2 });
	});

	it('refuses a target that is not known and a folder that is not there', async () => {
		await expect(call('all', 'flipbook')).rejects.toMatchObject({ exitCode: 2 });
		rmSync(file);
		await expect(call('all')).rejects.toMatchObject({ exitCode: 2 });
	});
});

describe('export of many', () => {
	const profile = (name: string, target: string, order: string, clips: string[] | null = null) => ({
		type: 'profile' as const,
		id: `p-${order}`,
		order,
		name,
		target,
		clips,
		bounds: { relative: 0.001, translation: 0.01 },
		choices: { rate: 12, curvesOnly: true },
	});
	const many = () =>
		['a', 'b', 'c'].map((name) => {
			const own = join(folder, `${name}.hillock.json`);
			const profiled = putProfile(
				putProfile(doc, profile('Table', 'csv', 'a0', ['up'])),
				profile('For the engine', 'gltf', 'a1'),
			);
			writeFileSync(own, writeProjectFile(profiled));
			return own;
		});
	const asked = (more: Partial<ExportOptions>): ExportOptions => ({
		to: 'gltf',
		bound: 0.001,
		out: join(folder, 'out'),
		...more,
	});
	const written = (name = 'out') =>
		Object.fromEntries(
			(existsSync(join(folder, name)) ? readdirSync(join(folder, name)) : [])
				.sort()
				.map((own) => [own, readFileSync(join(folder, name, own)).toString('base64')]),
		);

	it('writes a file a project and profile; shards together are the whole, byte for byte', async () => {
		const files = many();
		await exportFiles(files, asked({ profile: ['all'] }));
		const whole = written();
		expect(Object.keys(whole)).toEqual(
			['a', 'b', 'c'].flatMap((name) => [`${name}-for-the-engine.glb`, `${name}-table.csv`]),
		);
		expect(Buffer.from(whole['a-table.csv'], 'base64').toString()).toMatch(
			/^clip,time \[s\],.*\nup,0,.*\nup,0\.0833/,
		);
		expect(out).toMatch(
			/a-table\.csv: \d+ bytes\n.*a-for-the-engine\.glb.*\n.*\n.*\n.*\n.*\n6 files, \d+ bytes\n$/,
		);
		for (const part of [1, 2, 3, 4])
			await exportFiles(
				files,
				asked({ profile: ['all'], shard: { part, of: 4 }, out: join(folder, 'parts') }),
			);
		expect(written('parts')).toEqual(whole);
		// What a profile says is what the command line would say.
		await exportFiles(
			[files[0]],
			asked({ clip: ['all'], boundTranslation: 0.01, curvesOnly: true, out: join(folder, 'a.glb') }),
		);
		expect(readFileSync(join(folder, 'a.glb')).toString('base64')).toBe(whole['a-for-the-engine.glb']);
	});

	it('tells as JSON, goes on after what fails, and refuses two files of one name', async () => {
		const files = many();
		out = '';
		const css = join(folder, 'css.hillock.json');
		writeFileSync(css, writeProjectFile(putProfile(doc, profile('Table', 'css', 'a0'))));
		await exportFiles([css, files[0]], asked({ profile: ['Table'], json: true }));
		expect(JSON.parse(out)).toMatchObject([
			{
				file: files[0],
				profile: 'Table',
				target: 'csv',
				error: null,
				leftOut: [],
				bytes: expect.any(Number),
			},
		]);
		expect(err).toMatch(/css\.hillock\.json: CSS moves the elements of a page/);
		expect(process.exitCode).toBe(1);
		mkdirSync(join(folder, 'other'));
		const twin = join(folder, 'other', 'a.hillock.json');
		writeFileSync(twin, readFileSync(files[0]));
		await expect(exportFiles([files[0], twin], asked({ profile: ['all'] }))).rejects.toMatchObject({
			exitCode: 2,
			message: expect.stringMatching(/would both be written to/),
		});
		await expect(exportFiles(files, asked({ profile: ['Night'] }))).rejects.toMatchObject({
			message: expect.stringMatching(/there is no profile "Night"; there are: "Table", "For the engine"$/),
		});
		await expect(exportFiles([file], asked({ profile: ['all'] }))).rejects.toMatchObject({ exitCode: 2 });
		await expect(exportFiles([file], asked({}))).rejects.toMatchObject({ exitCode: 2 });
	});

	it('leaves the old file where the new one cannot be written', async () => {
		const target = join(folder, 'old.glb');
		mkdirSync(target);
		writeFileSync(join(target, 'kept'), 'kept');
		await expect(
			exportFiles([file], asked({ clip: ['all'], out: join(folder, 'nowhere', '\0.glb') })),
		).rejects.toThrow();
		expect(readdirSync(folder).filter((name) => name.endsWith('.part'))).toEqual([]);
		expect(readFileSync(join(target, 'kept'), 'utf8')).toBe('kept');
	});
});

describe('sample', () => {
	it('prints both ends of a clip and what lies between, at its rate', () => {
		sampleFile(file, { clip: ['up'], rate: 10 });
		const rows = JSON.parse(out) as { target: string; path: string; t: number; value: number[] }[];
		expect(rows.map(({ t }) => t)).toEqual(Array.from({ length: 11 }, (_, i) => i / 10));
		expect(rows[2]).toMatchObject({ target: 'crate', path: 'translation', value: [0, 1.5, 0] });
	});
});

it('clips are chosen by their names, each once, in the order of the project', () => {
	const clipsOf = (...clip: string[]) => {
		out = '';
		sampleFile(file, { clip, rate: 1 });
		return [...new Set((JSON.parse(out) as { clip: string }[]).map((row) => row.clip))];
	};
	expect(clipsOf('dim', 'up', 'dim')).toEqual(['up', 'dim']);
	expect(clipsOf('dim')).toEqual(['dim']);
	expect(clipsOf('dim', 'all')).toEqual(['up', 'dim']);
	expect(() => clipsOf('up', 'down')).toThrow('there is no clip "down"');
});

describe('clean', () => {
	const put = (name: string, text: string): string => {
		writeFileSync(join(folder, name), text);
		return join(folder, name);
	};
	/** A table of two columns at 60 Hz: one swings with noise, one rests. */
	const table = () => {
		const noise = (i: number) => (((i * 7919) % 101) / 101 - 0.5) * 0.01;
		const rows = Array.from(
			{ length: 181 },
			(_, i) => `${(i / 60).toFixed(5)},${Math.sin((3 * i) / 60) + noise(i)},${i < 90 ? 0 : 1}`,
		);
		return `time [s],hook translation x [m],hook translation y [m]\n${rows.join('\n')}\n`;
	};

	it('makes few keys of a recording within its tolerance, and again from the raw samples', async () => {
		const csv = put('swing.csv', table());
		const zip = join(folder, 'swing.hillock.zip');
		await cleanFile(csv, { take: ['all'], out: zip, tolerance: 0.02 });
		expect(out).toMatch(/swing · hook translation x: 181 samples → \d+ keys, off by 0\.0\d+ at most/);
		const read = readPack(readFileSync(zip));
		if (!read.ok) throw new Error(read.problems[0].message);
		const [channel] = Object.values(read.value.doc.channels);
		expect(channel.keys.length).toBeLessThan(12);
		const [take] = Object.values(read.value.doc.takes);
		expect([take.samples, take.cleaning.tolerance]).toEqual([181, 0.02]);

		const finer = join(folder, 'finer.hillock.zip');
		await cleanFile(zip, { take: ['swing'], out: finer, tolerance: 0.001, spikes: false });
		const again = readPack(readFileSync(finer));
		expect(again.ok && Object.values(again.value.doc.channels)[0].keys.length).toBeGreaterThan(
			channel.keys.length,
		);
		expect(again.ok && again.value.files).toEqual(read.value.files);
	});

	it('refuses a take that is not there, and one without its samples', async () => {
		const csv = put('swing.csv', table());
		const json = join(folder, 'swing.hillock.json');
		const nobody = cleanFile(csv, { take: ['walk'], out: json });
		await expect(nobody).rejects.toThrow('there is no take "walk"; there are: "swing"');
		await importFile(csv, { out: json });
		rmSync(join(folder, 'swing.assets'), { recursive: true });
		const torn = cleanFile(json, { take: ['all'], out: join(folder, 'x.hillock.zip') });
		await expect(torn).rejects.toThrow(/samples of "swing" are not there/);
	});
});

describe('rehearse', () => {
	const pier = (delay: number) =>
		new ProjectBuilder('Pier', 'world', 30)
			.part('crate', { kind: 'empty' })
			.startClip('up', 30, ONCE)
			.keys('crate', 'translation.y', [
				[0, 0, linear],
				[30, 2],
			])
			.cue('half', 15, { metres: 1 })
			.trigger({ kind: 'call', name: 'lift' }, { kind: 'play', clip: 'up', layer: null }, delay)
			.rehearsal('lifted', 2, [{ t: 0.25, what: { kind: 'call', name: 'lift' } }], {
				cues: [{ t: 0.75, clip: 'up', cue: 'half' }],
			})
			.build();
	const write = (delay: number) => writeFileSync(file, writeProjectFile(pier(delay)));

	it('tells what comes of it, and fails where a change of timing breaks it', () => {
		write(0);
		rehearseFile(file, { frames: 60 });
		expect(out).toContain('lifted: 2.00 s, 1 inputs\n   0.750 s  cue half of up {"metres":1}');
		expect(process.exitCode).toBeUndefined();
		write(0.1);
		out = '';
		rehearseFile(file, { frames: 'random', name: ['lifted'] });
		expect(out).toContain('fault: lifted, 0.750 s: “half” of up does not pass within 0.05 s of 0.750 s');
		expect(process.exitCode).toBe(1);
		out = '';
		rehearseFile(file, { frames: 60, json: true });
		expect(JSON.parse(out)).toMatchObject([
			{
				name: 'lifted',
				cues: [{ t: 0.85, cue: 'half' }],
				faults: [{ kind: 'missing-cue' }, { kind: 'unexpected-cue' }],
			},
		]);
		out = '';
		rehearseFile(file, { frames: 60, sarif: true });
		expect(JSON.parse(out).runs[0].results).toHaveLength(2);
	});

	it('refuses a rehearsal that is not there, and two ways to print', () => {
		expect(refusal(() => rehearseFile(file, { frames: 60 })).message).toMatch(/no rehearsal in this project/);
		write(0);
		expect(refusal(() => rehearseFile(file, { frames: 60, name: ['x'] })).message).toMatch(
			/there are: "lifted"/,
		);
		expect(refusal(() => rehearseFile(file, { frames: 60, json: true, sarif: true })).exitCode).toBe(2);
	});
});

describe('import', () => {
	it('stores the project as it is, or writes it again as the same file', async () => {
		const data = join(folder, 'data');
		await importFile(file, { data });
		const id = /stored as project (\w{16})\n/.exec(out)![1];
		const db = openDatabase(data);
		expect(new ProjectStore(db).load(id).doc).toEqual({ ...doc, project: { ...doc.project, id } });
		db.close();
		const again = join(folder, 'again.hillock.json');
		out = '';
		await importFile(file, { out: again });
		expect(out).toBe(`${again}: written\n`);
		expect(readFileSync(again, 'utf8')).toBe(readFileSync(file, 'utf8'));
	});

	it('takes along what stands beside the project file, and writes it beside the copy', async () => {
		const picture = new TextEncoder().encode('<svg xmlns="http://www.w3.org/2000/svg"/>');
		const asset = createHash('sha256').update(picture).digest('hex');
		const pictured = structuredClone(doc);
		pictured.parts.crate.drawing = { kind: 'image', asset, size: [1, 1, 0], offset: [0, 0, 0] };
		writeFileSync(file, writeProjectFile(pictured));
		mkdirSync(join(folder, 'jump.assets'));
		writeFileSync(join(folder, 'jump.assets', `${asset}.svg`), picture);
		await importFile(file, { out: join(folder, 'again.hillock.json') });
		expect(err).toBe('');
		expect(readFileSync(join(folder, 'again.assets', `${asset}.svg`))).toEqual(Buffer.from(picture));
		writeFileSync(join(folder, 'jump.assets', `${asset}.svg`), 'another');
		await expect(importFile(file, {})).rejects.toMatchObject({ exitCode: 1 });
	});

	it('tells what of a foreign file is left out, and stores nothing of one that cannot be read', async () => {
		const scene = join(folder, 'scene.gltf');
		const cameras = [{ type: 'orthographic', orthographic: { xmag: 1, ymag: 1, zfar: 9, znear: 1 } }];
		const nodes = [{ name: 'eye', camera: 0 }];
		const parts = { asset: { version: '2.0' }, scene: 0, scenes: [{ nodes: [0] }], nodes, cameras };
		writeFileSync(scene, JSON.stringify(parts));
		await importFile(scene, { out: join(folder, 'scene.hillock.json') });
		expect(err).toBe('hillock: left out: eye: its camera sees in parallel, here in perspective\n');
		writeFileSync(scene, '{"asset":');
		const data = join(folder, 'data');
		await expect(importFile(scene, { data })).rejects.toMatchObject({ exitCode: 1 });
		expect(existsSync(data)).toBe(false);
	});

	it('cannot write where there is no folder: that is no fault of the project', async () => {
		await expect(importFile(file, { out: join(folder, 'no', 'again.json') })).rejects.toMatchObject({
			exitCode: 2,
		});
	});

	it('tells of a file that the project refers to and that is not beside it', async () => {
		const pictured = structuredClone(doc);
		pictured.parts.crate.drawing = {
			kind: 'image',
			asset: 'a'.repeat(64),
			size: [1, 1, 0],
			offset: [0, 0, 0],
		};
		writeFileSync(file, writeProjectFile(pictured));
		await importFile(file, { out: join(folder, 'again.hillock.json') });
		expect(err).toBe('hillock: left out: aaaaaaaa…: a file that is not there\n');
	});
});

it('serve refuses an address that others can reach, without a token', async () => {
	const options = { host: '0.0.0.0', port: 0, data: join(folder, 'data'), demo: false };
	await expect(serve(options as never)).rejects.toThrow('0.0.0.0 can be reached by others');
	expect(existsSync(options.data)).toBe(false);
});
