/**
 * Reads the nodes and animations of a glTF 2.0 file as a project: nodes become parts, rotations Euler channels that
 * are continuous in angle. What a project cannot hold is listed, never dropped in silence.
 */
import { BufferUtils, WebIO, type Document, type Node as GltfNode } from '@gltf-transform/core';
import { generateKeyBetween } from 'fractional-indexing';
import type { HandleSide, Key } from '../../curve/types';
import type { Shape } from '../../../player/easing/shape';
import { VERSION } from '../../document/migrate';
import { HOLD_ENDS } from '../../edits/keys';
import { numbersOf, restValue } from '../../document/rest';
import {
	AXES,
	channelId,
	emptyDoc,
	MOST_WEIGHTS,
	type Channel,
	type Clip,
	type Cue,
	type Doc,
	type Part,
	type Property,
} from '../../document/types';
import type { Loop } from '../../../player/loop';
import type { Vec3 } from '../../../player/maths/vector';
import { validateDocument } from '../../document/validate';
import { sampleAt, type Sampler } from '../../fit/sampler';
import { closestEuler, toEuler, type Quaternion } from '../../../player/maths/quaternion';
import { fail, type Result } from '../../result';
import { MAX_CLIP_TICKS } from '../../time';
import { secondsToTicks, TICKS_PER_SECOND } from '../../../player/time';
import { parseJson } from '../../json';
import type { FileIn, TakenIn } from '../format';
import { nodeSamplers } from './samplers';

const FRAME_RATE = 30;
/** How far the Euler channels of a turn about a changing axis may leave it, in degrees. */
const EULER_BOUND = 0.02;
const LINEAR: Shape = { kind: 'linear' };
const HOLD: Shape = { kind: 'hold' };

export interface GltfImport {
	doc: Doc;
	leftOut: string[];
}

async function parse(bytes: Uint8Array): Promise<Result<Document>> {
	const io = new WebIO();
	try {
		if (bytes[0] === 0x67 && bytes[1] === 0x6c && bytes[2] === 0x54 && bytes[3] === 0x46) {
			return { ok: true, value: await io.readBinary(bytes) };
		}
		const parsed = parseJson(BufferUtils.decodeText(bytes));
		if (!parsed.ok)
			return fail('', `This is no glTF file, neither binary nor text. ${parsed.problems[0].message}`);
		const json = parsed.value as { buffers?: { uri?: string }[]; images?: { uri?: string }[] };
		const resources: Record<string, Uint8Array<ArrayBuffer>> = {};
		for (const [i, { uri }] of [...(json.buffers ?? []), ...(json.images ?? [])].entries()) {
			if (uri === undefined) continue;
			if (!uri.startsWith('data:')) {
				return fail(
					`/buffers/${i}/uri`,
					`The file refers to another file ("${uri}"): import a .glb or embed it.`,
				);
			}
			resources[uri] = BufferUtils.createBufferFromDataURI(uri) as Uint8Array<ArrayBuffer>;
		}
		return { ok: true, value: await io.readJSON({ json: parsed.value as never, resources }) };
	} catch (error) {
		return fail(
			'',
			`This is no glTF file that can be read: ${error instanceof Error ? error.message : String(error)}`,
		);
	}
}

/** What is known of a file while its nodes are read. */
interface Reading {
	document: Document;
	/** Where the project keeps the file; null where it does not. */
	asset: string | null;
	ids: Map<GltfNode, string>;
	leftOut: string[];
}

function partsOf(reading: Reading): Record<string, Part> {
	const { document, ids, leftOut } = reading;
	const parts: Record<string, Part> = {};
	let order: string | null = null;
	const visit = (node: GltfNode, parent: string | null): void => {
		const id = `n${ids.size}`;
		ids.set(node, id);
		order = generateKeyBetween(order, null);
		parts[id] = {
			type: 'part',
			id,
			name: (node.getName().trim() || `node ${ids.size}`).slice(0, 120),
			parent,
			order,
			drawing: drawingOf(node, reading),
			colour: reading.asset && node.getMesh() ? '#ffffff' : colourOf(node),
			rest: {
				translation: [...node.getTranslation()] as Vec3,
				rotation: toEuler(node.getRotation() as Quaternion, 'XYZ'),
				scale: [...node.getScale()] as Vec3,
				opacity: 1,
			},
			eulerOrder: 'XYZ',
			visible: true,
		};
		if (node.getSkin()) leftOut.push(`${parts[id].name}: its skin`);
		for (const child of node.listChildren()) visit(child, id);
	};
	const scene = document.getRoot().getDefaultScene() ?? document.getRoot().listScenes()[0];
	for (const node of scene?.listChildren() ?? []) visit(node, null);
	return parts;
}

