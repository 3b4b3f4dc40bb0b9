/**
 * Reads the nodes and animations of a glTF 2.0 file as a project: nodes become parts, rotations Euler channels that
 * are continuous in angle. What a project cannot hold is listed, never dropped in silence.
 */
import { BufferUtils, type Animation, type Document, type Node as GltfNode } from '@gltf-transform/core';
import { generateNKeysBetween } from 'fractional-indexing';
import type { Loop } from '../../../player/loop';
import { VERSION } from '../../document/migrate';
import { hasProperty, numbersOf, restValue } from '../../document/rest';
import {
	channelId,
	emptyDoc,
	type Channel,
	type Clip,
	type Cue,
	type Doc,
	type Part,
	type Project,
	type Property,
} from '../../document/types';
import { validateDocument } from '../../document/validate';
import { HOLD_ENDS } from '../../edits/keys';
import { parseJson } from '../../json';
import { fail, type Result } from '../../result';
import type { FileIn, TakenIn } from '../format';
import { eulerKeys, tickOf, vectorKeys } from './read-keys';
import { partsOf } from './read-parts';
import { newIO } from './io';
import { nodeSamplers, pointedSamplers, type NodeSampler, type PointedSampler } from './samplers';

const FRAME_RATE = 30;

export interface GltfImport {
	doc: Doc;
	leftOut: string[];
}

