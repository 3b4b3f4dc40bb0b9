/**
 * Reads the nodes and animations of a glTF 2.0 file as a project: nodes become parts, rotations Euler channels that
 * are continuous in angle. What a project cannot hold is listed, never dropped in silence.
 */
import type { Animation, Document, Node as GltfNode } from '@gltf-transform/core';
import { generateNKeysBetween } from 'fractional-indexing';
import { VERSION } from '../../document/migrate';
import { hasProperty, numbersOf, restValue } from '../../document/rest';
import {
	channelId,
	emptyDoc,
	type Channel,
	type Clip,
	type Component,
	type Cue,
	type Doc,
	type Part,
	type Project,
	type Property,
} from '../../document/types';
import type { Key } from '../../curve/types';
import { validateDocument } from '../../document/validate';
import { HOLD_ENDS } from '../../edits/keys';
import { fail, ok, type Result } from '../../result';
import { shortName } from '../../text';
import type { FileIn, TakenIn } from '../format';
import type { Pointed } from './pointer';
import { eulerKeys, problemOf, tickOf, vectorKeys } from './read-keys';
import { withDenseTakes } from '../incoming/recorded';
import { partsOf } from './read-parts';
import { parseGltf } from './parse';
import { extrasOf, type Extras } from './extras';
import { nodeSamplers, pointedSamplers, type NodeSampler, type PointedSampler } from './samplers';

const FRAME_RATE = 30;

export interface GltfImport {
	doc: Doc;
	leftOut: string[];
}

/** What the paths of glTF are called here. */
const PROPERTY_OF = {
	translation: 'translation',
	rotation: 'rotation',
	scale: 'scale',
	weights: 'weight',
} as const satisfies Record<string, Property>;

/** What is known of a file while its animations are read. */
interface Animated {
	document: Document;
	parts: Readonly<Record<string, Part>>;
	ids: ReadonlyMap<GltfNode, string>;
	leftOut: string[];
}

/** A channel of these keys: none where they all are what rests, one key where they are all the same. */
function channelOf(
	clip: string,
	part: Part,
	property: Property,
	component: Component,
	keys: readonly Key[],
	accumulates = false,
): Channel[] {
	const still = keys.every(({ v, left, right }) => v === keys[0].v && !left?.rise && !right?.rise);
	if (still && Math.abs(keys[0].v - restValue(part, property, component)) < 1e-6) return [];
	const id = channelId(clip, part.id, property, component);
	const own = { clip, part: part.id, property, component, keys: keys.slice(0, still ? 1 : keys.length) };
	return [{ type: 'channel', id, ...own, ends: HOLD_ENDS, accumulates }];
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
		const accumulates = extras.accumulates.some(
			(own) => own.part === node.getName() && own.path === path && own.component === component,
		);
		return channelOf(clip, parts[part], property, component, keys, accumulates);
	});
}

const DEGREES = 180 / Math.PI;
/** What a factor of a material has besides its opacity. */
const COLOURS = [0, 1, 2];

/** What a pointer moves: opacity of all parts with the material, fields of view of cameras, whether a node is seen. */
function pointedKeys({ to, sampler }: PointedSampler): { property: Property; keys: Key[] } {
	if ('material' in to) return { property: 'opacity', keys: vectorKeys(sampler, 3) };
	if ('node' in to) return { property: 'visible', keys: vectorKeys(sampler, 0) };
	const values = sampler.values.map((v) => v * DEGREES);
	return { property: 'fieldOfView', keys: vectorKeys({ ...sampler, values }, 0) };
}

/** Whether a node is what a pointer leads to, or has it. */
function isLed(node: GltfNode, to: Pointed): boolean {
	if ('node' in to) return node === to.node;
	if ('camera' in to) return node.getCamera() === to.camera;
	const primitives = node.getMesh()?.listPrimitives() ?? [];
	return primitives.some((primitive) => primitive.getMaterial() === to.material);
}

/** The channels that a pointer's sampler makes. */
function pointedChannels(clip: string, own: PointedSampler, { parts, ids, leftOut }: Animated): Channel[] {
	const { to, sampler } = own;
	const { property, keys } = pointedKeys(own);
	const changes = (k: number) => vectorKeys(sampler, k).some(({ v }, _, all) => v !== all[0].v);
	if ('material' in to && COLOURS.some(changes))
		leftOut.push(`${to.material.getName()} · colour: a model keeps the colours of its file`);
	const users = [...ids].filter(([node]) => isLed(node, to));
	return users.flatMap(([, part]): Channel[] => {
		return hasProperty(parts[part], property) ? channelOf(clip, parts[part], property, 'value', keys) : [];
	});
}