/** The node's mesh, or a box as large where the file is not kept; a camera where it is one. */
function drawingOf(node: GltfNode, { document, asset, leftOut }: Reading): Part['drawing'] {
	const mesh = node.getMesh();
	const camera = node.getCamera();
	if (camera && !mesh) {
		const yfov = camera.getType() === 'perspective' ? camera.getYFov() : null;
		if (yfov === null) leftOut.push(`${node.getName()}: its camera sees in parallel, here in perspective`);
		const degrees = yfov === null ? 40 : (yfov * 180) / Math.PI;
		return { kind: 'camera', fieldOfView: Math.min(170, Math.max(1, degrees)), offset: [0, 0, 0] };
	}
	if (camera) leftOut.push(`${node.getName()}: its camera, beside a mesh`);
	const low = [Infinity, Infinity, Infinity];
	const high = [-Infinity, -Infinity, -Infinity];
	for (const primitive of mesh?.listPrimitives() ?? []) {
		const position = primitive.getAttribute('POSITION');
		position?.getMin([]).forEach((v, i) => (low[i] = Math.min(low[i], v)));
		position?.getMax([]).forEach((v, i) => (high[i] = Math.max(high[i], v)));
	}
	if (!mesh || low[0] === Infinity) return { kind: 'empty', offset: [0, 0, 0] };
	const size = high.map((h, i) => h - low[i]) as Vec3;
	if (asset === null) {
		leftOut.push(`${node.getName()}: its mesh is drawn as a box of the same size`);
		return { kind: 'box', size, offset: high.map((h, i) => (h + low[i]) / 2) as Vec3 };
	}
	const all = mesh.listPrimitives()[0]?.listTargets() ?? [];
	if (all.length > MOST_WEIGHTS)
		leftOut.push(`${node.getName()}: morph targets after the first ${MOST_WEIGHTS} of ${all.length}`);
	const targets = all.slice(0, MOST_WEIGHTS);
	const given = node.getWeights().length > 0 ? node.getWeights() : mesh.getWeights();
	return {
		kind: 'model',
		asset,
		mesh: document.getRoot().listMeshes().indexOf(mesh),
		size,
		weights: targets.map((_, i) => given[i] ?? 0),
		// Where the file gives no name the reader counts.
		targets: targets
			.map((target) => target.getName())
			.map((own, i) => (own === `${i}` ? '' : own.slice(0, 120))),
		offset: [0, 0, 0],
	};
}

function colourOf(node: GltfNode): string {
	const factor = node.getMesh()?.listPrimitives()[0]?.getMaterial()?.getBaseColorFactor() ?? [
		0.1, 0.14, 0.17, 1,
	];
	const hex = factor.slice(0, 3).map((c) => {
		const srgb = c <= 0.0031308 ? 12.92 * c : 1.055 * c ** (1 / 2.4) - 0.055;
		return Math.round(255 * Math.min(1, Math.max(0, srgb)))
			.toString(16)
			.padStart(2, '0');
	});
	return `#${hex.join('')}`;
}

/** Key times in ticks; a key a hair after another (a jump) has the same tick. */
function tickOf(seconds: number): number {
	return Math.min(MAX_CLIP_TICKS, Math.max(0, secondsToTicks(seconds)));
}

