/** A take laid on other parts: scaled, mirrored, moved in time, cut to one round that closes. The take itself stays. */
import { hasNumber, restValue } from '../document/rest';
import { OTHER_SIDE, signOf } from '../document/sides';
import type { Take, TakeColumn } from '../document/takes';
import { AXES, type Doc, type Part, type Property } from '../document/types';
import { isLength } from '../document/units';
import { closestEuler, fromEuler, toEuler, type EulerOrder } from '../../player/maths/quaternion';
import type { Vec3 } from '../../player/maths/vector';
import { matchNames } from './match';
import { sampleFrom } from './sample-from';
import type { TakeSamples } from './samples-file';

/** What a column of a take is laid on, and what its numbers are multiplied by there. */
export interface LaidColumn {
	on: TakeColumn;
	factor: number;
}

/** The document that a take was recorded in, and the one of the parts that it is laid on: mostly the same. */
export interface Between {
	from: Doc;
	on: Doc;
}

export interface Laying {
	/** For each column of the take; null is left out. */
	columns: readonly (LaidColumn | null)[];
	/** Ticks between which the take is laid, both included. */
	from: number;
	to: number;
	/** The tick of the clip where it begins there. */
	at: number;
	/** Ticks that it takes there for a tick of the take. */
	slower: number;
	/** What all lengths are multiplied by. */
	scale: number;
	/** Left and right change over. */
	mirrored: boolean;
	/** Up and down change over: from a world to a screen, or back. */
	turnsOver: boolean;
	/** Places begin where each part rests, not where they were recorded. */
	fromRest: boolean;
	/** Its end is made to meet its start, so that it can go round. */
	closes: boolean;
}

/** A number that ends a round farther from its start than this share of what it goes over travels on. */
const TRAVELS = 0.5;
/** The higher, the nearer to its ends a round is bent. */
const NEAR_ENDS = 6;

/** What a take says of a part, in order of its first column. */
export function partsOfTake(take: Take): string[] {
	return [...new Set(take.columns.map(({ part }) => part))];
}

/** The number of another part that a column means there, mirrored or not; null where it has no such number. */
export function sameOn(doc: Doc, part: string, column: TakeColumn, mirrored: boolean): TakeColumn | null {
	const component =
		(mirrored && column.property === 'reveal' && OTHER_SIDE[column.component]) || column.component;
	const own = doc.parts[part];
	return own && hasNumber(own, column.property, component) ? { ...column, part, component } : null;
}

/** Parts that a take could be laid on, by the likeness of their names; null for those that are like none. */
export function matchParts(
	{ from, on }: Between,
	parts: readonly string[],
	among: readonly string[],
	mirrored: boolean,
): (string | null)[] {
	const namesOf = (doc: Doc, ids: readonly string[]) => ids.map((id) => doc.parts[id]?.name ?? '');
	return matchNames(namesOf(from, parts), namesOf(on, among), mirrored).map((k) =>
		k === null ? null : among[k],
	);
}

/** How much larger parts are than those that were recorded: by how far they rest from their parents. Null where nothing tells. */
export function scaleBetween(
	{ from, on }: Between,
	pairs: readonly (readonly [from: string, on: string])[],
): number | null {
	const reach = (part: Part | undefined) =>
		part && part.parent !== null ? Math.hypot(...part.rest.translation) : 0;
	const told = pairs
		.map(([a, b]) => [reach(from.parts[a]), reach(on.parts[b])] as const)
		.filter(([a, b]) => a > 0 && b > 0);
	const sum = (which: 0 | 1) => told.reduce((all, pair) => all + pair[which], 0);
	return told.length === 0 ? null : sum(1) / sum(0);
}

/** Turns of a part about all three axes, as columns of a take; −1 is missing. */
function turnsAt(take: Take, part: string): number[] {
	return AXES.map((axis) =>
		take.columns.findIndex(
			(own) => own.part === part && own.property === 'rotation' && own.component === axis,
		),
	);
}

/** Angles told in one order as angles in another, each nearest to the one before. Columns without gaps. */
function inOrderOf(turns: readonly Float64Array[], from: EulerOrder, to: EulerOrder): void {
	let previous: Vec3 | null = null;
	for (let i = 0; i < turns[0].length; i++) {
		const said = turns.map((column) => column[i]) as Vec3;
		if (said.some(Number.isNaN)) continue;
		const euler = toEuler(fromEuler(said, from), to);
		previous = closestEuler(euler, previous ?? euler, to);
		previous.forEach((v, k) => (turns[k][i] = v));
	}
}

/** Where the parts of all three turns are laid on one part of another order, they are told in that one's. */
function inOtherOrders(
	{ from, on }: Between,
	take: Take,
	laying: Laying,
	columns: readonly (Float64Array | null)[],
): void {
	for (const part of partsOfTake(take)) {
		const at = turnsAt(take, part);
		const targets = at.map((c) => laying.columns[c]?.on);
		const [first] = targets;
		const isWhole = targets.every(
			(own, k) => own?.part === first?.part && own?.property === 'rotation' && own.component === AXES[k],
		);
		const [own, other] = [from.parts[part], first && on.parts[first.part]];
		if (!isWhole || !own || !other || own.eulerOrder === other.eulerOrder) continue;
		inOrderOf(
			at.map((c) => columns[c]!),
			own.eulerOrder,
			other.eulerOrder,
		);
	}
}

