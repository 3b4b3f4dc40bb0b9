/** Spans that do what nobody meant: past their keys, backwards first, springs cut short, rebounds that grow. */
import { springSettleSeconds } from '../../player/easing/ease';
import { spanExcess } from '../curve/excess';
import type { Key } from '../curve/types';
import type { Mend } from './finding';
import { moveKeys, setKeyValue, setModes, setShape } from '../edits/keys';
import { snapToFrame } from '../time';
import { TICKS_PER_SECOND } from '../../player/time';
import { NOTICEABLE, number, report, selectionOf, unitHere, type Subject } from './subject';

/** How far a span leaves the values of its two keys, and how far it first goes the wrong way. */
export function checkSpan(subject: Subject, index: number): void {
	const { channel, curve, range } = subject;
	const key = channel.keys[index];
	const next = channel.keys[index + 1];
	const excess = spanExcess(curve, key, next);
	if (!excess) return;
	const { past, pastAt, back } = excess;
	const smooth: Mend = {
		label: 'Make its handles smooth',
		edit: (doc) =>
			setModes(
				setShape(doc, selectionOf(channel, key.t), { kind: 'handles' }),
				selectionOf(channel, key.t, next.t),
				'smooth',
			),
	};
	if (back > NOTICEABLE * range) {
		report(
			subject,
			'backwards-first',
			'warning',
			key.t,
			`${number(back)}${unitHere(subject)} the wrong way`,
			'It sets off away from where it is going, which looks like a slip unless it is meant as a wind-up.',
			smooth,
		);
	} else if (past > NOTICEABLE * range) {
		report(
			subject,
			'overshoot',
			'warning',
			pastAt,
			`${number(past)}${unitHere(subject)} past its keys`,
			'The handles carry it farther than either key says.',
			smooth,
		);
	}
}

export function checkSpring(subject: Subject, index: number): void {
	const { channel, doc, clip } = subject;
	const key = channel.keys[index];
	const next = channel.keys[index + 1];
	if (key.shape.kind !== 'spring' || key.shape.time !== 'real') return;
	const settles = springSettleSeconds(key.shape, next.v - key.v) * TICKS_PER_SECOND;
	const span = next.t - key.t;
	if (settles <= span * 1.02) return;
	const end = snapToFrame(key.t + settles, doc.project.frameRate);
	const room = end <= clip.length && (channel.keys[index + 2]?.t ?? Infinity) > end;
	report(
		subject,
		'spring-cut-short',
		'warning',
		next.t,
		`settles in ${number(settles / TICKS_PER_SECOND)} s, the span lasts ${number(span / TICKS_PER_SECOND)} s`,
		'The spring is still moving when its span ends, so it is bent to meet the next key.',
		room
			? {
					label: 'Make the span as long as it settles',
					edit: (d) => moveKeys(d, selectionOf(channel, next.t), end - next.t, 0),
				}
			: {
					label: 'Fit the spring to the span',
					edit: (d) =>
						setShape(d, selectionOf(channel, key.t), { ...key.shape, time: 'fitted' } as Key['shape']),
				},
	);
}

/** Falls and rises: each rebound should be lower and shorter than the one before. */
export function checkRebounds(subject: Subject): void {
	const { channel } = subject;
	const { keys } = channel;
	let before: { height: number; ticks: number } | null = null;
	for (let i = 0; i + 2 < keys.length; i++) {
		if (keys[i].shape.kind !== 'rise' || keys[i + 1].shape.kind !== 'fall') {
			if (keys[i].shape.kind !== 'fall' && keys[i].shape.kind !== 'hold') before = null;
			continue;
		}
		const arc = { height: Math.abs(keys[i + 1].v - keys[i].v), ticks: keys[i + 2].t - keys[i].t };
		if (before && (arc.height > before.height * 1.02 || arc.ticks > before.ticks * 1.02)) {
			const higher = arc.height > before.height * 1.02;
			// Under one gravity heights go with the square of the time: what its own length allows.
			const fitting = before.height * Math.min(0.9, (arc.ticks / before.ticks) ** 2);
			const mends: Mend[] =
				arc.ticks <= before.ticks * 1.02
					? [
							{
								label: 'Lower it to fit its length',
								edit: (doc) =>
									setKeyValue(
										doc,
										selectionOf(channel, keys[i + 1].t),
										() => keys[i].v + Math.sign(keys[i + 1].v - keys[i].v) * fitting,
									),
							},
						]
					: [];
			report(
				subject,
				'rebound-grows',
				'warning',
				keys[i + 1].t,
				higher
					? `${number(arc.height)}${unitHere(subject)} high after ${number(before.height)}${unitHere(subject)}`
					: `${number(arc.ticks / TICKS_PER_SECOND)} s long after ${number(before.ticks / TICKS_PER_SECOND)} s`,
				'Every rebound loses speed: a higher or a longer one looks as if something had pushed.',
				...mends,
			);
		}
		before = arc;
	}
}
