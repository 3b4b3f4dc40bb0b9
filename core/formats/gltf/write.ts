/** Writes clips of a document as a binary glTF 2.0 file through @gltf-transform/core. */
import {
	Accessor,
	Document,
	WebIO,
	type Animation,
	type Buffer,
	type Camera,
	type Material,
	type Mesh as GltfMesh,
	type Node as GltfNode,
	type Primitive,
} from '@gltf-transform/core';
import { compileClip, type CompiledClip } from '../../clip/compile';
import {
	channelLabel,
	partsInTree,
	type Clip,
	type Cue,
	type Doc,
	type Part,
	type Property,
} from '../../document/types';
import type { Space } from '../../pose/space';
import { meshOf, strokeColour, strokeMeshOf } from '../../drawing/mesh';
import type { Mesh } from '../../drawing/triangles';
import { bake, fit } from '../../fit/fit';
import { measure } from '../../fit/measure';
import { distance } from '../../fit/source';
import { samplerBytes, type Interpolation, type Sampler } from '../../fit/sampler';
import { translationFactors, toMetres, rotationFactors } from '../../pose/space';
import { linearFromSrgb } from '../../../player/maths/colour';
import { parseHex } from '../../pose/hex';
import { fromEuler } from '../../../player/maths/quaternion';
import { ticksToSeconds } from '../../../player/time';
import { exactSampler, PATHS, pathSource, type PathName, type PathSource } from './path';

/** How far a path may be off. A path's own bound, in the project's units, goes before the relative one. */
export interface Bounds {
	/** Fraction of each path's range over the clip; for rotations of 180°. */
	relative: number;
	/** Units of the project (metres, pixels). */
	translation?: number;
	/** Degrees. */
	rotation?: number;
	scale?: number;
}

export const DEFAULT_BOUNDS: Bounds = { relative: 0.001 };

export interface PathReport {
	part: string;
	path: PathName;
	encoding: Interpolation;
	/** Whether the keys are the motion itself, not a fit. */
	exact: boolean;
	/** Whether the error holds everywhere; of a formula it is the largest of very many places. */
	guaranteed: boolean;
	keys: number;
	bytes: number;
	/** What the same path costs as 60 Hz LINEAR keys. */
	bakedBytes: number;
	/** In the project's units; degrees for rotations. */
	bound: number;
	error: number;
	/** Seconds. */
	errorAt: number;
}

export interface ClipReport {
	clip: string;
	name: string;
	seconds: number;
	paths: PathReport[];
	/** What glTF's core cannot carry, in words. */
	leftOut: string[];
}

export interface GltfExport {
	bytes: Uint8Array;
	clips: ClipReport[];
	/** Parts that the file draws plainer than they are, in words. */
	plainer: string[];
}

/** Names made unique by a number, since readers find nodes by name. */
function uniqueNames(items: readonly { id: string; name: string }[]): Map<string, string> {
	const used = new Set<string>();
	const names = new Map<string, string>();
	for (const { id, name } of items) {
		let unique = name;
		for (let n = 2; used.has(unique); n++) unique = `${name} ${n}`;
		used.add(unique);
		names.set(id, unique);
	}
	return names;
}

/** The bound of a path in glTF's units, and the factor that takes errors back to the project's. */
export function boundOf(
	path: PathSource,
	space: Space,
	bounds: Bounds,
): { bound: number; toProject: number } {
	const unit = path.path === 'translation' ? Math.abs(translationFactors(space)[0]) : 1;
	const own = bounds[path.path];
	const wanted = own === undefined ? bounds.relative * path.range : own * unit;
	// Below a few steps of float32 no file can be.
	const floor = path.path === 'rotation' ? 4e-5 : 4 * path.largest * 2 ** -23;
	return { bound: Math.max(wanted, floor, 1e-12), toProject: 1 / unit };
}

function colourFactor(colour: string, opacity: number): [number, number, number, number] {
	const [r, g, b] = parseHex(colour).map(linearFromSrgb);
	return [r, g, b, opacity];
}

/** Metres: what comes nearer than this, glTF's readers may leave out. */
const CAMERA_NEAR = 0.01;

/** A mesh in metres with y up; where an axis is mirrored, faces keep their outside. */
function meshInMetres(mesh: Mesh, space: Space): Mesh {
	if (space === 'world') return mesh;
	const factors = translationFactors(space);
	const positions = mesh.positions.map((v, i) => v * factors[i % 3]);
	const normals = mesh.normals.map((v, i) => (i % 3 === 1 ? -v : v));
	const indices = mesh.indices.slice();
	for (let i = 0; i < indices.length; i += 3)
		[indices[i + 1], indices[i + 2]] = [indices[i + 2], indices[i + 1]];
	return { ...mesh, positions, normals, indices };
}