/** Whether a number goes on at the end of a round where it was, or farther: by whole turns too. */
function travels(values: Float64Array, property: Property): boolean {
	const by = values.at(-1)! - values[0];
	if (property !== 'translation' && property !== 'rotation') return false;
	let [low, high] = [Infinity, -Infinity];
	for (const v of values) {
		low = Math.min(low, v);
		high = Math.max(high, v);
	}
	return Math.abs(by) > TRAVELS * (high - low) && high > low;
}

/** The slope at the start or the end for a round of length 1, of the parabola through three samples: a bend is not taken for it. */
function slopeAt(u: Float64Array, values: Float64Array, end: boolean): number {
	const last = values.length - 1;
	const reach = Math.min(last >> 1, Math.max(1, Math.round(values.length / 60)));
	const [a, b, c] = end ? [last, last - reach, last - 2 * reach] : [0, reach, 2 * reach];
	const near = (values[b] - values[a]) / (u[b] - u[a]);
	const far = (values[c] - values[a]) / (u[c] - u[a]);
	return near + ((near - far) * (u[b] - u[a])) / (u[c] - u[b]);
}

/**
 * Lets a column end as it began, in value (but for what it travels) and in slope, each side going half of the way. A gap in
 * value is spread over the whole round, where it is seen least; a bend in speed goes out within some of it.
 */
function close(u: Float64Array, values: Float64Array, isTravelling: boolean): void {
	const gap = isTravelling ? 0 : values.at(-1)! - values[0];
	for (let i = 0; i < values.length; i++) values[i] -= gap * (u[i] - 0.5);
	const bend = (slopeAt(u, values, true) - slopeAt(u, values, false)) / 2;
	for (let i = 0; i < values.length; i++) {
		const [after, before] = [u[i], 1 - u[i]];
		values[i] += bend * (after * before ** NEAR_ENDS + before * after ** NEAR_ENDS);
	}
	if (!isTravelling) values[values.length - 1] = values[0];
}

export interface Laid {
	samples: TakeSamples;
	/** What its columns are of. */
	columns: TakeColumn[];
	/** Of each column, whether it goes on where a round ends. */
	travels: boolean[];
	/** The most that closing it changed any number, as a share of what that goes over. */
	changed: number;
}

/** The samples of a take as they are laid. Null where nothing of it is laid, or no time is left. */
export function layTake(between: Between, take: Take, samples: TakeSamples, laying: Laying): Laid | null {
	const { times } = samples;
	const [first, end] = [sampleFrom(times, laying.from), sampleFrom(times, laying.to + 1)];
	if (end - first < 2) return null;
	const own = times.subarray(first, end);
	const cut = samples.columns.map((column, c) =>
		laying.columns[c] ? Float64Array.from(column.subarray(first, end)) : null,
	);
	inOtherOrders(between, take, laying, cut);
	const [start, span] = [own[0], own[own.length - 1] - own[0]];
	const u = Float64Array.from(own, (t) => (t - start) / span);
	const laid: Laid = {
		samples: { times: new Uint32Array(0), columns: [] },
		columns: [],
		travels: [],
		changed: 0,
	};
	cut.forEach((values, c) => {
		const target = laying.columns[c];
		const part = target && between.on.parts[target.on.part];
		if (!values || !part) return;
		const { property, component } = target.on;
		const sign = signOf(property, component, laying.turnsOver, laying.mirrored);
		const factor = sign * target.factor * (isLength(property) ? laying.scale : 1);
		const from = values.find((v) => !Number.isNaN(v)) ?? 0;
		const isPlace = laying.fromRest && property === 'translation';
		const base = isPlace ? restValue(part, property, component) - from * factor : 0;
		for (let i = 0; i < values.length; i++) values[i] = base + factor * values[i];
		const goesOn = laying.closes && travels(values, property);
		if (laying.closes && !values.some(Number.isNaN)) {
			const before = values.slice();
			close(u, values, goesOn);
			laid.changed = Math.max(laid.changed, changeOf(before, values));
		}
		laid.columns.push(target.on);
		laid.travels.push(goesOn);
		laid.samples.columns.push(Float32Array.from(values));
	});
	if (laid.columns.length === 0) return null;
	return {
		...laid,
		samples: rising(own, laid.samples.columns, (t) => laying.at + (t - start) * laying.slower),
	};
}

/** Samples at other times; of those that come to be at one tick the first. */
function rising(
	times: Uint32Array,
	columns: readonly Float32Array[],
	at: (t: number) => number,
): TakeSamples {
	let last = -1;
	const kept: number[] = [];
	times.forEach((t, i) => {
		const tick = Math.round(at(t));
		if (tick <= last) return;
		last = tick;
		kept.push(i);
	});
	return {
		times: Uint32Array.from(kept, (i) => Math.round(at(times[i]))),
		columns: columns.map((column) => Float32Array.from(kept, (i) => column[i])),
	};
}

function changeOf(before: Float64Array, after: Float64Array): number {
	let [low, high, most] = [Infinity, -Infinity, 0];
	before.forEach((v, i) => {
		low = Math.min(low, v);
		high = Math.max(high, v);
		most = Math.max(most, Math.abs(after[i] - v));
	});
	return high > low ? most / (high - low) : 0;
}
