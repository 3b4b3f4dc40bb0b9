/**
 * Whether the JSON of a glTF file says what it may say, before anything of it is believed: what refers to something finds
 * it, counts are no larger than the file, nodes hang on one another as a tree.
 */
import { fail, ok, type Result } from '../../result';

type Entry = Record<string, unknown>;
const isEntry = (value: unknown): value is Entry =>
	typeof value === 'object' && value !== null && !Array.isArray(value);
const isIndex = (value: unknown, count: number): boolean =>
	Number.isInteger(value) && (value as number) >= 0 && (value as number) < count;

/** A value as a person reads it. */
function told(value: unknown): string {
	const text = JSON.stringify(value) ?? 'nothing';
	return text.length > 20 ? `${text.slice(0, 20)}…` : text;
}

/** Members that are lists of objects. */
const LISTS = [
	'accessors',
	'animations',
	'buffers',
	'bufferViews',
	'cameras',
	'images',
	'materials',
	'meshes',
	'nodes',
	'samplers',
	'scenes',
	'skins',
	'textures',
];
/** Numbers that the accessors of a file may have in all, those that stand nowhere included. */
const MOST_NUMBERS = 64_000_000;
const DEEPEST = 1000;
const SIZES: Readonly<Record<string, number>> = {
	SCALAR: 1,
	VEC2: 2,
	VEC3: 3,
	VEC4: 4,
	MAT2: 4,
	MAT3: 9,
	MAT4: 16,
};

type Lists = Record<string, Entry[]>;

function listsOf(json: Entry): Result<Lists> {
	const lists: Lists = {};
	for (const name of LISTS) {
		const own = json[name] ?? [];
		if (!Array.isArray(own) || !own.every(isEntry))
			return fail(`/${name}`, `“${name}” must be a list of objects.`);
		lists[name] = own;
		const bad = own.findIndex((entry) => entry.name !== undefined && typeof entry.name !== 'string');
		if (bad >= 0) return fail(`/${name}/${bad}/name`, 'A name must be a text.');
	}
	return ok(lists);
}

function accessors({ accessors: all, bufferViews }: Lists): Result<null> {
	let numbers = 0;
	for (const [i, { count, type, bufferView, sparse }] of all.entries()) {
		const at = `/accessors/${i}`;
		if (!Number.isInteger(count) || (count as number) < 1)
			return fail(`${at}/count`, 'A count must be a whole number above 0.');
		const size = SIZES[type as string];
		if (size === undefined) return fail(`${at}/type`, `There is no type ${told(type)}.`);
		numbers += (count as number) * size;
		if (numbers > MOST_NUMBERS)
			return fail(`${at}/count`, `The file says that it has more than ${MOST_NUMBERS} numbers.`);
		if (bufferView !== undefined && !isIndex(bufferView, bufferViews.length))
			return fail(`${at}/bufferView`, 'There is no such buffer view.');
		if (
			sparse !== undefined &&
			(!isEntry(sparse) || !Number.isInteger(sparse.count) || (sparse.count as number) > (count as number))
		)
			return fail(`${at}/sparse`, 'A sparse accessor changes no more than it has.');
	}
	return ok(null);
}

/** Every node hangs on one at most, and none on itself however far around. */
function nodes({ nodes: all, scenes, meshes, cameras }: Lists): Result<null> {
	const parents = new Int32Array(all.length).fill(-1);
	for (const [i, { children = [], mesh, camera, extras }] of all.entries()) {
		const at = `/nodes/${i}`;
		if (!Array.isArray(children)) return fail(`${at}/children`, '“children” must be a list.');
		for (const child of children) {
			if (!isIndex(child, all.length)) return fail(`${at}/children`, `There is no node ${told(child)}.`);
			if (parents[child as number] >= 0)
				return fail(`${at}/children`, `Node ${String(child)} hangs on two nodes.`);
			parents[child as number] = i;
		}
		if (mesh !== undefined && !isIndex(mesh, meshes.length))
			return fail(`${at}/mesh`, 'There is no such mesh.');
		if (camera !== undefined && !isIndex(camera, cameras.length))
			return fail(`${at}/camera`, 'There is no such camera.');
		if (extras !== undefined && !isEntry(extras)) return fail(`${at}/extras`, '“extras” must be an object.');
	}
	const depths = new Int32Array(all.length);
	for (let i = 0; i < all.length; i++) {
		let depth = 0;
		for (let at = i; parents[at] >= 0; at = parents[at]) {
			// What is known already need not be walked again.
			if (depths[at] > 0) {
				depth += depths[at];
				break;
			}
			if (++depth > DEEPEST)
				return fail(`/nodes/${i}`, `Nodes hang on one another in a ring, or more than ${DEEPEST} deep.`);
		}
		if (depth > DEEPEST) return fail(`/nodes/${i}`, `Nodes hang on one another more than ${DEEPEST} deep.`);
		depths[i] = depth;
	}
	const lost = scenes.findIndex(
		({ nodes: own = [] }) => !Array.isArray(own) || !own.every((node) => isIndex(node, all.length)),
	);
	return lost < 0 ? ok(null) : fail(`/scenes/${lost}/nodes`, 'A scene has a node that is none.');
}

function animations({ animations: all, accessors: numbers, nodes: targets }: Lists): Result<null> {
	for (const [i, { samplers, channels, extras }] of all.entries()) {
		const at = `/animations/${i}`;
		if (!Array.isArray(samplers) || !samplers.every(isEntry))
			return fail(`${at}/samplers`, 'An animation has a list of samplers.');
		if (!Array.isArray(channels) || !channels.every(isEntry))
			return fail(`${at}/channels`, 'An animation has a list of channels.');
		for (const [k, { input, output, interpolation }] of samplers.entries()) {
			if (!isIndex(input, numbers.length) || !isIndex(output, numbers.length))
				return fail(`${at}/samplers/${k}`, 'A sampler has an input and an output.');
			if (![undefined, 'LINEAR', 'STEP', 'CUBICSPLINE'].includes(interpolation as string))
				return fail(`${at}/samplers/${k}/interpolation`, `There is no interpolation ${told(interpolation)}.`);
		}
		for (const [k, { sampler, target }] of channels.entries()) {
			if (!isIndex(sampler, samplers.length))
				return fail(`${at}/channels/${k}/sampler`, 'There is no such sampler.');
			if (!isEntry(target)) return fail(`${at}/channels/${k}/target`, 'A channel has a target.');
			if (target.node !== undefined && !isIndex(target.node, targets.length))
				return fail(`${at}/channels/${k}/target/node`, 'There is no such node.');
		}
		if (extras !== undefined && !isEntry(extras)) return fail(`${at}/extras`, '“extras” must be an object.');
	}
	return ok(null);
}

/** Null where the file is sound; else the first that is not, by its place. */
export function soundness(json: unknown): Result<null> {
	if (!isEntry(json) || !isEntry(json.asset))
		return fail('/asset', 'This is no glTF file: it has no “asset”.');
	const { version } = json.asset;
	if (typeof version !== 'string' || !/^2\./.test(version))
		return fail('/asset/version', `Its version is ${told(version)}: glTF 2.0 is known.`);
	const lists = listsOf(json);
	if (!lists.ok) return lists;
	for (const look of [accessors, nodes, animations]) {
		const found = look(lists.value);
		if (!found.ok) return found;
	}
	return ok(null);
}