/** Keys of one component of a sampler of vectors. */
function vectorKeys(sampler: Sampler, component: number): Key[] {
	const { interpolation, size, times, values } = sampler;
	const cubic = interpolation === 'CUBICSPLINE';
	const stride = cubic ? 3 * size : size;
	const rows = Array.from(times, (seconds, i) => {
		const at = i * stride + component;
		const key: Key = {
			t: tickOf(seconds),
			v: values[at + (cubic ? size : 0)],
			shape: interpolation === 'STEP' ? HOLD : cubic ? { kind: 'handles' } : LINEAR,
		};
		if (cubic) {
			const rise = (tangent: number, span: number): HandleSide => ({
				mode: 'split',
				rise: (tangent * span) / 3,
			});
			if (i > 0) key.left = rise(-values[at], seconds - times[i - 1]);
			if (i < times.length - 1) key.right = rise(values[at + 2 * size], times[i + 1] - seconds);
		}
		return key;
	});
	return withJumps(rows);
}

/** Where two keys share a tick the value jumps: a span that kept its value becomes a hold, another ends a tick early. */
function withJumps(rows: readonly Key[]): Key[] {
	const keys: Key[] = [];
	for (const row of rows) {
		const last = keys.at(-1);
		if (!last || last.t < row.t) {
			keys.push(row);
			continue;
		}
		const before = keys.at(-2);
		if (before && before.v === last.v) {
			keys.pop();
			keys[keys.length - 1] = { ...before, shape: HOLD };
		} else if (before && before.t < last.t - 1)
			keys[keys.length - 1] = { ...last, t: last.t - 1, shape: HOLD };
		else keys.pop();
		keys.push(row);
	}
	return keys;
}

/** Euler keys of a sampler of quaternions: at its keys, and between them until straight spans follow the turn. */
function eulerKeys(sampler: Sampler): Key[][] {
	const out = new Float32Array(4);
	const eulerAt = (seconds: number, previous: ArrayLike<number>): Vec3 => {
		sampleAt(sampler, seconds, out);
		const length = Math.hypot(...out) || 1;
		return closestEuler(toEuler(Array.from(out, (c) => c / length) as Quaternion, 'XYZ'), previous, 'XYZ');
	};
	const rows: { t: number; euler: Vec3 }[] = [];
	let previous: Vec3 = [0, 0, 0];
	const push = (seconds: number) => {
		previous = eulerAt(seconds, previous);
		rows.push({ t: tickOf(seconds), euler: previous });
	};
	const divide = (a: number, b: number, depth: number): void => {
		const start = eulerAt(a, previous);
		let worst = 0;
		let at = start;
		const samples: Vec3[] = [];
		for (let i = 1; i <= 4; i++) samples.push((at = eulerAt(a + ((b - a) * i) / 4, at)));
		samples.forEach((euler, i) => {
			euler.forEach((angle, k) => {
				const straight = start[k] + ((samples[3][k] - start[k]) * (i + 1)) / 4;
				worst = Math.max(worst, Math.abs(angle - straight));
			});
		});
		if (worst > EULER_BOUND && depth < 8 && b - a > 4 / TICKS_PER_SECOND) {
			divide(a, (a + b) / 2, depth + 1);
			divide((a + b) / 2, b, depth + 1);
		} else push(b);
	};
	push(sampler.times[0]);
	for (let i = 0; i + 1 < sampler.times.length; i++) {
		if (sampler.interpolation === 'STEP') push(sampler.times[i + 1]);
		else divide(sampler.times[i], sampler.times[i + 1], 0);
	}
	const shape = sampler.interpolation === 'STEP' ? HOLD : LINEAR;
	return AXES.map((_, axis) => {
		const keys = withJumps(rows.map(({ t, euler }): Key => ({ t, v: euler[axis], shape })));
		return keys.every((key) => Math.abs(key.v - keys[0].v) < 1e-6) ? keys.slice(0, 1) : keys;
	});
}

/** What the paths of glTF are called here. */
const PROPERTY_OF = {
	translation: 'translation',
	rotation: 'rotation',
	scale: 'scale',
	weights: 'weight',
} as const satisfies Record<string, Property>;

interface Extras {
	hillock?: {
		loop?: { mode?: string; count?: number | null; pause?: number };
		accumulates?: { part: string; path: string; component: string }[];
		cues?: { name: string; time: number; payload?: unknown }[];
	};
}

