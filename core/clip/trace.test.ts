import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { linear, ONCE, ProjectBuilder, REPEAT } from '../../demo/builder';
import { END_KINDS } from '../../player/curve/flat';
import { evaluateCurve } from '../../player/curve/evaluate';
import { setAccumulates, setEnds } from '../edits/keys';
import { compileClip, curveOf, poseAt } from './compile';
import { piecesOver, traceOf } from './trace';

const FRAME = 2400;
const ID = 'c/crate/translation/x';
const base = new ProjectBuilder('Crate', 'world', 30)
	.part('crate', { kind: 'box', size: [1, 1, 1] })
	.startClip('c', 60, ONCE)
	.keys('crate', 'translation.x', [
		[20, 0, linear],
		[23, 5, linear],
		[30, 1],
	])
	.build();

describe('the pieces of a channel that goes on beyond its keys', () => {
	it('hold every corner and jump of it, before and after', () => {
		fc.assert(
			fc.property(fc.constantFrom(...END_KINDS), fc.constantFrom(...END_KINDS), (before, after) => {
				const doc = setEnds(base, [ID], { before, after });
				const curve = curveOf(doc.channels[ID], doc.clips.c);
				const pieces = piecesOver(doc.channels[ID], 60 * FRAME);
				// Between them the channel is a straight line.
				const times = [...new Set([0, ...pieces.map(({ t }) => t), 60 * FRAME])].sort((a, b) => a - b);
				for (let i = 0; i + 1 < times.length; i++) {
					const [from, to] = [times[i], times[i + 1]];
					const at = (share: number) => evaluateCurve(curve, from + share * (to - from));
					expect(at(0.5), `${before} ${after} ${from}`).toBeCloseTo((at(0.25) + at(0.75)) / 2, 9);
				}
				// What jumps is marked.
				const jumps = new Set(pieces.filter(({ jump }) => jump).map(({ t }) => t));
				for (const t of times.slice(1, -1))
					if (Math.abs(evaluateCurve(curve, t) - evaluateCurve(curve, t - 0.01)) > 0.1)
						expect(jumps.has(t), `${before} ${after} ${t}`).toBe(true);
			}),
		);
	});
});

it('a number is read in later rounds too, with what its channel, or those its formula reads, gain in each', () => {
	const built = new ProjectBuilder('Cart', 'world', 30)
		.part('cart', { kind: 'box', size: [1, 1, 1] })
		.part('wheel', { kind: 'ball', size: [1, 1, 1] })
		.startClip('c', 60, REPEAT)
		.keys('cart', 'translation.x', [
			[0, 1, linear],
			[60, 4],
		])
		.formula('wheel', 'rotation.z', 'x * x', { x: 'cart/translation.x' })
		.build();
	const doc = setAccumulates(built, ['c/cart/translation/x'], true);
	const compiled = compileClip(doc, doc.clips.c);
	const [{ place: computed }] = compiled.formulas.order;
	const [{ place: keyed }] = compiled.channels;
	const [wheel, cart] = [computed, keyed].map((place) => traceOf(compiled, place).read);
	expect([cart(30 * FRAME), cart(30 * FRAME, 2), wheel(30 * FRAME, 2)]).toEqual([2.5, 8.5, 8.5 ** 2]);
	expect(wheel(45 * FRAME, 1)).toBeCloseTo(poseAt(compiled, 45 * FRAME, 1)[computed], 9);
	expect(wheel(45 * FRAME)).toBe(3.25 ** 2);
});