class Writer {
	readonly document = new Document();
	readonly buffer: Buffer;
	readonly nodes = new Map<string, GltfNode>();
	private readonly materials = new Map<string, Material>();
	private readonly inputs = new Map<string, Accessor>();

	constructor(
		private readonly doc: Doc,
		private readonly nodeNames: ReadonlyMap<string, string>,
	) {
		this.buffer = this.document.createBuffer();
		this.document.getRoot().getAsset().generator = 'Hillock';
	}

	scene(withDrawings: boolean): void {
		const { space, name } = this.doc.project;
		const scene = this.document.createScene(name);
		this.document.getRoot().setDefaultScene(scene);
		const factors = rotationFactors(space);
		const hidden = new Set<string>();
		for (const { part } of partsInTree(this.doc)) {
			const euler = part.rest.rotation.map((angle, i) => angle * factors[i]);
			const node = this.document
				.createNode(this.nodeNames.get(part.id))
				.setTranslation(toMetres(space, part.rest.translation))
				.setRotation(fromEuler(euler, part.eulerOrder))
				.setScale(part.rest.scale);
			this.nodes.set(part.id, node);
			if (part.parent === null) scene.addChild(node);
			else this.nodes.get(part.parent)!.addChild(node);
			if (!part.visible || (part.parent !== null && hidden.has(part.parent))) hidden.add(part.id);
			if (part.drawing.kind === 'camera') node.setCamera(this.camera(part, part.drawing.fieldOfView));
			if (withDrawings && !hidden.has(part.id)) node.setMesh(this.mesh(part, space));
		}
	}

	private camera(part: Part, degrees: number): Camera {
		return this.document
			.createCamera(this.nodeNames.get(part.id))
			.setType('perspective')
			.setYFov((degrees * Math.PI) / 180)
			.setZNear(CAMERA_NEAR);
	}

	/** What a part looks like: its body and the line about it. */
	private mesh({ drawing, colour, rest, id }: Part, space: Space): GltfMesh | null {
		const body = meshOf(drawing, space);
		const stroke = strokeMeshOf(drawing, space);
		if (!body && !stroke) return null;
		const mesh = this.document.createMesh(this.nodeNames.get(id));
		const add = (surface: Mesh, hex: string) =>
			mesh.addPrimitive(
				this.primitive(meshInMetres(surface, space)).setMaterial(this.material(hex, rest.opacity)),
			);
		if (body) add(body, colour);
		if (stroke) add(stroke, strokeColour({ drawing, colour }));
		return mesh;
	}

	private primitive({ positions, normals, indices, shades }: Mesh): Primitive {
		const vectors = (array: Float32Array) =>
			this.document
				.createAccessor()
				.setType('VEC3')
				.setArray(array as Float32Array<ArrayBuffer>)
				.setBuffer(this.buffer);
		const small = positions.length / 3 < 65_535;
		const primitive = this.document
			.createPrimitive()
			.setAttribute('POSITION', vectors(positions))
			.setAttribute('NORMAL', vectors(normals))
			.setIndices(
				this.document
					.createAccessor()
					.setType('SCALAR')
					.setArray(small ? Uint16Array.from(indices) : (indices as Uint32Array<ArrayBuffer>))
					.setBuffer(this.buffer),
			);
		if (shades)
			primitive.setAttribute(
				'COLOR_0',
				vectors(Float32Array.from(positions, (_, i) => shades[Math.floor(i / 3)])),
			);
		return primitive;
	}

	private material(colour: string, opacity: number): Material {
		const key = `${colour}/${opacity}`;
		const known = this.materials.get(key);
		if (known) return known;
		const material = this.document
			.createMaterial(colour)
			.setBaseColorFactor(colourFactor(colour, opacity))
			.setMetallicFactor(0)
			.setRoughnessFactor(0.9)
			.setDoubleSided(true);
		if (opacity < 1) material.setAlphaMode('BLEND');
		this.materials.set(key, material);
		return material;
	}

