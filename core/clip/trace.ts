/** One number of a clip over a round, whether keys or a formula make it: for pictures, checks and exports. */
import { curvePieces } from '../curve/compile';
import type { FlatCurve } from '../../player/curve/flat';
import { evaluateCurve } from '../../player/curve/evaluate';
import type { EndKind } from '../../player/curve/flat';
import type { Channel } from '../document/types';
import type { Degree, Piece } from '../curve/piece';
import { frameToTicks } from '../time';
import { curveKeys, writeVector, type CompiledClip } from './compile';
import { runFormulas, type CompiledFormula } from './formulas';

/** What makes one number. */
export interface Trace {
	/** The curve that is the number, where it is one. */
	curve: FlatCurve | null;
	channel: Channel | null;
	formula: CompiledFormula | null;
	/** The value at a local time in ticks, in the first round or a later one. */
	read: (local: number, round?: number) => number;
	pieces: readonly Piece[];
}

/** Corners and jumps of a channel over [0, length], its ends unrolled. */
export function piecesOver(channel: Channel, length: number): Piece[] {
	const own = curvePieces(curveKeys(channel));
	const { before, after } = channel.ends;
	const first = own[0].t;
	const last = own.at(-1)!.t;
	const period = last - first;
	const pieces = own.filter((piece) => piece.t <= length);
	const isPlain = (kind: EndKind) => period <= 0 || kind === 'hold' || kind === 'straight';
	const unroll = (kind: EndKind, from: number, to: number) => {
		for (
			let round = Math.floor((from - first) / period);
			round <= Math.ceil((to - first) / period);
			round++
		) {
			if (round === 0) continue;
			const backwards = kind === 'alternate' && Math.abs(round) % 2 === 1;
			for (const piece of own) {
				const t = (backwards ? last - piece.t : piece.t - first) + first + round * period;
				const isSeam = kind === 'repeat' && (piece.t === first || piece.t === last);
				if (t >= from && t <= to) pieces.push({ t, jump: piece.jump || isSeam });
			}
		}
	};
	if (first > 0) {
		if (isPlain(before)) pieces.push({ t: 0, jump: false, degree: 1 });
		else unroll(before, 0, first);
	}
	if (last < length && !isPlain(after)) {
		pieces[own.length - 1].degree = undefined;
		unroll(after, last, length);
	}
	return pieces.sort((a, b) => a.t - b.t);
}

/** The pieces of several channels as one: of a stretch the highest degree of theirs. */
export function mergePieces(lists: readonly (readonly Piece[])[]): Piece[] {
	const merged: Piece[] = [];
	const now = lists.map((list): Degree | undefined => (list.length === 0 ? 1 : undefined));
	const all = lists.flatMap((list, i) => list.map((piece) => ({ piece, i })));
	for (const { piece, i } of all.sort((a, b) => a.piece.t - b.piece.t)) {
		now[i] = piece.degree;
		const degree = now.includes(undefined) ? undefined : now.includes(3) ? 3 : 1;
		const last = merged.at(-1);
		if (last && last.t === piece.t) {
			last.jump ||= piece.jump;
			last.degree = degree;
		} else merged.push({ t: piece.t, jump: piece.jump, degree });
	}
	return merged;
}

/** Formulas that a place needs, in order, and the places that are not formulas' own among what they read. */
function needsOf(compiled: CompiledClip, place: number): { order: CompiledFormula[]; read: Set<number> } {
	const wanted = new Set([place]);
	const order: CompiledFormula[] = [];
	for (const formula of [...compiled.formulas.order].reverse()) {
		if (!wanted.has(formula.place)) continue;
		order.unshift(formula);
		wanted.delete(formula.place);
		for (const input of formula.inputs) if (input >= 0) wanted.add(input);
	}
	return { order, read: wanted };
}

/** How often a formula is looked at for jumps that no key tells of, a second. */
const LOOKS = 240;
/** A change that is still there when its stretch has shrunk to this many ticks is a jump. */
const JUMP_TICKS = 5e-5;

/** Jumps of a function between places that are known: found where a change does not shrink with its stretch. */
export function findJumps(read: (t: number) => number, length: number, known: readonly Piece[]): Piece[] {
	const marks = [...new Set([0, ...known.map((piece) => piece.t).filter((t) => t < length), length])];
	const found: Piece[] = [];
	for (let m = 0; m + 1 < marks.length; m++) {
		const [from, to] = [marks[m], marks[m + 1]];
		const count = Math.max(1, Math.ceil((to - from) / frameToTicks(1, LOOKS)));
		const at = (i: number) => Math.min(from + ((to - from) * i) / count, to - 1e-4);
		const values = Array.from({ length: count + 1 }, (_, i) => read(at(i)));
		const changes = values.slice(1).map((v, i) => Math.abs(v - values[i]));
		changes.forEach((change, i) => {
			if (change < 1e-9 || change <= 1.5 * Math.max(changes[i - 1] ?? 0, changes[i + 1] ?? 0)) return;
			let [low, high, lowValue, highValue] = [at(i), at(i + 1), values[i], values[i + 1]];
			while (high - low > JUMP_TICKS) {
				const middle = (low + high) / 2;
				const v = read(middle);
				if (Math.abs(v - lowValue) > Math.abs(highValue - v)) [high, highValue] = [middle, v];
				else [low, lowValue] = [middle, v];
			}
			if (Math.abs(highValue - lowValue) > 0.5 * change) found.push({ t: high, jump: true });
		});
	}
	return found;
}

/** Everything about one place in a pose of a compiled clip; its pieces are those of the first round. */
export function traceOf(compiled: CompiledClip, place: number): Trace {
	const { clip, formulas, layout } = compiled;
	const formula = formulas.order.find((candidate) => candidate.place === place) ?? null;
	const own = compiled.channels.find((channel) => channel.place === place);
	if (!formula) {
		const { curve, channel } = own ?? { curve: null, channel: null };
		return {
			curve,
			channel,
			formula,
			read: curve
				? (local, round = 0) => evaluateCurve(curve, local) + round * own!.change
				: () => layout.rest[place],
			pieces: channel ? piecesOver(channel, clip.length) : [],
		};
	}
	const { order, read } = needsOf(compiled, place);
	const channels = compiled.channels.filter((channel) => read.has(channel.place));
	const isRead = (place: number, size: number) =>
		place >= 0 && Array.from({ length: size }, (_, k) => place + k).some((k) => read.has(k));
	const vectors = compiled.vectors.filter(({ place: own, angles }) => isRead(own, 4) || isRead(angles, 3));
	const pose = layout.rest.slice();
	const value = (local: number, round = 0): number => {
		for (const channel of channels) {
			pose[channel.place] = evaluateCurve(channel.curve, local) + round * channel.change;
		}
		for (const vector of vectors) writeVector(vector, local, pose);
		runFormulas({ order, framesPerTick: formulas.framesPerTick }, local, pose);
		return pose[place];
	};
	const lists = [...channels, ...vectors].map(({ channel }) => piecesOver(channel, clip.length));
	// What a formula makes of polynomials need not be one.
	const known = mergePieces(lists).map(({ t, jump }) => ({ t, jump }));
	return {
		curve: null,
		channel: null,
		formula,
		read: value,
		pieces: mergePieces([known, findJumps(value, clip.length, known)]),
	};
}
