/** Animations of a page as clips: keyframes of CSS properties, each played over its time. Source: Web Animations Level 1. */
import { shortName } from '../../../text';
import { PLAYS_ONCE } from '../../../curve/handles';
import { reverseKeys } from '../../../curve/reverse';
import type { Key } from '../../../curve/types';
import type { Component, Part, Property } from '../../../document/types';
import { restValue } from '../../../document/rest';
import { readCssEasing } from '../../../easing/css';
import type { Loop } from '../../../../player/loop';
import type { Ends } from '../../../../player/curve/flat';
import type { Shape } from '../../../../player/easing/shape';
import type { Four } from '../../../../player/maths/vector';
import { secondsToTicks } from '../../../../player/time';
import { fromEuler } from '../../../../player/maths/quaternion';
import { parseHex } from '../../../pose/hex';
import type { Incoming } from '../../incoming/document';
import { saidBy, type Declared, type Said } from './values';

export interface PageFrame {
	/** Share of the animation, 0…1. */
	at: number;
	/** Of the way to the next frame that has the property. */
	easing: string;
	declared: Declared;
}

export const DIRECTIONS = ['normal', 'reverse', 'alternate', 'alternate-reverse'] as const;
export type Direction = (typeof DIRECTIONS)[number];

export interface PageAnimation {
	/** What is moved, by its name. */
	part: string;
	frames: readonly PageFrame[];
	/** Seconds. */
	duration: number;
	delay: number;
	iterations: number;
	direction: Direction;
	/** From where nothing is said to the first frame; straight when absent. */
	easing?: string;
}

/** The keys of one component while they are gathered. */
interface Strand {
	property: Property;
	component: Component;
	isAdded: boolean;
	marks: { at: number; easing: string; said: Said }[];
}

const STRAND_OF = (said: Said) =>
	`${said.property} ${'component' in said ? said.component : 'value'}` as const;

/** What each frame says, by what it is of. Properties that parts have not are told. */
function strandsOf(animation: PageAnimation, part: Part, leftOut: string[]): Strand[] {
	const strands = new Map<string, Strand>();
	const { drawing } = part;
	const size =
		'size' in drawing ? { width: drawing.size[0], height: drawing.size[1] } : { width: null, height: null };
	const frames = animation.frames.map((frame, i) => ({ frame, i }));
	frames.sort((a, b) => a.frame.at - b.frame.at || a.i - b.i);
	for (const { frame } of frames)
		for (const [property, value] of Object.entries(frame.declared)) {
			const said = saidBy(property, value, size);
			if (!said) {
				leftOut.push(`${part.name}: ${property}: ${shortName(value, 60)}`);
				continue;
			}
			for (const own of said) {
				const key = STRAND_OF(own);
				const component = 'component' in own ? own.component : 'value';
				const isAdded = 'isAdded' in own && own.isAdded === true;
				const strand = strands.get(key) ?? { property: own.property, component, isAdded, marks: [] };
				strand.marks.push({ at: frame.at, easing: frame.easing, said: own });
				strands.set(key, strand);
			}
		}
	return [...strands.values()];
}

function shapeOf(easing: string, leftOut: string[]): Shape {
	const read = readCssEasing(easing);
	if (read.ok) return read.value;
	leftOut.push(`the easing ${shortName(easing, 60)}`);
	return { kind: 'linear' };
}

const axisTurn = (axis: readonly number[], degrees: number): Four => {
	const length = Math.hypot(...axis);
	const half = (degrees * Math.PI) / 360;
	const [x, y, z] = axis.map((v) => (v / length) * Math.sin(half));
	return [x, y, z, Math.cos(half)];
};

/** The key that a mark comes to. */
function keyOf(said: Said, part: Part, { property, component, isAdded }: Strand): Pick<Key, 'v' | 'vector'> {
	if (said.property === 'colour') return { v: 0, vector: (said as { colour: Four }).colour };
	if ('axis' in said) return { v: 0, vector: axisTurn(said.axis, said.degrees) };
	const { value } = said as { value: number };
	return { v: isAdded ? value + restValue(part, property, component) : value };
}

/** Rounds that are written out at most. */
const MOST_ROUNDS = 1000;

