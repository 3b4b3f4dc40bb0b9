/**
 * Where a file is to be exact, not only within its bound: at the start and the end, where a component stands still for a
 * while, and at contacts, where a motion turns back all at once.
 */
import { TICKS_PER_SECOND } from '../../player/time';
import { degreesOf, JUST_BEFORE, rotates, type Source } from './source';

/** A component that stands still for less is passing an extreme. */
const LEAST_HOLD = TICKS_PER_SECOND / 60;
/** What turns back by less than so many bounds, on either side, is a tremor. */
const LEAST_CONTACT = 10;
/** Places of a stretch that must agree for it to stand still. */
const LOOKS = 9;
/** The slope beside a corner is measured over this share of the stretch beside it. */
const BESIDE = 1e-3;

/** The differences between two values, component by component; q and −q are the same turn. */
function change(source: Source, from: Float64Array, to: Float64Array): Float64Array {
	let sign = 1;
	if (rotates(source)) {
		let dot = 0;
		for (let k = 0; k < 4; k++) dot += from[k] * to[k];
		if (dot < 0) sign = -1;
	}
	return from.map((v, k) => sign * to[k] - v);
}

/** Whether a change over twice the time is about twice as large: a slope, and not the flat top of a bend. */
function isSlope(near: number, far: number): boolean {
	return Math.abs(far) < 3 * Math.abs(near);
}

/** A source at its corners. */
interface Marked {
	source: Source;
	bound: number;
	/** The ends and all corners, in ticks, in order; some are jumps. */
	marks: readonly number[];
	jumps: ReadonlySet<number>;
	/** Values at the marks. */
	values: readonly Float64Array[];
	at: (t: number) => Float64Array;
}

/** Marks between which a component that moves otherwise stands still. */
function holds({ source, marks, jumps, values, at }: Marked): number[] {
	const { size } = source;
	/** Values just before the marks, where they jump. */
	const before = marks.map((t, i) => (jumps.has(t) ? at(t - JUST_BEFORE) : values[i]));
	const turning = rotates(source);
	const components = turning ? [0] : Array.from({ length: size }, (_, k) => k);
	const isSame = (a: Float64Array, b: Float64Array, k: number) =>
		turning ? a.every((v, i) => v === b[i]) : a[k] === b[k];
	const moves = components.map((k) =>
		values.some((value, i) => !isSame(value, values[0], k) || !isSame(before[i], values[0], k)),
	);
	const found: number[] = [];
	for (let i = 0; i + 1 < marks.length; i++) {
		const [from, to] = [marks[i], marks[i + 1]];
		if (to - from < LEAST_HOLD) continue;
		const still = components.filter((k) => moves[k] && isSame(values[i], before[i + 1], k));
		if (still.length === 0) continue;
		const looks = Array.from({ length: LOOKS }, (_, n) => at(from + ((to - from) * (n + 0.5)) / LOOKS));
		if (still.some((k) => looks.every((value) => isSame(value, values[i], k)))) found.push(from, to);
	}
	return found;
}

/** Marks where a component turns back all at once, away from them on both sides. */
function contacts({ source, bound, marks, jumps, values, at }: Marked): number[] {
	const { size } = source;
	const turning = rotates(source);
	const least = turning ? (LEAST_CONTACT * bound * Math.PI) / 360 : LEAST_CONTACT * bound;
	/** Whether a component is away from a mark somewhere on the way to a neighbouring one: both may be on the ground. */
	const goesAway = (to: number, i: number, k: number) =>
		Array.from({ length: LOOKS }, (_, n) => at(marks[i] + ((to - marks[i]) * (n + 1)) / (LOOKS + 1))).some(
			(place) => Math.abs(change(source, values[i], place)[k]) >= least,
		);
	const turnsBack = (i: number): ((k: number) => boolean) => {
		const t = marks[i];
		const h = BESIDE * Math.min(t - marks[i - 1], marks[i + 1] - t);
		const [left2, left, right, right2] = [-2, -1, 1, 2].map((n) => at(t + n * h));
		const [d1, d2] = [change(source, left, values[i]), change(source, left2, values[i])];
		const [e1, e2] = [change(source, values[i], right), change(source, values[i], right2)];
		return (k) =>
			isSlope(d1[k], d2[k]) &&
			isSlope(e1[k], e2[k]) &&
			d1[k] * e1[k] < 0 &&
			goesAway(marks[i - 1], i, k) &&
			goesAway(marks[i + 1], i, k);
	};
	/** The same between straight lines, which recordings have thousands of: the marks say all. */
	const turnsStraight = (i: number) => (k: number) => {
		const [came, goes] = [values[i][k] - values[i - 1][k], values[i + 1][k] - values[i][k]];
		return came * goes < 0 && Math.min(Math.abs(came), Math.abs(goes)) >= least;
	};
	const degreeAt = degreesOf(source);
	const straight = marks
		.slice(1)
		.map((t, i) => !turning && degreeAt((marks[i] + t) / 2) === 1 && !jumps.has(t) && !jumps.has(marks[i]));
	const found: number[] = [];
	for (let i = 1; i + 1 < marks.length; i++) {
		if (jumps.has(marks[i])) continue;
		const turns = straight[i - 1] && straight[i] ? turnsStraight(i) : turnsBack(i);
		for (let k = 0; k < size; k++)
			if (turns(k)) {
				found.push(marks[i]);
				break;
			}
	}
	return found;
}

/** Ticks inside a source, in order, at which the fit is to be exact; the ends and jumps are so anyway. */
export function pinnedTicks(source: Source, bound: number): number[] {
	const { size, start, end } = source;
	const inside = source.pieces.map(({ t }) => t).filter((t) => t > start && t < end);
	const marks = [...new Set([start, ...inside, end])];
	if (marks.length < 3) return [];
	const at = (t: number): Float64Array => {
		const value = new Float64Array(size);
		source.evaluate(t, value);
		return value;
	};
	const jumps = new Set(source.pieces.filter(({ jump }) => jump).map(({ t }) => t));
	const marked: Marked = { source, bound, marks, jumps, values: marks.map(at), at };
	const pins = new Set([...holds(marked), ...contacts(marked)]);
	return [...pins].filter((t) => t > start && t < end).sort((a, b) => a - b);
}
