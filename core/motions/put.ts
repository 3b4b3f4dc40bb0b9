/** Motions put on parts, as ordinary keys: scaled to the part, from what it shows at that time. */
import { curveOf } from '../clip/compile';
import { scaleKeys } from '../curve/retime';
import type { Key } from '../curve/types';
import { hasNumber, restValue } from '../document/rest';
import { OTHER_SIDE, signOf } from '../document/sides';
import {
	channelId,
	kindOf,
	type Clip,
	type Component,
	type Doc,
	type Part,
	type Property,
} from '../document/types';
import type { Motion, MotionChannel } from '../document/motions';
import { boxOf } from '../drawing/box';
import type { CopiedChannel } from '../edits/clipboard';
import { putChannels } from '../edits/put-channels';
import type { Space } from '../pose/space';
import { evaluateCurve } from '../../player/curve/evaluate';
import { TICKS_PER_SECOND } from '../../player/time';

/** How much of a motion is put, and how. */
export interface MotionAmounts {
	/** Ticks of one round. */
	length: number;
	/** In the project's units; null as far as fits each part. */
	distance: number | null;
	/** Of all but the distance: 1 is the motion's own. */
	strength: number;
	rounds: number;
	/** Ticks by which each further part sets off later. */
	stagger: number;
	/** Left and right changed over. */
	mirrored: boolean;
}

export const MOST_MOTION_ROUNDS = 50;
/** The longer side of what has no drawing. */
const SIZE_OF_NOTHING: Readonly<Record<Space, number>> = { world: 1, interface: 100 };
const FACTORS: ReadonlySet<Property> = new Set(['scale', 'size', 'radius', 'stroke', 'opacity']);
/** A factor of what is smaller than this would show nothing. */
const LEAST_BASE = 1e-6;

/** Whether a motion changes a number by a factor. */
export function isFactor(property: Property): boolean {
	return FACTORS.has(property);
}

/** The longer side of a part at rest, on the screen's plane, in the project's units. */
export function partSize(part: Part, space: Space): number {
	const box = boxOf(part.drawing, space);
	const sides = box ? [0, 1].map((k) => (box.high[k] - box.low[k]) * Math.abs(part.rest.scale[k])) : [0];
	const size = Math.max(...sides);
	return size > 0 ? size : SIZE_OF_NOTHING[space];
}

/** How far a motion goes on a part by itself. */
export function distanceOn(motion: Motion, part: Part, space: Space): number {
	return (motion.distance * partSize(part, space)) / motion.size;
}

/** A motion's own amounts, on whole frames of so many ticks. */
export function amountsOf(motion: Motion, ticksOfFrame: number): MotionAmounts {
	const frames = Math.max(1, Math.round(motion.length / ticksOfFrame));
	return {
		length: frames * ticksOfFrame,
		distance: null,
		strength: 1,
		rounds: 1,
		stagger: 0,
		mirrored: false,
	};
}

/** Whether it ends where it began, so that rounds can follow each other. */
export function comesBack({ channels }: Motion): boolean {
	return channels.every(({ keys }) => {
		const [first, last] = [keys[0], keys.at(-1)!];
		return first.v === last.v && first.vector?.join() === last.vector?.join();
	});
}

/** What a part shows of a number at a tick, without formulas. */
export function shownValue(
	doc: Doc,
	clip: Clip,
	part: Part,
	property: Property,
	component: Component,
	t: number,
): number {
	const channel = doc.channels[channelId(clip.id, part.id, property, component)];
	return channel ? evaluateCurve(curveOf(channel, clip), t) : restValue(part, property, component);
}

/** Rounds one after the other: where two meet, the key leads in as the round before ended and out as the next begins. */
function inRounds(keys: readonly Key[], length: number, rounds: number): Key[] {
	const all: Key[] = [];
	for (let round = 0; round < rounds; round++)
		for (const key of keys) {
			const t = key.t + round * length;
			const last = all.at(-1);
			if (last?.t === t) {
				const left = last.left ?? key.left;
				all[all.length - 1] = { ...key, t, ...(left ? { left } : {}) };
			} else all.push({ ...key, t });
		}
	return all;
}