/** A scale of 0 that hides what a switch hides too says nothing more: such keys are left. */
function withoutHiding(own: NodeSampler, switched: ReadonlySet<GltfNode>): NodeSampler {
	const { sampler, node, path } = own;
	if (path !== 'scale' || !switched.has(node) || sampler.interpolation !== 'STEP') return own;
	const seen = Array.from(sampler.times.keys()).filter((i) =>
		sampler.values.subarray(3 * i, 3 * i + 3).some((v) => v !== 0),
	);
	const values = Float32Array.from(seen.flatMap((i) => [...sampler.values.subarray(3 * i, 3 * i + 3)]));
	return { ...own, sampler: { ...sampler, times: Float32Array.from(seen, (i) => sampler.times[i]), values } };
}

/** An animation as a clip with its channels and cues. */
function clipOf(
	animation: Animation,
	{ id, name, order }: Pick<Clip, 'id' | 'name' | 'order'>,
	reading: Animated,
): { clip: Clip; channels: Channel[]; cues: Cue[] } {
	const extras = extrasOf(animation, (what) => reading.leftOut.push(`${name}: ${what}`));
	const { loop } = extras;
	let end = 1;
	const pointed = pointedSamplers(reading.document, animation);
	const switched = new Set(pointed.flatMap(({ to }) => ('node' in to ? [to.node] : [])));
	const channels = nodeSamplers(reading.document, animation).flatMap((own) => {
		const made = channelsOf(id, extras, withoutHiding(own, switched), reading);
		if (made) end = Math.max(end, tickOf(own.sampler.times.at(-1) ?? 0));
		else reading.leftOut.push(`${name}: ${own.node.getName()} · ${own.path}`);
		return made ?? [];
	});
	for (const { sampler } of pointed) end = Math.max(end, tickOf(sampler.times.at(-1) ?? 0));
	// Two materials of a part may fade: its opacity is one.
	const byId = new Map(
		pointed.flatMap((own) => pointedChannels(id, own, reading)).map((channel) => [channel.id, channel]),
	);
	channels.push(...byId.values());
	const length = Math.max(1, end - (loop.mode === 'once' ? 0 : loop.pause));
	const cues = extras.cues.map((cue, i): Cue => ({
		type: 'cue',
		id: `${id}-cue${i}`,
		clip: id,
		...cue,
		t: Math.min(cue.t, length),
	}));
	return { clip: { type: 'clip', id, name, order, length, loop, note: '' }, channels, cues };
}

/** Whether every animation has keys that a clip can have; the first that has not is told. */
function soundSamplers(document: Document, leftOut: string[]): Result<null> {
	for (const [i, animation] of document.getRoot().listAnimations().entries()) {
		const samplers = [...nodeSamplers(document, animation), ...pointedSamplers(document, animation)];
		for (const { sampler } of samplers) {
			const problem = problemOf(sampler);
			if (problem)
				return fail(
					`/animations/${i}`,
					`${shortName(animation.getName(), 60, `Animation ${i}`)}: ${problem}`,
				);
			const equal = sampler.times.filter((t, k) => k > 0 && t === sampler.times[k - 1]).length;
			if (equal > 0)
				leftOut.push(`${animation.getName()}: ${equal} keys at the time of the one before, taken as jumps`);
		}
	}
	return ok(null);
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
	const parsed = await parseGltf(bytes);
	if (!parsed.ok) return parsed;
	const document = parsed.value;
	const leftOut: string[] = [];
	const sound = soundSamplers(document, leftOut);
	if (!sound.ok) return sound;
	const ids = new Map<GltfNode, string>();
	const parts = partsOf({ document, asset, ids, leftOut });
	const animations = document.getRoot().listAnimations();
	const orders = generateNKeysBetween(null, null, animations.length);
	const read = animations.map((animation, i) => {
		const own = shortName(animation.getName(), 120, `clip ${i + 1}`);
		return clipOf(animation, { id: `c${i}`, name: own, order: orders[i] }, { document, parts, ids, leftOut });
	});
	const project: Project = {
		type: 'project',
		id: 'imported',
		name: shortName(name, 120, 'Imported'),
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

/** A glTF file as what comes in: the project keeps it, and shows meshes from it. What is sampled densely is a take too. */
export async function takeGltf({ bytes, name, sha256 }: FileIn): Promise<Result<TakenIn>> {
	const read = await readGltf(bytes, name, sha256);
	if (!read.ok) return read;
	return ok(await withDenseTakes({ ...read.value, files: [{ id: sha256, name, content: bytes }] }));
}