async function parse(bytes: Uint8Array): Promise<Result<Document>> {
	const io = newIO();
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

/** What is known of a file while its animations are read. */
interface Animated {
	document: Document;
	parts: Readonly<Record<string, Part>>;
	ids: ReadonlyMap<GltfNode, string>;
	leftOut: string[];
}

/** The channels that one sampler of an animation makes; null where its target is none here. */
function channelsOf(
	clip: string,
	extras: Extras,
	{ node, path, sampler }: NodeSampler,
	{ parts, ids }: Animated,
): Channel[] | null {
	const part = ids.get(node);
	if (part === undefined || !Object.hasOwn(PROPERTY_OF, path)) return null;
	if (sampler.times.length === 0) return [];
	const property = PROPERTY_OF[path as keyof typeof PROPERTY_OF];
	const numbers = numbersOf(parts[part]).filter((number) => number.property === property);
	const lists = path === 'rotation' ? eulerKeys(sampler) : numbers.map((_, k) => vectorKeys(sampler, k));
	return numbers.flatMap(({ component }, k) => {
		const keys = lists[k];
		const constant = keys.every((key) => key.v === keys[0].v && !key.left?.rise && !key.right?.rise);
		if (constant && Math.abs(keys[0].v - restValue(parts[part], property, component)) < 1e-6) return [];
		const accumulates = (extras.hillock?.accumulates ?? []).some(
			(own) => own.part === node.getName() && own.path === path && own.component === component,
		);
		return [
			{
				type: 'channel' as const,
				id: channelId(clip, part, property, component),
				clip,
				part,
				property,
				component,
				keys: constant ? keys.slice(0, 1) : keys,
				ends: HOLD_ENDS,
				accumulates,
			},
		];
	});
}

const DEGREES = 180 / Math.PI;
/** What a factor of a material has besides its opacity. */
const COLOURS = [0, 1, 2];

/** The channels that a pointer's sampler makes: opacity of all parts with the material, fields of view of cameras. */
function pointedChannels(
	clip: string,
	{ to, sampler }: PointedSampler,
	{ parts, ids, leftOut }: Animated,
): Channel[] {
	const users = [...ids].filter(([node]) =>
		'material' in to
			? node
					.getMesh()
					?.listPrimitives()
					.some((primitive) => primitive.getMaterial() === to.material)
			: node.getCamera() === to.camera,
	);
	const isMaterial = 'material' in to;
	const property = isMaterial ? 'opacity' : 'fieldOfView';
	const values = isMaterial ? sampler.values : sampler.values.map((v) => v * DEGREES);
	const keys = vectorKeys({ ...sampler, values }, isMaterial ? 3 : 0);
	const changes = (k: number) => vectorKeys(sampler, k).some(({ v }, _, all) => v !== all[0].v);
	if (isMaterial && COLOURS.some(changes))
		leftOut.push(`${to.material.getName()} · colour: a model keeps the colours of its file`);
	return users.flatMap(([, part]): Channel[] => {
		const still = keys.every(({ v, left, right }) => v === keys[0].v && !left?.rise && !right?.rise);
		if (!hasProperty(parts[part], property)) return [];
		if (still && Math.abs(keys[0].v - restValue(parts[part], property, 'value')) < 1e-6) return [];
		return [
			{
				type: 'channel',
				id: channelId(clip, part, property, 'value'),
				clip,
				part,
				property,
				component: 'value',
				keys: still ? keys.slice(0, 1) : keys,
				ends: HOLD_ENDS,
				accumulates: false,
			},
		];
	});
}

/** An animation as a clip with its channels and cues. */
function clipOf(
	animation: Animation,
	{ id, name, order }: Pick<Clip, 'id' | 'name' | 'order'>,
	reading: Animated,
): { clip: Clip; channels: Channel[]; cues: Cue[] } {
	const extras = animation.getExtras() as Extras;
	const loop = loopOf(extras);
	let end = 1;
	const channels = nodeSamplers(reading.document, animation).flatMap((own) => {
		const made = channelsOf(id, extras, own, reading);
		if (made) end = Math.max(end, tickOf(own.sampler.times.at(-1) ?? 0));
		else reading.leftOut.push(`${name}: ${own.node.getName()} · ${own.path}`);
		return made ?? [];
	});
	const pointed = pointedSamplers(reading.document, animation);
	for (const { sampler } of pointed) end = Math.max(end, tickOf(sampler.times.at(-1) ?? 0));
	// Two materials of a part may fade: its opacity is one.
	const byId = new Map(
		pointed.flatMap((own) => pointedChannels(id, own, reading)).map((channel) => [channel.id, channel]),
	);
	channels.push(...byId.values());
	const length = Math.max(1, end - (loop.mode === 'once' ? 0 : loop.pause));
	const cues = (extras.hillock?.cues ?? []).map((cue, i): Cue => ({
		type: 'cue',
		id: `${id}-cue${i}`,
		clip: id,
		name: cue.name,
		t: tickOf(cue.time),
		payload: cue.payload ?? null,
	}));
	return { clip: { type: 'clip', id, name, order, length, loop, note: '' }, channels, cues };
}

const byId = <E extends { id: string }>(entities: readonly E[]): Record<string, E> =>
	Object.fromEntries(entities.map((entity) => [entity.id, entity]));

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
	const animations = document.getRoot().listAnimations();
	const orders = generateNKeysBetween(null, null, animations.length);
	const read = animations.map((animation, i) => {
		const own = (animation.getName().trim() || `clip ${i + 1}`).slice(0, 120);
		return clipOf(animation, { id: `c${i}`, name: own, order: orders[i] }, { document, parts, ids, leftOut });
	});
	const project: Project = {
		type: 'project',
		id: 'imported',
		name: name.slice(0, 120) || 'Imported',
		space: 'world',
		frameRate: FRAME_RATE,
	};
	const doc: Doc = {
		...emptyDoc(project),
		parts,
		clips: byId(read.map(({ clip }) => clip)),
		channels: byId(read.flatMap(({ channels }) => channels)),
		cues: byId(read.flatMap(({ cues }) => cues)),
	};
	const checked = validateDocument({ format: 'hillock-project', version: VERSION, ...doc });
	return checked.ok ? { ok: true, value: { doc: checked.value, leftOut } } : checked;
}

/** A glTF file as what comes in: the project keeps it, and shows meshes from it. */
export async function takeGltf({ bytes, name, sha256 }: FileIn): Promise<Result<TakenIn>> {
	const read = await readGltf(bytes, name, sha256);
	if (!read.ok) return read;
	return { ok: true, value: { ...read.value, files: [{ id: sha256, name, content: bytes }] } };
}