/** What is there before the first mark and after the last one: the element as it rests. */
function restKey(part: Part, { property, component }: Strand): Pick<Key, 'v' | 'vector'> {
	if (property === 'colour') return { v: 0, vector: parseHex(part.colour) };
	if (property === 'orientation') return { v: 0, vector: fromEuler(part.rest.rotation, part.eulerOrder) };
	return { v: restValue(part, property, component) };
}

/** Adds a key after others; of two at one time the first stands just before, so that the value jumps. */
function putKey(keys: Key[], made: Key): void {
	const last = keys.at(-1);
	if (last && last.t >= made.t) {
		keys.pop();
		const before = keys.at(-1);
		const isMiddle = before !== undefined && made.t - 1 > before.t;
		// Nobody sees the value that a jump at the start comes from.
		if (isMiddle && (last.v !== made.v || last.vector !== made.vector)) keys.push({ ...last, t: made.t - 1 });
	}
	keys.push(made);
}

/** Keys over one round. */
function keysOf(
	strand: Strand,
	part: Part,
	{ from, ticks, easing = 'linear' }: { from: number; ticks: number; easing?: string },
	leftOut: string[],
): Key[] {
	const isSwitch = strand.property === 'visible';
	const marks = strand.marks.map(({ at, easing, said }) => ({ at, easing, key: keyOf(said, part, strand) }));
	if (marks[0].at > 0) marks.unshift({ at: 0, easing, key: restKey(part, strand) });
	if (marks.at(-1)!.at < 1) marks.push({ at: 1, easing: 'linear', key: restKey(part, strand) });
	const keys: Key[] = [];
	for (const { at, easing, key } of marks) {
		const shape: Shape = isSwitch ? { kind: 'hold' } : shapeOf(easing, leftOut);
		putKey(keys, { ...key, t: from + Math.round(at * ticks), shape } as Key);
	}
	return keys;
}

function backwards(keys: readonly Key[]): Key[] {
	return reverseKeys(keys, new Set(keys.map(({ t }) => t)), PLAYS_ONCE);
}

/** Keys of one round as those of several, one after the other. */
function inRounds(keys: readonly Key[], rounds: number, ticks: number, isTurned: boolean): Key[] {
	const all = [...keys];
	const back = isTurned ? backwards(keys) : keys;
	for (let round = 1; round < Math.min(rounds, MOST_ROUNDS); round++)
		for (const key of round % 2 === 1 ? back : keys) putKey(all, { ...key, t: key.t + round * ticks });
	return all;
}

/** Turned about by the marks of another strand: one about several axes has no angles. */
function settled(strands: readonly Strand[], part: Part, leftOut: string[]): Strand[] {
	const oriented = strands.find(({ property }) => property === 'orientation');
	if (!oriented) return [...strands];
	const turns = strands.filter(({ property }) => property === 'rotation');
	for (const turn of turns)
		for (const { at, easing, said } of turn.marks) {
			const axis = ['x', 'y', 'z'].map((own) => Number(own === turn.component)) as [number, number, number];
			const degrees = (said as { value: number }).value;
			if (oriented.marks.some((mark) => mark.at === at)) leftOut.push(`${part.name}: a second turn at ${at}`);
			else oriented.marks.push({ at, easing, said: { property: 'orientation', axis, degrees } });
		}
	oriented.marks.sort((a, b) => a.at - b.at);
	return strands.filter(({ property }) => property !== 'rotation');
}

const isBack = (direction: Direction) => direction === 'reverse' || direction === 'alternate-reverse';
const isTurning = (direction: Direction) => direction.startsWith('alternate');

interface Timeline {
	length: number;
	loop: Loop;
	/** What each animation's keys are shifted by, in ticks, how often they are there, and what they do then. */
	of: (animation: PageAnimation) => { from: number; rounds: number; ends: Ends };
}

/** Rounds as a loop counts them. */
function countOf(iterations: number, name: string, leftOut: string[]): number | null {
	if (iterations === Infinity) return null;
	if (!Number.isInteger(iterations)) leftOut.push(`${name}: ${iterations} iterations are whole ones here`);
	return Math.max(1, Math.round(iterations));
}

