/** The command line as a build machine runs it. */
import { NodeIO } from '@gltf-transform/core';
import { execFile } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { AnimationMixer } from 'three';
import { GLTFLoader, type GLTF } from 'three/addons/loaders/GLTFLoader.js';
import { unzipSync, zipSync } from 'fflate';
import type { Doc } from '../core/document/types';
import { gltfTracks } from '../core/formats/gltf/testing';
import { TRACK_PATHS } from '../core/tracks/track';
import { angleBetween } from '../player/maths/quaternion';
import { expect, test } from './server';

const QUAY = 'demo/quay.hillock.json';

function hillock(...args: string[]): Promise<{ code: number; out: string; err: string }> {
	return new Promise((resolve) => {
		const options = { maxBuffer: 64 * 1024 * 1024 };
		execFile(process.execPath, ['bin/hillock.js', ...args], options, (error, out, err) => {
			resolve({ code: error ? Number(error.code) : 0, out, err });
		});
	});
}

interface Sample {
	clip: string;
	target: string;
	path: string;
	t: number;
	value: number[];
}

/** Samples by clip, part and path. */
function grouped(samples: readonly Sample[]): Map<string, Sample[]> {
	const groups = new Map<string, Sample[]>();
	for (const sample of samples) {
		const name = [sample.clip, sample.target, sample.path].join('\n');
		groups.set(name, [...(groups.get(name) ?? []), sample]);
	}
	return groups;
}

const folder = () => mkdtempSync(join(tmpdir(), 'hillock-cli-'));

test('every command has help, and a wrong call says so in a line', async () => {
	expect((await hillock('--help')).out).toContain('export');
	for (const command of ['serve', 'demo', 'export', 'import', 'sample', 'check']) {
		const { code, out } = await hillock(command, '--help');
		expect(code).toBe(0);
		expect(out).toContain('Usage: hillock');
	}
	expect((await hillock('wobble')).code).toBe(2);
	expect((await hillock('export', QUAY, '--clip', 'all', '--bound', 'much', '--out', 'x.glb')).code).toBe(2);
	const missing = await hillock('check', 'no-such-file.json');
	expect(missing).toMatchObject({
		code: 2,
		err: 'hillock: no-such-file.json: there is no such file or folder\n',
	});
	const noClip = await hillock('sample', QUAY, '--clip', 'gull');
	expect(noClip.code).toBe(2);
	expect(noClip.err).toContain('"sack drop"');
	const open = await hillock('serve', '--host', '0.0.0.0', '--port', '0');
	expect(open).toMatchObject({ code: 2 });
	expect(open.err).toContain('token');
});

test('check refuses a broken file with the place and exit code 1', async () => {
	const file = join(folder(), 'broken.hillock.json');
	writeFileSync(file, readFileSync(QUAY, 'utf8').replace('"part": "buoy"', '"part": "gull"'));
	const { code, err } = await hillock('check', file);
	expect(code).toBe(1);
	expect(err.trim().split('\n')).toHaveLength(1);
	expect(err).toMatch(/at \/channels\/buoy-bob~1buoy/);
	expect((await hillock('check', QUAY)).out).toContain('ok (9 clips');
});

test('what sample prints is what another reader plays from the exported file', async () => {
	const out = join(folder(), 'quay.glb');
	const exported = await hillock(
		'export',
		QUAY,
		'--clip',
		'all',
		'--bound',
		'0.001',
		'--bound-rotation',
		'0.05',
		'--out',
		out,
	);
	expect(exported.code).toBe(0);
	expect(exported.err).not.toContain('left out');
	const bare = await hillock('export', QUAY, '--clip', 'all', '--curves-only', '--out', `${out}.bare`);
	expect(bare.err).toContain('left out: dust');
	const bytes = readFileSync(out);
	const gltf = await new Promise<GLTF>((resolve, reject) =>
		new GLTFLoader().parse(
			bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length),
			'',
			resolve,
			reject,
		),
	);
	const { out: text } = await hillock('sample', QUAY, '--clip', 'all', '--rate', '37');
	const samples = JSON.parse(text) as Sample[];
	expect(samples.length).toBeGreaterThan(1000);
	const doc = JSON.parse(readFileSync(QUAY, 'utf8')) as Doc;
	const clips = Object.values(doc.clips);
	const groups = grouped(samples);
	let compared = 0;
	for (const [group, rows] of groups) {
		const [clip, target, path] = group.split('\n');
		const animation = gltf.animations.find((candidate) => candidate.name === clip);
		// three.js follows no pointers.
		if (!animation || !(TRACK_PATHS as readonly string[]).includes(path)) continue;
		const mixer = new AnimationMixer(gltf.scene);
		const action = mixer.clipAction(animation);
		action.play();
		const node = gltf.scene.getObjectByName(target.replace(/\s/g, '_'))!;
		const tracks = gltfTracks(
			doc,
			clips.find(({ name }) => name === clip)!,
		);
		const { range } = tracks.find((own) => own.part.name === target && own.path === path)!;
		for (const { t, value } of rows) {
			// On frames, where holds jump, a reader may show either side.
			if (Math.abs(t * 30 - Math.round(t * 30)) < 1e-6) continue;
			mixer.setTime(t);
			compared++;
			if (path === 'rotation') {
				expect(angleBetween(node.quaternion.toArray(), value), group).toBeLessThanOrEqual(0.05);
			} else {
				const read = (path === 'translation' ? node.position : node.scale).toArray();
				const off = Math.max(...read.map((v, k) => Math.abs(v - value[k])));
				expect(off, group).toBeLessThanOrEqual(0.001 * range);
			}
		}
		action.stop();
	}
	expect(compared).toBeGreaterThan(800);
});

