/** Skeletons with their motion: a part a joint, drawn as a bone, and straight keys at its frames. */
import { closestEuler, EULER_ORDERS, type EulerOrder } from '../../../player/maths/quaternion';
import type { Vec3 } from '../../../player/maths/vector';
import { TICKS_PER_SECOND } from '../../../player/time';
import { AXES, type Drawing } from '../../document/types';
import type { Result } from '../../result';
import type { FileIn, TakenIn } from '../format';
import { textOf } from '../head';
import { Incoming } from '../incoming/document';
import { parseBvh, type Bvh, type BvhJoint } from './parse';

/** A skeleton that reaches farther than this is not in metres but in centimetres. */
const MOST_METRES = 10;
const CENTIMETRE = 0.01;
/** Thickness of a bone, and size of a joint without one, as shares of all that the skeleton reaches. */
const THICK = 0.02;
const BONE = '#c8b28a';
const HIGHEST_RATE = 240;

/** How far its joints and ends are from its roots at most, going along the bones. */
function reachOf({ joints }: Bvh): number {
	const far: number[] = [];
	let reach = 0;
	for (const [i, { parent, offset, end }] of joints.entries()) {
		// Where a root stands is no length of a body.
		far[i] = parent < 0 ? 0 : far[parent] + Math.hypot(...offset);
		reach = Math.max(reach, far[i] + (end ? Math.hypot(...end) : 0));
	}
	return reach;
}

/** The order of a joint's rotations; what it does not turn about comes last. */
function orderOf({ channels }: BvhJoint): EulerOrder {
	const turned = channels.filter((own) => own.endsWith('rotation')).map((own) => own[0].toUpperCase());
	const all = [...turned, ...['X', 'Y', 'Z'].filter((axis) => !turned.includes(axis))].join('');
	return EULER_ORDERS.find((order) => order === all)!;
}

/** From a joint to where its longest bone ends. */
function boneOf(bvh: Bvh, index: number): Vec3 | null {
	const own = bvh.joints[index];
	const tips = [
		...bvh.joints.filter(({ parent }) => parent === index).map(({ offset }) => offset),
		...(own.end ? [own.end] : []),
	];
	return tips.sort((a, b) => Math.hypot(...b) - Math.hypot(...a))[0] ?? null;
}

function drawingOf(bone: Vec3 | null, thick: number, factor: number): Drawing {
	if (!bone || Math.hypot(...bone) === 0)
		return { kind: 'ball', size: [2 * thick, 2 * thick, 2 * thick], offset: [0, 0, 0] };
	const along = bone.map((v) => v * factor) as Vec3;
	return {
		kind: 'box',
		size: along.map((v) => Math.abs(v) + thick) as Vec3,
		offset: along.map((v) => v / 2) as Vec3,
	};
}

class BvhReader {
	private readonly incoming: Incoming;
	private readonly factor: number;
	private readonly times: Float64Array;

	constructor(
		private readonly bvh: Bvh,
		private readonly name: string,
	) {
		const { frameTime, frames } = bvh;
		this.incoming = new Incoming(
			name,
			'world',
			Math.min(HIGHEST_RATE, Math.max(1, Math.round(1 / frameTime))),
		);
		this.factor = reachOf(bvh) > MOST_METRES ? CENTIMETRE : 1;
		this.times = Float64Array.from({ length: frames }, (_, i) =>
			Math.round(i * frameTime * TICKS_PER_SECOND),
		);
	}

	/** Numbers of a joint's channel over the frames; null where it has none. */
	private column(
		{ channels, at }: BvhJoint,
		axis: (typeof AXES)[number],
		kind: 'position' | 'rotation',
	): Float64Array | null {
		const index = channels.indexOf(`${axis}${kind}`);
		if (index < 0) return null;
		const { rows, width, frames } = this.bvh;
		return Float64Array.from({ length: frames }, (_, i) => rows[i * width + at + index]);
	}

	private addMotion(clip: string, part: string, joint: BvhJoint, order: EulerOrder): void {
		const { times, factor, incoming } = this;
		for (const [k, axis] of AXES.entries()) {
			const column = this.column(joint, axis, 'position');
			if (!column) continue;
			const values = column.map((v) => (joint.offset[k] + v) * factor);
			incoming.addSamples({ clip, part, property: 'translation', component: axis }, times, values);
		}
		const turns = AXES.map((axis) => this.column(joint, axis, 'rotation'));
		if (turns.every((own) => own === null)) return;
		const values = AXES.map(() => new Float64Array(times.length));
		let previous: Vec3 = [0, 0, 0];
		for (let i = 0; i < times.length; i++) {
			const said = turns.map((own) => own?.[i] ?? 0) as Vec3;
			// Between frames a joint goes the short way, however the file counts its angles.
			previous = i === 0 ? said : closestEuler(said, previous, order);
			previous.forEach((v, k) => (values[k][i] = v));
		}
		for (const [k, axis] of AXES.entries())
			incoming.addSamples({ clip, part, property: 'rotation', component: axis }, times, values[k]);
	}

	read(): Promise<Result<TakenIn>> {
		const { bvh, incoming, factor, times } = this;
		const { joints, frames, saidFrames } = bvh;
		const thick = Math.max(1e-3, THICK * reachOf(bvh) * factor);
		const clip = incoming.clip(this.name, times[times.length - 1]).id;
		const parts: string[] = [];
		for (const [i, joint] of joints.entries()) {
			const order = orderOf(joint);
			const { id } = incoming.addPart(joint.name, {
				parent: parts[joint.parent] ?? null,
				drawing: drawingOf(boneOf(bvh, i), thick, factor),
				colour: BONE,
				rest: { translation: joint.offset.map((v) => v * factor) as Vec3 },
			});
			incoming.changePart(id, { eulerOrder: order });
			parts.push(id);
			this.addMotion(clip, id, joint, order);
		}
		if (frames < saidFrames)
			incoming.leftOut.push(`frames: it says it has ${saidFrames}, and ${frames} are whole`);
		if (factor !== 1)
			incoming.leftOut.push('units: the file names none; its lengths are read as centimetres');
		return incoming.finishRecorded('Nothing moves in this file.');
	}
}

export async function takeBvh({ bytes, name }: FileIn): Promise<Result<TakenIn>> {
	const text = textOf(bytes);
	if (!text.ok) return text;
	const parsed = parseBvh(text.value);
	if (!parsed.ok) return parsed;
	return new BvhReader(parsed.value, name).read();
}