	/** Key times, shared between samplers that have the same. */
	private input(times: Float32Array): Accessor {
		const key = Array.from(times).join(' ');
		const known = this.inputs.get(key);
		if (known) return known;
		const accessor = this.document
			.createAccessor()
			.setType('SCALAR')
			.setArray(times as Float32Array<ArrayBuffer>)
			.setBuffer(this.buffer);
		this.inputs.set(key, accessor);
		return accessor;
	}

	addPath(animation: Animation, part: string, path: PathName, sampler: Sampler): void {
		const output = this.document
			.createAccessor()
			.setType(path === 'rotation' ? 'VEC4' : 'VEC3')
			.setArray(sampler.values as Float32Array<ArrayBuffer>)
			.setBuffer(this.buffer);
		const gltfSampler = this.document
			.createAnimationSampler()
			.setInterpolation(sampler.interpolation)
			.setInput(this.input(sampler.times))
			.setOutput(output);
		const channel = this.document
			.createAnimationChannel()
			.setTargetNode(this.nodes.get(part)!)
			.setTargetPath(path)
			.setSampler(gltfSampler);
		animation.addSampler(gltfSampler).addChannel(channel);
	}
}

/** Degrees, and shares of the largest value, within which a loop closes: what is left is rounding. */
const CLOSED_TURN = 1e-6;
const CLOSED_SHARE = 1e-9;

/** Of a source whose end is its start but for rounding, the last value becomes the first one, bit by bit. */
function closed(sampler: Sampler, { source, largest }: PathSource): Sampler {
	const { size, interpolation, times, values } = sampler;
	const [first, last] = [new Float64Array(size), new Float64Array(size)];
	source.evaluate(source.start, first);
	source.evaluate(source.end, last);
	const room = size === 4 ? CLOSED_TURN : CLOSED_SHARE * largest;
	if (times.length < 2 || !(distance(source, first, last) <= room)) return sampler;
	const cubic = interpolation === 'CUBICSPLINE';
	const from = cubic ? size : 0;
	const to = (times.length - 1) * (cubic ? 3 : 1) * size + from;
	let dot = 0;
	for (let k = 0; k < size; k++) dot += values[from + k] * values[to + k];
	// q and −q turn alike: the last one stays on the side of its neighbour.
	const sign = size === 4 && dot < 0 ? -1 : 1;
	const next = values.slice();
	for (let k = 0; k < size; k++) next[to + k] = sign * values[from + k] || 0;
	return { ...sampler, values: next };
}

/** A constant path that spans the clip, since glTF knows no other length than that of its keys. */
function spanning(sampler: Sampler, end: number): Sampler {
	return {
		interpolation: 'STEP',
		size: sampler.size,
		times: Float32Array.of(0, end),
		values: Float32Array.of(...sampler.values, ...sampler.values),
	};
}

/** A key at the end of a pause after the clip, the last value held. */
function withPause(sampler: Sampler, end: number): Sampler {
	const { interpolation, size } = sampler;
	const stride = interpolation === 'CUBICSPLINE' ? 3 * size : size;
	const last = sampler.values.slice(-stride);
	if (interpolation === 'CUBICSPLINE') last.fill(0, 0, size).fill(0, 2 * size);
	const values = Float32Array.of(...sampler.values, ...last);
	if (interpolation === 'CUBICSPLINE') values.fill(0, values.length - stride - size, values.length - stride);
	return { interpolation, size, times: Float32Array.of(...sampler.times, end), values };
}

function extrasOf(doc: Doc, clip: Clip, nodeNames: ReadonlyMap<string, string>): Record<string, unknown> {
	const cues = Object.values(doc.cues)
		.filter((cue: Cue) => cue.clip === clip.id)
		.sort((a, b) => a.t - b.t || (a.id < b.id ? -1 : 1))
		.map(({ name, t, payload }) => ({ name, time: ticksToSeconds(t), payload }));
	const accumulates = Object.values(doc.channels)
		.filter((channel) => channel.clip === clip.id && channel.accumulates)
		.map(({ part, property, component }) => ({ part: nodeNames.get(part), path: property, component }))
		.sort((a, b) => (JSON.stringify(a) < JSON.stringify(b) ? -1 : 1));
	const { mode, count, pause } = clip.loop;
	return { hillock: { loop: { mode, count, pause: ticksToSeconds(pause) }, accumulates, cues } };
}

/** glTF's core animates what moves a node; morph weights need their mesh, which is not in the file. */
const IN_CORE: readonly Property[] = ['translation', 'rotation', 'orientation', 'scale'];

