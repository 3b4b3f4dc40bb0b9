/** Edits on whole clips: playing backwards, mirroring, cutting out, taking apart and putting together. */
import { curveOf, vectorOf } from '../clip/compile';
import { freezeEnds, moveKeys, scaleKey } from '../curve/edit';
import { insertOnCurve } from '../curve/split';
import { evaluateCurve } from '../../player/curve/evaluate';
import type { Four } from '../../player/maths/vector';
import type { Key } from '../curve/types';
import { evaluateVector } from '../../player/curve/vector';
import { parseHex } from '../pose/hex';
import { fromEuler } from '../../player/maths/quaternion';
import { putClip } from './clips';
import { editOnCurve, HOLD_ENDS } from './keys';
import { reverseKeys } from './retime';
import { restValue } from '../document/rest';
import { changesSide, OTHER_SIDE } from '../document/sides';
import {
	channelId,
	channelsOfClip,
	formulaId,
	formulasOfClip,
	isVector,
	type Channel,
	cuesOfClip,
	type Clip,
	type Cue,
	type Doc,
	type Formula,
} from '../document/types';

function withCues(doc: Doc, cues: readonly Cue[]): Doc {
	return { ...doc, cues: { ...doc.cues, ...Object.fromEntries(cues.map((cue) => [cue.id, cue])) } };
}

/** The whole clip backwards: keys, ends and cues. Formulas follow what they read. */
export function reverseClip(doc: Doc, clip: Clip): Doc {
	let next = doc;
	for (const channel of channelsOfClip(doc, clip.id)) {
		const [first, last] = [channel.keys[0].t, channel.keys.at(-1)!.t];
		next = reverseKeys(next, new Map([[channel.id, new Set([first, last])]]));
		const own = next.channels[channel.id];
		const all = new Set(own.keys.map((key) => key.t));
		const keys = moveKeys(own.keys, all, clip.length - last - first, 0);
		const ends = { before: channel.ends.after, after: channel.ends.before };
		next = { ...next, channels: { ...next.channels, [channel.id]: { ...own, keys, ends } } };
	}
	return withCues(
		next,
		cuesOfClip(doc, clip.id).map((cue) => ({ ...cue, t: Math.max(0, clip.length - cue.t) })),
	);
}

/** Mirrors left and right about the rest pose of each part. */
export function mirrorClip(doc: Doc, clip: Clip): Doc {
	const channels = { ...doc.channels };
	for (const channel of channelsOfClip(doc, clip.id)) {
		const { property, component, id } = channel;
		if (!changesSide(property, component)) continue;
		const about = restValue(doc.parts[channel.part], property, component);
		const keys = channel.keys.map((key) => {
			const mirrored = scaleKey(key, about, -1);
			if (key.shape.kind === 'spring')
				mirrored.shape = { ...key.shape, velocity: key.shape.velocity === 0 ? 0 : -key.shape.velocity };
			return mirrored;
		});
		channels[id] = { ...channel, keys };
	}
	return { ...doc, channels: swapInsets(doc, clip, channels) };
}

/** What is revealed from the left is revealed from the right then, about the rest pose as well. */
function swapInsets(doc: Doc, clip: Clip, channels: Record<string, Channel>): Record<string, Channel> {
	const swapped = { ...channels };
	const sides = channelsOfClip(doc, clip.id).filter(
		({ property, component }) => property === 'reveal' && (component === 'left' || component === 'right'),
	);
	for (const { id } of sides) delete swapped[id];
	for (const channel of sides) {
		const { part, property, component } = channel;
		const other = OTHER_SIDE[component]!;
		const rest = (side: typeof other) => restValue(doc.parts[part], 'reveal', side);
		const by = rest(other) - rest(component as typeof other);
		const id = channelId(clip.id, part, property, other);
		const keys = by === 0 ? channel.keys : channel.keys.map((key) => ({ ...key, v: key.v + by }));
		swapped[id] = { ...channel, id, component: other, keys };
	}
	return swapped;
}

/** A key with what a channel shows at a time. */
function keyAt(clip: Clip, channel: Channel, t: number, at: number): Key {
	if (!isVector(channel.property))
		return { t: at, v: evaluateCurve(curveOf(channel, clip), t), shape: { kind: 'hold' } };
	const vector: Four = [0, 0, 0, 1];
	evaluateVector(vectorOf(channel, clip), t, vector);
	return { t: at, v: 0, shape: { kind: 'hold' }, vector };
}

/** The keys of a channel from one tick to another, as a clip of its own: the motion between is not changed. */
function cutKeys(doc: Doc, clip: Clip, channel: Channel, from: number, to: number): Key[] {
	const inside = (t: number) => t > channel.keys[0].t && t < channel.keys.at(-1)!.t;
	const split = editOnCurve(doc, channel, (keys, context) => {
		const own = freezeEnds(keys, context);
		const start = inside(from) ? insertOnCurve(own, from, context) : own;
		return inside(to) ? insertOnCurve(start, to, context) : start;
	});
	const kept = split
		.filter((key) => key.t >= from && key.t <= to)
		.map((key) => ({ ...key, t: key.t - from }));
	if (kept.length === 0) return [keyAt(clip, channel, from, 0)];
	// What held or ran on before the first key that is left goes on doing so.
	if (kept[0].t > 0 && channel.keys[0].t < from) kept.unshift(keyAt(clip, channel, from, 0));
	return kept;
}