/** Keys on whole frames, from tick `t` on, but where two would come to stand on one. */
function onFrames(keys: readonly Key[], t: number, ticksOfFrame: number): Key[] {
	const snapped = keys.map((key) => Math.round((key.t + t) / ticksOfFrame) * ticksOfFrame - t);
	return keys.map((key, i) => {
		const isAlone = snapped.indexOf(snapped[i]) === i && snapped.lastIndexOf(snapped[i]) === i;
		return isAlone ? { ...key, t: Math.round(snapped[i]) } : key;
	});
}

/** Values `base + factor × v`, handles too. */
function inValue(keys: readonly Key[], base: number, factor: number, most: number): Key[] {
	const all = new Set(keys.map(({ t }) => t));
	return scaleKeys(keys, all, { pivot: 0, factor: 1 }, { pivot: 0, factor }).map((key) => ({
		...key,
		v: Math.min(most, base + key.v) || 0,
	}));
}

/** The keys of one motion on one part from tick `t` on, its times counted from there. */
export function motionKeys(
	doc: Doc,
	clip: Clip,
	part: Part,
	motion: Motion,
	{ length, distance, strength, rounds, mirrored }: MotionAmounts,
	t: number,
): CopiedChannel[] {
	const { space } = doc.project;
	const ticksOfFrame = TICKS_PER_SECOND / doc.project.frameRate;
	const far = distance ?? distanceOn(motion, part, space);
	const placed = ({ property, component: own, keys }: MotionChannel): CopiedChannel[] => {
		const component = (mirrored && property === 'reveal' && OTHER_SIDE[own]) || own;
		if (!hasNumber(part, property, component)) return [];
		const all = new Set(keys.map((key) => key.t));
		const time = { pivot: 0, factor: length / motion.length };
		const scaled = scaleKeys(keys, all, time, { pivot: 0, factor: 1 });
		const timed = inRounds(onFrames(scaled, t, ticksOfFrame), length, rounds);
		if (kindOf(property) !== 'number') return [{ part: part.id, property, component, keys: timed }];
		let base = shownValue(doc, clip, part, property, component, t);
		let factor = strength * signOf(property, component, space !== motion.space, mirrored);
		if (property === 'translation') factor *= far / (strength || 1);
		if (isFactor(property)) {
			if (Math.abs(base) < LEAST_BASE) base = restValue(part, property, component) || 1;
			factor = base * strength;
			base -= factor;
		}
		const most = property === 'opacity' ? 1 : Infinity;
		return [{ part: part.id, property, component, keys: inValue(timed, base, factor, most) }];
	};
	return motion.channels.flatMap(placed);
}

/**
 * Puts a motion on parts, one after the other by the stagger, from tick `t` on. What the same numbers did meanwhile is
 * replaced, and the clip is made longer where it has to be. Parts that have none of its numbers stay as they are.
 */
export function putMotion(
	doc: Doc,
	clip: string,
	parts: readonly string[],
	motion: Motion,
	amounts: MotionAmounts,
	t: number,
): { doc: Doc; selection: Map<string, Set<number>> } {
	let next = doc;
	const selection = new Map<string, Set<number>>();
	for (const [i, id] of parts.entries()) {
		const part = doc.parts[id];
		const start = t + Math.round(i * amounts.stagger);
		const keys = motionKeys(next, next.clips[clip], part, motion, amounts, start);
		const put = putChannels(next, next.clips[clip], keys, start, TICKS_PER_SECOND / doc.project.frameRate);
		next = put.doc;
		for (const [channel, times] of put.selection) selection.set(channel, times);
	}
	return { doc: next, selection };
}