test('an exported file is imported again as the same motion', async () => {
	const dir = folder();
	const glb = join(dir, 'quay.glb');
	const back = join(dir, 'back.hillock.json');
	await hillock('export', QUAY, '--clip', 'pelican hop', '--bound', '0.0005', '--out', glb);
	const imported = await hillock('import', glb, '--out', back);
	expect(imported.code).toBe(0);
	const doc = JSON.parse(readFileSync(back, 'utf8')) as Doc;
	// The file itself lies beside the project, and its meshes are shown from there.
	const [asset] = readdirSync(join(dir, 'back.assets'));
	expect(readFileSync(join(dir, 'back.assets', asset))).toEqual(readFileSync(glb));
	const models = Object.values(doc.parts).filter(({ drawing }) => drawing.kind === 'model');
	expect(models.length).toBeGreaterThan(3);
	for (const { drawing } of models) expect(drawing).toMatchObject({ asset: asset.slice(0, 64) });
	const [clip] = Object.values(doc.clips);
	expect(clip).toMatchObject({ name: 'pelican hop', length: 72_000, loop: { mode: 'repeat' } });
	expect(
		Object.values(doc.cues)
			.map((cue) => cue.name)
			.sort(),
	).toEqual(['hop', 'land']);
	expect(
		Object.values(doc.channels).some((channel) => channel.accumulates && channel.component === 'x'),
	).toBe(true);
	const compare = async (file: string) =>
		JSON.parse((await hillock('sample', file, '--clip', 'pelican hop', '--rate', '23')).out) as {
			target: string;
			path: string;
			value: number[];
		}[];
	const [original, again] = [await compare(QUAY), await compare(back)];
	expect(again.length).toBe(original.length);
	again.forEach((sample, i) => {
		const twin = original[i];
		expect([sample.target, sample.path]).toEqual([twin.target, twin.path]);
		const sign =
			sample.path === 'rotation' && sample.value.reduce((sum, v, k) => sum + v * twin.value[k], 0) < 0
				? -1
				: 1;
		sample.value.forEach((v, k) => expect(sign * v).toBeCloseTo(twin.value[k], 2));
	});
	// Foreign readers see the animation too.
	expect((await new NodeIO().read(glb)).getRoot().listAnimations()[0].listChannels().length).toBeGreaterThan(
		3,
	);
});

test('a project travels in one zip with its files; one whose content was changed is refused', async () => {
	const dir = folder();
	const [glb, packed] = [join(dir, 'quay.glb'), join(dir, 'quay.hillock.zip')];
	await hillock('export', QUAY, '--clip', 'buoy bob', '--out', glb);
	expect((await hillock('import', glb, '--out', packed)).code).toBe(0);
	const again = join(dir, 'again.hillock.zip');
	expect((await hillock('import', packed, '--out', again)).err).toBe('');
	expect(readFileSync(again)).toEqual(readFileSync(packed));
	// A byte of the model put off: by chance, and by somebody who makes the sums of the zip fit.
	const torn = readFileSync(packed);
	torn[torn.indexOf('glTF') + 400] ^= 1;
	const files = unzipSync(readFileSync(packed));
	Object.values(files).find((content) => content[0] === 0x67)![400] ^= 1;
	writeFileSync(packed, torn);
	expect((await hillock('import', packed, '--out', again)).err).toContain('is damaged');
	writeFileSync(packed, zipSync(files));
	const { code, err } = await hillock('import', packed, '--data', join(dir, 'data'));
	expect(code).toBe(1);
	expect(err).toContain('has been changed');
});

test('a project file is stored in a data folder and can be served from there', async () => {
	const data = folder();
	const { code, out } = await hillock('import', QUAY, '--data', data);
	expect(code).toBe(0);
	expect(out).toMatch(/stored as project \w{16}/);
});