/** Cuts a clip down to the stretch between two ticks; cues outside it go. */
export function trimClip(doc: Doc, clip: Clip, from: number, to: number): Doc {
	const channels = { ...doc.channels };
	for (const channel of channelsOfClip(doc, clip.id))
		channels[channel.id] = { ...channel, keys: cutKeys(doc, clip, channel, from, to) };
	const cues = { ...doc.cues };
	for (const cue of cuesOfClip(doc, clip.id)) {
		if (cue.t < from || cue.t > to) delete cues[cue.id];
		else cues[cue.id] = { ...cue, t: cue.t - from };
	}
	return putClip({ ...doc, channels, cues }, { ...clip, length: to - from });
}

/** Takes a clip apart at a tick: it ends there, and `second` (with an id and a name of its own) begins there. */
export function splitClip(doc: Doc, clip: Clip, t: number, second: Clip): Doc {
	const channels = { ...doc.channels };
	const formulas = { ...doc.formulas };
	for (const channel of channelsOfClip(doc, clip.id)) {
		const { part, property, component } = channel;
		const id = channelId(second.id, part, property, component);
		channels[id] = { ...channel, id, clip: second.id, keys: cutKeys(doc, clip, channel, t, clip.length) };
		channels[channel.id] = { ...channel, keys: cutKeys(doc, clip, channel, 0, t) };
	}
	for (const formula of formulasOfClip(doc, clip.id)) {
		const id = formulaId(second.id, formula.part, formula.property, formula.component);
		formulas[id] = { ...formula, id, clip: second.id };
	}
	const cues = { ...doc.cues };
	for (const cue of cuesOfClip(doc, clip.id))
		if (cue.t > t) cues[cue.id] = { ...cue, clip: second.id, t: cue.t - t };
	const first = putClip({ ...doc, channels, formulas, cues }, { ...clip, length: t });
	return putClip(first, { ...second, length: clip.length - t });
}

/** The rest pose of a channel's part as a key that holds. */
function restKey(doc: Doc, { part, property, component }: Channel, t: number): Key {
	const { rest, eulerOrder, colour } = doc.parts[part];
	const shape = { kind: 'hold' } as const;
	if (property === 'colour') return { t, v: 0, shape, vector: parseHex(colour) };
	if (property === 'orientation') return { t, v: 0, shape, vector: fromEuler(rest.rotation, eulerOrder) };
	return { t, v: restValue(doc.parts[part], property, component), shape };
}

const sameKey = (a: Key, b: Key) =>
	a.v === b.v && (a.vector?.every((v, k) => v === b.vector?.[k]) ?? b.vector === undefined);

/** Puts the motion of another clip after a clip; parts that one of them leaves alone are at rest there. */
export function joinClips(doc: Doc, clip: Clip, other: Clip, cueId: () => string): Doc {
	const at = clip.length;
	const channels = { ...doc.channels };
	const following = new Map(
		channelsOfClip(doc, other.id).map((channel) => {
			const { part, property, component } = channel;
			return [channelId(clip.id, part, property, component), channel];
		}),
	);
	for (const channel of channelsOfClip(doc, clip.id)) {
		const last = channel.keys.at(-1)!;
		const next = following.get(channel.id);
		const start = next ? keyAt(other, next, 0, at) : restKey(doc, channel, at);
		const later = next ? next.keys.map((key) => ({ ...key, t: key.t + at })) : [];
		const begun = later[0]?.t === at ? later : [start, ...later];
		const before = channel.keys.filter((key) => key.t < at);
		// A channel that ends early waits until the other clip begins.
		if (last.t < at) before[before.length - 1] = { ...last, shape: { kind: 'hold' } };
		// A jump where they meet: the first clip shows its end until a tick before.
		const jumps = last.t === at && !sameKey(last, begun[0]) && at - 1 > (before.at(-1)?.t ?? -1);
		const kept = jumps ? [...before, { ...last, t: at - 1, shape: { kind: 'hold' as const } }] : before;
		channels[channel.id] = { ...channel, keys: [...kept, ...begun] };
	}
	for (const [id, channel] of following) {
		if (channels[id]) continue;
		const keys = [restKey(doc, channel, 0), ...channel.keys.map((key) => ({ ...key, t: key.t + at }))];
		channels[id] = { ...channel, id, clip: clip.id, keys, ends: HOLD_ENDS, accumulates: false };
	}
	const formulas = { ...doc.formulas };
	for (const formula of formulasOfClip(doc, other.id)) {
		const id = formulaId(clip.id, formula.part, formula.property, formula.component);
		const taken: Formula | undefined = formulas[id];
		if (!taken) formulas[id] = { ...formula, id, clip: clip.id };
	}
	const cues = cuesOfClip(doc, other.id).map((cue) => ({
		...cue,
		id: cueId(),
		clip: clip.id,
		t: cue.t + at,
	}));
	return withCues(putClip({ ...doc, channels, formulas }, { ...clip, length: at + other.length }), cues);
}
