/** Fewer keys, or even ones, for the picked stretch of each channel. */
import { curveOf } from '../clip/compile';
import { piecesOver } from '../clip/trace';
import { evaluateCurve } from '../../player/curve/evaluate';
import type { Key } from '../curve/types';
import type { Source } from '../fit/source';
import { evenKeys, keysWithin } from '../fit/to-keys';
import { kindOf, type Channel, type Doc } from '../document/types';
import type { KeySelection } from './keys';

/** A stretch of a channel as something to fit. */
function sourceOf(doc: Doc, channel: Channel, start: number, end: number): Source {
	const curve = curveOf(channel, doc.clips[channel.clip]);
	return {
		size: 1,
		start,
		end,
		pieces: piecesOver(channel, end).filter(({ t }) => t > start && t < end),
		evaluate(t, out) {
			out[0] = evaluateCurve(curve, t);
		},
	};
}

/** Replaces the keys of the picked stretch; the sides of its ends that look outwards stay as they were. */
function replaceStretch(
	doc: Doc,
	selection: KeySelection,
	make: (source: Source, range: number) => Key[],
): Doc {
	const channels = { ...doc.channels };
	for (const [id, times] of selection) {
		const channel = channels[id];
		if (!channel || kindOf(channel.property) !== 'number' || times.size < 2) continue;
		const [start, end] = [Math.min(...times), Math.max(...times)];
		const inside = channel.keys.filter((key) => key.t >= start && key.t <= end);
		const range = Math.max(...inside.map((key) => key.v)) - Math.min(...inside.map((key) => key.v));
		const made = make(sourceOf(doc, channel, start, end), range);
		const [first, last] = [inside[0], inside.at(-1)!];
		const keys = made.map((key, i): Key => {
			if (i === 0 && first.left) return { ...key, left: first.left };
			if (i < made.length - 1) return key;
			const ending: Key = { ...key, shape: last.shape };
			if (last.right) ending.right = last.right;
			return ending;
		});
		channels[id] = {
			...channel,
			keys: [
				...channel.keys.filter((key) => key.t < start),
				...keys,
				...channel.keys.filter((key) => key.t > end),
			],
		};
	}
	return { ...doc, channels };
}

/** As few keys with handles as stay within a share of each stretch's range (of a tiny amount where it has none). */
export function reduceKeys(doc: Doc, selection: KeySelection, share: number): Doc {
	return replaceStretch(doc, selection, (source, range) => keysWithin(source, share * (range || 1e-6)).keys);
}

/** Straight keys every `step` ticks. Throws a RangeError for a step below one tick. */
export function resampleKeys(doc: Doc, selection: KeySelection, step: number): Doc {
	if (!(step >= 1)) throw new RangeError('keys must be a tick apart at least');
	return replaceStretch(doc, selection, (source) => evenKeys(source, Math.round(step)));
}
