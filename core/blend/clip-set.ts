/** Clips and blends as a project keeps them, made ready to play; and what an eye would catch of them. */
import { evaluateCurve } from '../../player/curve/evaluate';
import { makeLayout, placeOf } from '../../player/layout';
import { evaluateRound } from '../../player/motion';
import type { BlendSpec, ClipSet, Names } from '../../player/clips';
import { compileTogether, type CompiledClip } from '../clip/compile';
import { compileCurve } from '../curve/compile';
import { PLAYS_ONCE } from '../curve/handles';
import {
	blendId,
	clipsInOrder,
	cuesOfClip,
	type Blend,
	type Clip,
	type Cue,
	type Doc,
} from '../document/types';
import { blendPops, poppable, type Pop } from './pops';

const HOLDS = { before: 'hold', after: 'hold' } as const;
const FINE = 1_000_000;

/** What the player needs of a stored blend. */
export function blendSpec({ kind, seconds, start, shape }: Blend): BlendSpec {
	const from = typeof start === 'number' ? { seconds: start } : start;
	if (shape.kind === 'linear') return { kind, seconds, start: from };
	const curve = compileCurve(
		[
			{ t: 0, v: 0, shape },
			{ t: FINE, v: 1, shape: { kind: 'hold' } },
		],
		HOLDS,
		PLAYS_ONCE,
	);
	return { kind, seconds, start: from, ease: (x) => evaluateCurve(curve, x * FINE) };
}

/** Places of a clip that a looping one may be left from. */
const PHASES = 8;

/** A pop with what it is measured by: the range of its property over both clips. */
export interface MeasuredPop extends Pop {
	range: number;
	/** Ticks of the clip that goes. */
	at: number;
}

/** The range over a clip of each target that can pop, by its place: the largest of its numbers' ranges, in degrees of rotations. */
function rangesIn(compiled: CompiledClip): Map<number, number> {
	const { layout } = compiled;
	const size = layout.rest.length;
	const [low, high] = [new Float64Array(size).fill(Infinity), new Float64Array(size).fill(-Infinity)];
	const pose = new Float64Array(size);
	for (let i = 0; i <= 32; i++) {
		evaluateRound(compiled, (compiled.length * i) / 32, 0, pose);
		for (let k = 0; k < size; k++) {
			low[k] = Math.min(low[k], pose[k]);
			high[k] = Math.max(high[k], pose[k]);
		}
	}
	return new Map(
		poppable(layout).map(({ part, kind, at, size: count }) => {
			const angles = kind === 'rotation' ? placeOf(layout, part, 'angles') : -1;
			let range = 0;
			for (let k = 0; k < (angles < 0 ? count : 3); k++) {
				const place = (angles < 0 ? at : angles) + k;
				range = Math.max(range, high[place] - low[place]);
			}
			// Without angles to measure by: a quaternion's component goes from −1 to 1, so its range of 2 stands for 180°.
			return [at, angles < 0 && kind === 'rotation' ? 90 * range : range];
		}),
	);
}

/** The names of a document: cues with their ids. */
export interface DocNames extends Names {
	cue: Cue;
}

/** Clips of a document as a player plays them, by their ids. */
export function clipSet(doc: Doc, clips: readonly Clip[] = clipsInOrder(doc)): ClipSet<DocNames> {
	const compiled = compileTogether(doc, clips);
	return {
		layout: compiled[0]?.layout ?? makeLayout([]),
		blendOf: (from, to) => {
			const blend = doc.blends[blendId(from, to)];
			return blend && blendSpec(blend);
		},
		clips: new Map(
			compiled.map((motion) => {
				const { id, name } = motion.clip;
				return [id, { name, motion, cues: cuesOfClip(doc, id) }];
			}),
		),
	};
}

/**
 * Measures blends between two clips: the largest pop of each part and property where one begins, at the end of a clip that
 * plays once, at several places of one that goes round. Null where a clip is not there.
 */
export function blendMeter(
	doc: Doc,
	ends: Pick<Blend, 'from' | 'to'>,
): ((blend: Blend) => MeasuredPop[]) | null {
	const [from, to] = [doc.clips[ends.from], doc.clips[ends.to]];
	if (!from || !to) return null;
	const set = clipSet(doc, [from, to]);
	const [here, there] = compileTogether(doc, [from, to]).map(rangesIn);
	const places =
		from.loop.mode === 'once'
			? [from.length]
			: Array.from({ length: PHASES }, (_, i) => (from.length * (i + 0.5)) / PHASES);
	return (blend) => {
		const spec = blendSpec(blend);
		const worst = new Map<number, MeasuredPop>();
		for (const at of places)
			for (const pop of blendPops(set, from.id, at, to.id, spec)) {
				const place = placeOf(set.layout, pop.part, pop.property);
				const known = worst.get(place);
				if (known && (known.value > pop.value || (known.value === pop.value && known.rate >= pop.rate)))
					continue;
				const range = Math.max(here.get(place) ?? 0, there.get(place) ?? 0);
				worst.set(place, { ...pop, range, at });
			}
		return [...worst.values()].sort((a, b) => b.value - a.value || b.rate - a.rate);
	};
}

/** The largest pops of one blend. */
export function measureBlend(doc: Doc, blend: Blend): MeasuredPop[] {
	return blendMeter(doc, blend)?.(blend) ?? [];
}