function loopOf(extras: Extras): Loop {
	const { mode, count, pause } = extras.hillock?.loop ?? {};
	return {
		mode: mode === 'repeat' || mode === 'alternate' ? mode : 'once',
		count: count ?? null,
		pause: tickOf(pause ?? 0),
	};
}

/**
 * Reads a .glb or a .gltf with everything embedded. `asset` is where the project keeps the file: meshes are shown from
 * there, and without it as boxes.
 */
export async function readGltf(
	bytes: Uint8Array,
	name: string,
	asset: string | null = null,
): Promise<Result<GltfImport>> {
	const parsed = await parse(bytes);
	if (!parsed.ok) return parsed;
	const document = parsed.value;
	const leftOut: string[] = [];
	const ids = new Map<GltfNode, string>();
	const parts = partsOf({ document, asset, ids, leftOut });
	const clips: Record<string, Clip> = {};
	const channels: Record<string, Channel> = {};
	const cues: Record<string, Cue> = {};
	let order: string | null = null;
	for (const [i, animation] of document.getRoot().listAnimations().entries()) {
		const id = `c${i}`;
		order = generateKeyBetween(order, null);
		const extras = animation.getExtras() as Extras;
		const loop = loopOf(extras);
		const clipName = (animation.getName().trim() || `clip ${i + 1}`).slice(0, 120);
		let end = 1;
		for (const { node, path, sampler } of nodeSamplers(document, animation)) {
			const part = ids.get(node);
			if (part === undefined || !Object.hasOwn(PROPERTY_OF, path)) {
				leftOut.push(`${clipName}: ${node.getName()} · ${path}`);
				continue;
			}
			if (sampler.times.length === 0) continue;
			end = Math.max(end, tickOf(sampler.times.at(-1)!));
			const property = PROPERTY_OF[path as keyof typeof PROPERTY_OF];
			const numbers = numbersOf(parts[part]).filter((number) => number.property === property);
			const lists = path === 'rotation' ? eulerKeys(sampler) : numbers.map((_, k) => vectorKeys(sampler, k));
			numbers.forEach(({ component }, k) => {
				const keys = lists[k];
				const constant = keys.every((key) => key.v === keys[0].v && !key.left?.rise && !key.right?.rise);
				if (constant && Math.abs(keys[0].v - restValue(parts[part], property, component)) < 1e-6) return;
				const channel = channelId(id, part, property, component);
				channels[channel] = {
					type: 'channel',
					id: channel,
					clip: id,
					part,
					property,
					component,
					keys: constant ? keys.slice(0, 1) : keys,
					ends: HOLD_ENDS,
					accumulates: (extras.hillock?.accumulates ?? []).some(
						(entry) => entry.part === node.getName() && entry.path === path && entry.component === component,
					),
				};
			});
		}
		clips[id] = {
			type: 'clip',
			id,
			name: clipName,
			order,
			length: Math.max(1, end - (loop.mode === 'once' ? 0 : loop.pause)),
			loop,
			note: '',
		};
		for (const [j, cue] of (extras.hillock?.cues ?? []).entries()) {
			const cueId = `${id}-cue${j}`;
			cues[cueId] = {
				type: 'cue',
				id: cueId,
				clip: id,
				name: cue.name,
				t: tickOf(cue.time),
				payload: cue.payload ?? null,
			};
		}
	}
	const project = {
		type: 'project' as const,
		id: 'imported',
		name: name.slice(0, 120) || 'Imported',
		space: 'world' as const,
		frameRate: FRAME_RATE,
	};
	const doc = { ...emptyDoc(project), parts, clips, channels, cues };
	const checked = validateDocument({ format: 'hillock-project', version: VERSION, ...doc });
	return checked.ok ? { ok: true, value: { doc: checked.value, leftOut } } : checked;
}

/** A glTF file as what comes in: the project keeps it, and shows meshes from it. */
export async function takeGltf({ bytes, name, sha256 }: FileIn): Promise<Result<TakenIn>> {
	const read = await readGltf(bytes, name, sha256);
	if (!read.ok) return read;
	return { ok: true, value: { ...read.value, files: [{ id: sha256, name, content: bytes }] } };
}
