/** Keyframes as SMIL's animations of attributes. Source: SVG Animations Level 2; SMIL 3.0, 12.5. */
import { ticksToSeconds } from '../../../player/time';
import type { Clip } from '../../document/types';
import { APART, HELD, STRAIGHT, type Frame } from '../web/frames';
import { framesOfRound, roundOf } from '../web/round';

const BEZIER = /^cubic-bezier\(([^)]+)\)$/;

function handlesOf(easing: string): number[] | null {
	return BEZIER.exec(easing)?.[1].split(',').map(Number) ?? null;
}

/** Whether SMIL has an easing: straight, held, or a curve whose handles stay within its span. */
export function isSaid(easing: string): boolean {
	if (easing === STRAIGHT || easing === HELD) return true;
	return handlesOf(easing)?.every((v) => v >= 0 && v <= 1) ?? false;
}

/** A key with the handles of the way to the next one; held values have a key just before the next. */
interface Key {
	at: number;
	values: readonly number[];
	handles: readonly number[];
}

const LINE = [0, 0, 1, 1];

function keysOf(frames: readonly Frame[]): Key[] {
	return frames.flatMap(({ at, values, easing }, i): Key[] => {
		const key = { at, values, handles: handlesOf(easing) ?? LINE };
		const next = frames[i + 1];
		if (easing !== HELD || !next || next.at - at <= 2 * APART) return [key];
		return [key, { at: next.at - APART, values, handles: LINE }];
	});
}

/** There, and back the same way: SMIL turns nothing round by itself. */
function thereAndBack(keys: readonly Key[]): Key[] {
	const there = keys.map((key) => ({ ...key, at: key.at / 2 }));
	const back = keys.slice(0, -1).map(({ at, values, handles: [x1, y1, x2, y2] }) => ({
		at: 1 - at / 2,
		values,
		handles: [1 - x2, 1 - y2, 1 - x1, 1 - y1],
	}));
	// The handles of a way back stand at the key that it now begins from.
	const reversed = back.reverse().map((key, i, all) => ({ ...key, handles: all[i + 1]?.handles ?? LINE }));
	const turn = { ...there.at(-1)!, handles: reversed.length > 0 ? handlesBack(keys) : LINE };
	return [...there.slice(0, -1), turn, ...reversed];
}

/** The handles of the last way of some keys, walked back. */
function handlesBack(keys: readonly Key[]): number[] {
	const [x1, y1, x2, y2] = keys.at(-2)!.handles;
	return [1 - x2, 1 - y2, 1 - x1, 1 - y1];
}

/** Attributes that all animations of a clip share. */
export function timingOf(clip: Clip): string {
	const { before, all } = roundOf(clip);
	const { mode, count } = clip.loop;
	const turns = mode === 'alternate' ? 2 : 1;
	const rounds = mode === 'once' ? 1 : count;
	const begin = before > 0 ? ` begin="-${Number(ticksToSeconds(before).toFixed(6))}s"` : '';
	const repeat = rounds === null ? 'indefinite' : String(rounds / turns);
	return `dur="${Number(ticksToSeconds(turns * all).toFixed(6))}s"${begin} repeatCount="${repeat}" fill="freeze"`;
}

const short = (v: number, digits: number) => String(Number(v.toFixed(digits)));

/** The attributes that say how something goes over a clip; `text` writes what it is at a key. */
export function courseOf(
	frames: readonly Frame[],
	clip: Clip,
	text: (values: readonly number[]) => string,
	isSwitch = false,
): string {
	const round = framesOfRound(frames, clip);
	if (isSwitch) {
		const turned =
			clip.loop.mode === 'alternate'
				? thereAndBack(keysOf(round)).filter(({ at }) => at < 1)
				: round.filter(({ at }) => at < 1);
		const values = turned.map((key) => text(key.values)).join(';');
		return `calcMode="discrete" values="${values}" keyTimes="${turned.map(({ at }) => short(at, 9)).join(';')}"`;
	}
	const keys = clip.loop.mode === 'alternate' ? thereAndBack(keysOf(round)) : keysOf(round);
	const values = keys.map((key) => text(key.values)).join(';');
	const times = keys.map(({ at }) => short(at, 9)).join(';');
	if (keys.every(({ handles }) => handles.every((v, k) => v === LINE[k])))
		return `values="${values}" keyTimes="${times}"`;
	const splines = keys
		.slice(0, -1)
		.map(({ handles }) => handles.map((v) => short(v, 6)).join(' '))
		.join(';');
	return `calcMode="spline" values="${values}" keyTimes="${times}" keySplines="${splines}"`;
}
