/** Blends as a project keeps them, made ready to play; and what an eye would catch of them. */
import { evaluateRound, compileClip, POSE_STRIDE } from '../clip/compile';
import { compileCurve } from '../curve/compile';
import { evaluateCurve } from '../curve/evaluate';
import { PLAYS_ONCE } from '../curve/handles';
import type { Blend, Clip, Doc } from '../document/types';
import type { BlendSpec } from './player';
import { blendPops, GROUPS, type Pop } from './pops';

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

/** How far a property goes in a clip: the largest range of its components. */
function rangesIn(doc: Doc, clip: Clip): Map<string, number> {
	const compiled = compileClip(doc, clip);
	const size = compiled.rest.length;
	const [low, high] = [new Float64Array(size).fill(Infinity), new Float64Array(size).fill(-Infinity)];
	const pose = new Float64Array(size);
	for (let i = 0; i <= 32; i++) {
		evaluateRound(compiled, (clip.length * i) / 32, 0, pose);
		for (let k = 0; k < size; k++) {
			low[k] = Math.min(low[k], pose[k]);
			high[k] = Math.max(high[k], pose[k]);
		}
	}
	const ranges = new Map<string, number>();
	compiled.parts.forEach((part, index) => {
		for (const { property, at, size: count } of GROUPS) {
			let range = 0;
			for (let k = 0; k < count; k++) {
				const slot = index * POSE_STRIDE + at + k;
				range = Math.max(range, high[slot] - low[slot]);
			}
			ranges.set(`${part.id}/${property}`, range);
		}
	});
	return ranges;
}

/**
 * The largest pop of each part and property where a blend begins: at the end of a clip that plays once, at several
 * places of one that goes round.
 */
export function measureBlend(doc: Doc, blend: Blend): MeasuredPop[] {
	const [from, to] = [doc.clips[blend.from], doc.clips[blend.to]];
	if (!from || !to) return [];
	const [here, there] = [rangesIn(doc, from), rangesIn(doc, to)];
	const spec = blendSpec(blend);
	const places =
		from.loop.mode === 'once'
			? [from.length]
			: Array.from({ length: PHASES }, (_, i) => (from.length * (i + 0.5)) / PHASES);
	const worst = new Map<string, MeasuredPop>();
	for (const at of places)
		for (const pop of blendPops(doc, from.id, at, to.id, spec)) {
			const name = `${pop.part}/${pop.property}`;
			const known = worst.get(name);
			if (known && (known.value > pop.value || (known.value === pop.value && known.rate >= pop.rate)))
				continue;
			const range = Math.max(here.get(name) ?? 0, there.get(name) ?? 0);
			worst.set(name, { ...pop, range, at });
		}
	return [...worst.values()].sort((a, b) => b.value - a.value || b.rate - a.rate);
}
