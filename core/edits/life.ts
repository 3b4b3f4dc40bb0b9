/** The life of a part in a clip: the stretches of time in which it is shown, as its visible channel has them. */
import type { Key } from '../curve/types';
import { channelId, type Channel, type Clip, type Doc, type Part } from '../document/types';
import { clamp } from '../time';
import { makeChannel, removeChannels } from './keys';

/** Ticks from which and until which a part is shown. */
export interface Life {
	from: number;
	to: number;
}

/** The stretches in which a part is shown: of its visible channel, or, without one, as it rests. */
export function livesOf(channel: Channel | undefined, part: Part, clip: Clip): Life[] {
	if (!channel) return part.visible ? [{ from: 0, to: clip.length }] : [];
	const shown: Life[] = [];
	channel.keys.forEach(({ t, v }, i) => {
		// What the first key says holds from the start on.
		const from = i === 0 ? 0 : t;
		const to = Math.min(clip.length, channel.keys[i + 1]?.t ?? clip.length);
		if (v >= 0.5 && to > from) shown.push({ from, to });
	});
	return joined(shown);
}

/** Stretches in order, those that touch made one. */
function joined(lives: readonly Life[]): Life[] {
	const result: Life[] = [];
	for (const life of lives) {
		const last = result.at(-1);
		if (last?.to === life.from) result[result.length - 1] = { from: last.from, to: life.to };
		else result.push(life);
	}
	return result;
}

function keysOf(lives: readonly Life[], length: number): Key[] {
	const key = (t: number, v: number): Key => ({ t, v, shape: { kind: 'hold' } });
	const keys = lives[0]?.from === 0 ? [] : [key(0, 0)];
	for (const { from, to } of lives) {
		keys.push(key(from, 1));
		if (to < length) keys.push(key(to, 0));
	}
	return keys;
}

/** Writes the stretches in which a part is shown: in order, apart, within the clip. Shown throughout, it needs no key. */
export function putLives(doc: Doc, clip: Clip, part: string, lives: readonly Life[]): Doc {
	const address = { clip: clip.id, part, property: 'visible', component: 'value' } as const;
	const id = channelId(clip.id, part, 'visible', 'value');
	const isWhole = lives.length === 1 && lives[0].from <= 0 && lives[0].to >= clip.length;
	if (isWhole && doc.parts[part]?.visible) return removeChannels(doc, [id]);
	const channel = doc.channels[id] ?? makeChannel(address, []);
	return { ...doc, channels: { ...doc.channels, [id]: { ...channel, keys: keysOf(lives, clip.length) } } };
}

/** A stretch that begins or ends elsewhere: not past its other end, nor into the next one, by at least `least` ticks. */
export function moveEnd(
	lives: readonly Life[],
	index: number,
	end: keyof Life,
	t: number,
	length: number,
	least: number,
): Life[] {
	const own = lives[index];
	const before = index > 0 ? lives[index - 1].to + least : 0;
	const after = index < lives.length - 1 ? lives[index + 1].from - least : length;
	const next =
		end === 'from'
			? { ...own, from: clamp(t, before, own.to - least) }
			: { ...own, to: clamp(t, own.from + least, after) };
	return lives.with(index, next);
}

/**
 * The stretches with one that begins or ends at a tick: the one about it, or the nearest that can; those that come to
 * touch become one. Null where none can.
 */
export function cutAt(lives: readonly Life[], end: keyof Life, t: number, length: number): Life[] | null {
	const isFrom = end === 'from';
	// What begins here cannot end here too.
	if (!isFrom && lives.some((life) => life.from === t)) return null;
	const about = lives.findIndex((life) => life.from < t && t < life.to);
	if (about >= 0) return lives.with(about, { ...lives[about], [end]: t });
	// What was hidden until then, or from then on, is shown up to the next stretch.
	const next = isFrom
		? lives.findIndex((life) => life.from >= t)
		: lives.findLastIndex((life) => life.to <= t);
	if (next >= 0) return joined(lives.with(next, { ...lives[next], [end]: t }));
	const made = isFrom ? { from: t, to: length } : { from: 0, to: t };
	// At the very end of the clip, or at its start, nothing is left to be shown.
	if (made.to <= made.from) return null;
	return joined(isFrom ? [...lives, made] : [made, ...lives]);
}