function notCarried(doc: Doc, { channels, vectors, formulas }: CompiledClip): string[] {
	const moved = [...channels, ...vectors].map(({ channel }) => channel);
	return [...moved, ...formulas.order.map(({ formula }) => formula)]
		.filter(({ property }) => !IN_CORE.includes(property))
		.map(({ part, property, component }) =>
			property === 'weight'
				? `${doc.parts[part].name} / ${channelLabel(property, component)}: its model is not in the file`
				: `${doc.parts[part].name} / ${channelLabel(property, component)}: glTF's core animates no such thing`,
		);
}

/** What of the parts themselves a file of plain meshes does not have. */
function plainerParts(tree: readonly Part[]): string[] {
	return tree.flatMap(({ name, drawing }) => {
		if (drawing.kind === 'model') return [`${name}: its model is a box of the same size`];
		return drawing.kind === 'image' || drawing.kind === 'label'
			? [`${name}: its ${drawing.kind} is a plain card`]
			: [];
	});
}

/** The sampler of a path within its bound: exact where the motion allows, else the smallest fit. */
function encode(
	path: PathSource,
	bound: number,
): { sampler: Sampler; exact: boolean; error: number; errorAt: number } {
	const own = exactSampler(path);
	const exact = own && closed(own, path);
	if (exact) {
		const measured = measure(path.source, exact, bound);
		if (measured.error <= bound) return { sampler: exact, exact: true, ...measured };
	}
	const fitted = fit(path.source, bound);
	return { ...fitted, sampler: closed(fitted.sampler, path), exact: false };
}

export interface WriteOptions {
	bounds?: Bounds;
	/** Leave the parts' drawings out: nodes and curves only. */
	curvesOnly?: boolean;
}

/**
 * Writes the given clips, one animation each, and the parts as nodes. The same input gives the same bytes.
 * Throws a RangeError when a bound cannot be kept.
 */
export async function writeGltf(
	doc: Doc,
	clips: readonly Clip[],
	options: WriteOptions = {},
): Promise<GltfExport> {
	const bounds = options.bounds ?? DEFAULT_BOUNDS;
	const { space } = doc.project;
	const tree = partsInTree(doc).map((entry) => entry.part);
	const nodeNames = uniqueNames(tree);
	const clipNames = uniqueNames(clips);
	const writer = new Writer(doc, nodeNames);
	writer.scene(!options.curvesOnly);
	const reports: ClipReport[] = [];
	for (const clip of clips) {
		const compiled = compileClip(doc, clip);
		const seconds = Math.fround(ticksToSeconds(clip.length));
		const encoded = tree.flatMap((part) =>
			PATHS.flatMap((name) => {
				const path = pathSource(doc, compiled, part, name);
				if (!path) return [];
				const { bound, toProject } = boundOf(path, space, bounds);
				return [{ path, bound, toProject, ...encode(path, bound) }];
			}),
		);
		const leftOut = notCarried(doc, compiled);
		if (encoded.length === 0) {
			reports.push({ clip: clip.id, name: clip.name, seconds, paths: [], leftOut });
			continue;
		}
		const animation = writer.document.createAnimation(clipNames.get(clip.id));
		animation.setExtras(extrasOf(doc, clip, nodeNames));
		const reaches = encoded.some(({ sampler }) => sampler.times.at(-1) === seconds);
		encoded.forEach((entry, i) => {
			if (!reaches && i === 0) entry.sampler = spanning(entry.sampler, seconds);
			if (clip.loop.pause > 0 && clip.loop.mode !== 'once' && entry.sampler.times.length > 1) {
				entry.sampler = withPause(entry.sampler, Math.fround(ticksToSeconds(clip.length + clip.loop.pause)));
			}
			writer.addPath(animation, entry.path.part.id, entry.path.path, entry.sampler);
		});
		reports.push({
			clip: clip.id,
			name: clip.name,
			seconds,
			leftOut,
			paths: encoded.map(({ path, bound, toProject, sampler, exact, error, errorAt }) => ({
				part: nodeNames.get(path.part.id)!,
				path: path.path,
				encoding: sampler.interpolation,
				exact,
				guaranteed: path.guaranteed,
				keys: sampler.times.length,
				bytes: samplerBytes(sampler),
				bakedBytes: samplerBytes(bake(path.source, 60)),
				bound: bound * toProject,
				error: error * toProject,
				errorAt,
			})),
		});
	}
	return {
		bytes: await new WebIO().writeBinary(writer.document),
		clips: reports,
		plainer: options.curvesOnly ? [] : plainerParts(tree),
	};
}
