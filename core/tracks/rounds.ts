/** A clip's rounds written one after the other, for readers that do not loop as it does. */
import { localTime, playedTicks, type Looped } from '../../player/loop';
import type { Degree, Piece } from '../curve/piece';
import { distance, JUST_BEFORE, rotates, type Source } from '../fit/source';
import { reachOf } from './reach';
import type { Track } from './track';

/** The most rounds that are written out. */
export const MOST_ROUNDS = 100;

/** How often a clip is written: once where it does not loop, and never more often than it plays. */
export function roundsOf({ loop: { mode, count } }: Looped, wanted: number): number {
	return mode === 'once' ? 1 : Math.max(1, Math.min(wanted, count ?? Infinity));
}

/** Ticks of all rounds, with the pauses between them. */
export function writtenTicks({ length, loop }: Looped, rounds: number): number {
	return playedTicks({ length, loop: { ...loop, count: rounds } });
}

/** Degrees, or units, below which a seam is no jump. */
const SEAM = 1e-6;
/** Nearer to a jump than this, in ticks, a round that runs backwards is already before it. */
const AT_JUMP = 1e-3;

function piecesOf(source: Source, looped: Looped, rounds: number): Piece[] {
	const { length, loop } = looped;
	const period = length + loop.pause;
	const all = new Map<number, Piece>();
	const add = (t: number, jump: boolean, degree?: Degree) => {
		const known = all.get(t);
		all.set(t, known ? { t, jump: known.jump || jump, degree } : { t, jump, degree });
	};
	const [before, after] = [new Float64Array(source.size), new Float64Array(source.size)];
	for (let round = 0; round < rounds; round++) {
		const start = round * period;
		if (loop.mode === 'alternate' && round % 2 === 1)
			for (const { t, jump } of source.pieces) add(start + length - t, jump);
		else for (const { t, jump, degree } of source.pieces) add(start + t, jump, degree);
		if (round === 0) continue;
		source.evaluate(start - JUST_BEFORE, before);
		source.evaluate(start, after);
		add(start, distance(source, before, after) > SEAM);
		if (loop.pause > 0) add(start - loop.pause, false);
	}
	return [...all.values()].sort((a, b) => a.t - b.t);
}

/** A track over several rounds, as the clip plays them: forth or there and back, with pauses, with what accumulates. */
export function inRounds(track: Track, looped: Looped, rounds: number): Track {
	if (rounds === 1) return track;
	const own = track.source;
	const all: Looped = { length: looped.length, loop: { ...looped.loop, count: rounds } };
	const jumps = own.pieces.filter(({ jump }) => jump).map(({ t }) => t);
	const now = { local: 0, round: 0 };
	const source: Source = {
		...own,
		end: writtenTicks(looped, rounds),
		evaluate(ticks, out) {
			localTime(all, ticks, now);
			const isBack = looped.loop.mode === 'alternate' && now.round % 2 === 1;
			const jump = isBack ? jumps.find((t) => Math.abs(t - now.local) < AT_JUMP) : undefined;
			own.evaluate(jump === undefined ? now.local : jump - JUST_BEFORE, out, now.round);
		},
	};
	source.pieces = piecesOf({ ...own, evaluate: source.evaluate }, looped, rounds);
	return {
		...track,
		source,
		// No keys of its own say all rounds: they are fitted.
		components: [],
		...(rotates(own) ? {} : reachOf((t, out) => source.evaluate(t, out), source.size, source)),
	};
}
