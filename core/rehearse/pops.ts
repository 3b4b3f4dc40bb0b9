/** Jumps of values and speeds in a row of pictures, where clips take over. */
import type { PoseLayout, Target } from '../../player/layout';
import { angleBetween } from '../../player/maths/quaternion';
import { poppable } from '../blend/pops';

/** The largest of something, and where. */
export interface Worst {
	/** Seconds. */
	t: number;
	part: string;
	path: string;
	/** Of the range; of speeds, ranges a second. */
	share: number;
}

/** By how much two poses differ in a target: in degrees of rotations, of others the largest of its numbers. */
function changeOf({ kind, at, size }: Target, from: Float64Array, to: Float64Array): number {
	if (kind === 'rotation') return angleBetween(from.subarray(at, at + 4), to.subarray(at, at + 4));
	let most = 0;
	for (let k = at; k < at + size; k++) most = Math.max(most, Math.abs(to[k] - from[k]));
	return most;
}

/** Of ranges that are rounding nothing is told. */
const LEAST_RANGE = 1e-6;

/** The largest change from one pose to the next, by the ranges of what changes. */
export function stepOf(
	layout: PoseLayout,
	from: Float64Array,
	to: Float64Array,
	ranges: ReadonlyMap<Target, number>,
	t: number,
): Worst | null {
	let worst: Worst | null = null;
	for (const target of poppable(layout)) {
		const range = ranges.get(target) ?? 0;
		const share = range > LEAST_RANGE ? changeOf(target, from, to) / range : 0;
		if (share > (worst?.share ?? 0)) worst = { t, part: target.part, path: target.path, share };
	}
	return worst;
}

interface Found {
	t: number;
	target: Target;
	jump: number;
	kink: number;
}

/** Looks at pictures that follow one another at the same distance in time. */
export class PopWatch {
	private readonly poses: Float64Array[] = [];
	/** Whether a clip took over on the way to the last picture, and to the one before. */
	private wasSwitch = false;
	private readonly found: Found[] = [];
	private readonly first: Float64Array;
	private readonly low: Float64Array;
	private readonly high: Float64Array;
	private readonly turned = new Map<Target, number>();

	constructor(
		private readonly layout: PoseLayout,
		private readonly step: number,
	) {
		this.first = layout.rest.slice();
		this.low = layout.rest.slice().fill(Infinity);
		this.high = layout.rest.slice().fill(-Infinity);
	}

	look(pose: Float64Array, t: number, isSwitch: boolean): void {
		const { poses, low, high, turned, first } = this;
		if (poses.length === 0) first.set(pose);
		for (let k = 0; k < pose.length; k++) {
			low[k] = Math.min(low[k], pose[k]);
			high[k] = Math.max(high[k], pose[k]);
		}
		for (const target of poppable(this.layout))
			if (target.kind === 'rotation')
				turned.set(target, Math.max(turned.get(target) ?? 0, changeOf(target, first, pose)));
		poses.push(pose.slice());
		if (poses.length > 4) poses.shift();
		// The picture after tells at which speed it goes on.
		if (this.wasSwitch && poses.length === 4) this.findPops(t - this.step);
		this.wasSwitch = isSwitch;
	}

	private findPops(t: number): void {
		const [a, b, c, d] = this.poses;
		for (const target of poppable(this.layout)) {
			const [before, at, after] = [changeOf(target, a, b), changeOf(target, b, c), changeOf(target, c, d)];
			const jump = Math.max(0, at - Math.max(before, after));
			const kink = this.speedJump(target) / this.step;
			if (jump > 0 || kink > 0) this.found.push({ t, target, jump, kink });
		}
	}

	/** By how much the change of a target in a step is another one after the switch. */
	private speedJump({ kind, at, size }: Target): number {
		const [a, b, c, d] = this.poses;
		let sum = 0;
		let most = 0;
		for (let k = at; k < at + size; k++) {
			const by = Math.abs(d[k] - c[k] - (b[k] - a[k]));
			most = Math.max(most, by);
			sum += by * by;
		}
		// A small turn is twice the change of a quaternion.
		return kind === 'rotation' ? (2 * Math.sqrt(sum) * 180) / Math.PI : most;
	}

	/** What each target went through: in degrees from where it began of rotations. */
	get ranges(): Map<Target, number> {
		return new Map(
			poppable(this.layout).map((target) => {
				if (target.kind === 'rotation') return [target, this.turned.get(target) ?? 0];
				let range = 0;
				for (let k = target.at; k < target.at + target.size; k++)
					range = Math.max(range, this.high[k] - this.low[k]);
				return [target, range];
			}),
		);
	}

	/** The largest jump of a value; null where there is none to be seen. */
	get jump(): Worst | null {
		return this.worst(({ jump }) => jump);
	}
	/** The largest jump of a speed. */
	get kink(): Worst | null {
		return this.worst(({ kink }) => kink);
	}

	private worst(of: (found: Found) => number): Worst | null {
		const { ranges } = this;
		let worst: Worst | null = null;
		for (const found of this.found) {
			const range = ranges.get(found.target)!;
			const share = range > LEAST_RANGE ? of(found) / range : 0;
			if (share > (worst?.share ?? 1e-6))
				worst = { t: found.t, part: found.target.part, path: found.target.path, share };
		}
		return worst;
	}
}