const HOLDS: Ends = { before: 'hold', after: 'hold' };

/** One time for all: a loop where all go round alike, else as long as the longest. */
function timelineOf(name: string, animations: readonly PageAnimation[], leftOut: string[]): Timeline {
	const [first] = animations;
	const isAlike = animations.every(
		({ duration, delay, iterations, direction }) =>
			duration === first.duration &&
			delay === first.delay &&
			iterations === first.iterations &&
			isTurning(direction) === isTurning(first.direction),
	);
	if (isAlike && (first.iterations !== 1 || first.delay === 0)) {
		// There and back, what begins before its start rests at both its ends: a pause.
		const rest = isTurning(first.direction) && first.iterations !== 1 ? Math.max(0, -first.delay) : 0;
		const isPause = rest > 0 && 2 * rest < first.duration;
		if (first.delay !== 0 && !isPause) leftOut.push(`${name}: its delay of ${first.delay} s`);
		const isOnce = first.iterations === 1;
		const count = isOnce ? null : countOf(first.iterations, name, leftOut);
		const mode = isOnce ? 'once' : isTurning(first.direction) ? 'alternate' : 'repeat';
		const pause = isPause ? secondsToTicks(2 * rest) : 0;
		const length = secondsToTicks(first.duration) - pause;
		return { length, loop: { mode, count, pause }, of: () => ({ from: -pause / 2, rounds: 1, ends: HOLDS }) };
	}
	const endOf = ({ duration, delay, iterations }: PageAnimation) =>
		Math.max(0, delay) + duration * (iterations === Infinity ? 1 : iterations);
	const length = secondsToTicks(Math.max(...animations.map(endOf)));
	const isEndless = animations.every(({ iterations }) => iterations === Infinity);
	if (isEndless)
		leftOut.push(`${name}: its rounds are of several lengths, the loop is as long as the longest`);
	return {
		length,
		loop: { mode: isEndless ? 'repeat' : 'once', count: null, pause: 0 },
		of({ iterations, direction, delay }) {
			if (delay < 0) leftOut.push(`${name}: its start ${-delay} s before the beginning`);
			const from = secondsToTicks(Math.max(0, delay));
			// What ends before the others do is there so often, and no longer.
			const rounds = countOf(iterations, name, leftOut);
			if (rounds !== null) return { from, rounds, ends: HOLDS };
			return {
				from,
				rounds: 1,
				ends: { before: 'hold', after: isTurning(direction) ? 'alternate' : 'repeat' },
			};
		},
	};
}

/** A clip of animations that begin together. */
export function addPageClip(
	incoming: Incoming,
	name: string,
	animations: readonly PageAnimation[],
	partOf: (name: string) => Part,
): void {
	const { leftOut } = incoming;
	const own = animations.filter(({ frames, duration }) => frames.length > 0 && duration > 0);
	if (own.length === 0) return;
	const timeline = timelineOf(name, own, leftOut);
	const clip = incoming.clip(name, timeline.length, timeline.loop).id;
	for (const animation of own) {
		const part = partOf(animation.part);
		const { from, rounds, ends } = timeline.of(animation);
		const ticks = secondsToTicks(animation.duration);
		const told: string[] = [];
		for (const strand of settled(strandsOf(animation, part, told), part, told)) {
			const { property, component } = strand;
			const forward = keysOf(strand, part, { from, ticks, easing: animation.easing }, told);
			const first = isBack(animation.direction) ? backwards(forward) : forward;
			const keys = inRounds(first, rounds, ticks, isTurning(animation.direction));
			// What rests in a pause says nothing.
			const heard = keys.filter(({ t }) => t >= 0 && t <= timeline.length);
			if (incoming.has({ clip, part: part.id, property, component }))
				told.push(`${part.name}: a second animation of its ${property}`);
			// Browsers mix colours as they are written.
			const colourSpace = property === 'colour' ? 'srgb' : undefined;
			incoming.addChannel({ clip, part: part.id, property, component, keys: heard, ends, colourSpace });
		}
		leftOut.push(...told.map((text) => `${name}: ${text}`));
	}
}
