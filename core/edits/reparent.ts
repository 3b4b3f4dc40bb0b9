/** Hanging a part on another parent while it stays where it is in the world. */
import { compileClip, poseAt } from '../clip/compile';
import { orientationIn, rotationIn, vectorIn } from '../clip/layout';
import { scaleKey } from '../curve/edit';
import type { Key } from '../curve/types';
import { decompose, invertMatrix, multiplyMatrices, type Matrix, type Transform } from '../pose/matrix';
import { worldMatrix } from '../clip/path';
import { closestEuler, conjugate, multiply, toEuler } from '../../player/maths/quaternion';
import { fail, ok, type Result } from '../result';
import { keysWithin, sourceOfSamples } from '../fit/to-keys';
import { frameToTicks } from '../time';
import { makeChannel } from './keys';
import { withDescendants } from './parts';
import {
	AXES,
	channelId,
	isVectorChannel,
	type Channel,
	type Clip,
	type Doc,
	type Part,
} from '../document/types';
import type { Vec3 } from '../../player/maths/vector';

interface Place {
	clip: Clip;
	/** Ticks within a round at which the world pose is kept. */
	local: number;
}

const PROPERTIES = ['translation', 'rotation', 'scale'] as const;

/** World pose of a part and of its parent to be at a time of a clip. */
function matricesAt(doc: Doc, id: string, parent: string | null, { clip, local }: Place) {
	const compiled = compileClip(doc, clip);
	const posed = { layout: compiled.layout, pose: poseAt(compiled, local) };
	const part = doc.parts[id];
	return {
		world: worldMatrix(compiled, id, posed)!,
		parent: parent === null ? null : worldMatrix(compiled, parent, posed),
		own: {
			translation: vectorIn(posed, part, 'translation'),
			rotation: rotationIn(posed, part),
			scale: vectorIn(posed, part, 'scale'),
			orientation: orientationIn(posed, part),
		},
	};
}

function localTo(world: Matrix, parent: Matrix | null): Result<Transform> {
	const inverse = parent ? invertMatrix(parent) : null;
	if (parent && !inverse) return fail('', 'The new parent is flattened to nothing here.');
	const transform = decompose(inverse ? multiplyMatrices(inverse, world) : world);
	return transform
		? ok(transform)
		: fail('', 'The part would be sheared: its new parent is scaled unevenly and turned against it.');
}

/** Rotation in degrees nearest to what the part has now. */
function eulerOf(part: Part, { rotation }: Transform, previous: ArrayLike<number>): Vec3 {
	return closestEuler(toEuler(rotation, part.eulerOrder), previous, part.eulerOrder);
}

/**
 * Hangs a part on another parent (null: on nothing) so that its world pose at one time of a clip stays as it is: what
 * has keys there is shifted as a whole, the rest pose takes up the other components.
 */
export function reparent(doc: Doc, id: string, parent: string | null, place: Place): Result<Doc> {
	const part = doc.parts[id];
	if (parent !== null && withDescendants(doc, id).has(parent))
		return fail('', `"${part.name}" cannot hang on something that hangs on it.`);
	const { world, parent: above, own } = matricesAt(doc, id, parent, place);
	const local = localTo(world, above);
	if (!local.ok) return local;
	const wanted = { ...local.value, rotation: eulerOf(part, local.value, own.rotation) };
	const rest = { ...part.rest };
	const channels = { ...doc.channels };
	PROPERTIES.forEach((property) => {
		const vector = [...rest[property]] as Vec3;
		AXES.forEach((axis, k) => {
			const channel = doc.channels[channelId(place.clip.id, id, property, axis)];
			const [is, should] = [own[property][k], wanted[property][k]];
			if (!channel) vector[k] = should;
			else if (property === 'scale' && is !== 0) channels[channel.id] = scaled(channel, should / is);
			else channels[channel.id] = shifted(channel, should - is);
		});
		rest[property] = vector;
	});
	const turning = doc.channels[channelId(place.clip.id, id, 'orientation', 'value')];
	if (turning && isVectorChannel(turning)) {
		const change = multiply(local.value.rotation, conjugate(own.orientation));
		channels[turning.id] = {
			...turning,
			keys: turning.keys.map((key) => ({ ...key, vector: multiply(change, key.vector) })),
		};
	}
	return ok({ ...doc, channels, parts: { ...doc.parts, [id]: { ...part, parent, rest } } });
}

function shifted(channel: Channel, change: number): Channel {
	if (Math.abs(change) < 1e-12) return channel;
	return { ...channel, keys: channel.keys.map((key) => ({ ...key, v: key.v + change })) };
}

function scaled(channel: Channel, factor: number): Channel {
	if (Math.abs(factor - 1) < 1e-12) return channel;
	return { ...channel, keys: channel.keys.map((key) => scaleKey(key, 0, factor)) };
}

/** Samples a frame, so that the turns between frames are seen. */
const PER_FRAME = 2;
/** How far baked keys may leave the motion, as a share of its range. */
const BAKED = 0.001;

/**
 * The same over a whole clip: translation, rotation and scale become keys that keep the world pose within a thousandth
 * of their range. The rest pose is that at `place`.
 */
export function reparentBaked(doc: Doc, id: string, parent: string | null, place: Place): Result<Doc> {
	const placed = reparent(doc, id, parent, place);
	if (!placed.ok) return placed;
	const { clip } = place;
	const part = doc.parts[id];
	const step = frameToTicks(1, doc.project.frameRate) / PER_FRAME;
	const times: number[] = [];
	for (let t = 0; t < clip.length; t += step) times.push(Math.round(t));
	times.push(clip.length);
	const compiled = compileClip(doc, clip);
	const rows: number[][] = [];
	let previous: ArrayLike<number> = part.rest.rotation;
	for (const t of times) {
		const posed = { layout: compiled.layout, pose: poseAt(compiled, t) };
		const above = parent === null ? null : worldMatrix(compiled, parent, posed);
		const local = localTo(worldMatrix(compiled, id, posed)!, above);
		if (!local.ok) return local;
		const rotation = eulerOf(part, local.value, previous);
		previous = rotation;
		rows.push([...local.value.translation, ...rotation, ...local.value.scale]);
	}
	const channels = { ...placed.value.channels };
	delete channels[channelId(clip.id, id, 'orientation', 'value')];
	PROPERTIES.forEach((property, p) =>
		AXES.forEach((component, k) => {
			const address = channelId(clip.id, id, property, component);
			const values = Float64Array.from(rows, (row) => row[3 * p + k]);
			const range = Math.max(...values) - Math.min(...values);
			delete channels[address];
			const still = range < 1e-9 && Math.abs(values[0] - placed.value.parts[id].rest[property][k]) < 1e-9;
			if (still) return;
			const keys: Key[] =
				range < 1e-9
					? [{ t: 0, v: values[0], shape: { kind: 'hold' } }]
					: keysWithin(sourceOfSamples({ times: Float64Array.from(times), values }), BAKED * range).keys;
			channels[address] = makeChannel({ clip: clip.id, part: id, property, component }, keys);
		}),
	);
	const formulas = Object.fromEntries(
		Object.entries(placed.value.formulas).filter(
			([, formula]) =>
				formula.part !== id ||
				formula.clip !== clip.id ||
				!(PROPERTIES as readonly string[]).includes(formula.property),
		),
	);
	return ok({ ...placed.value, channels, formulas });
}
