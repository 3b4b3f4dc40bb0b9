/** All findings on a clip. Pure: the mends are edits that the caller may apply. */
import { curveOf } from '../clip/compile';
import { seamOf } from '../clip/seam';
import { springSettleSeconds, type CompiledCurve } from '../curve/compile';
import { evaluateCurve } from '../curve/evaluate';
import type { Key } from '../curve/types';
import { updateClip } from '../document/edits/clips';
import {
	moveKeys,
	removeChannel,
	removeKeys,
	setKeyValue,
	setModes,
	setShape,
	setValue,
} from '../document/edits/keys';
import {
	channelsOfClip,
	AXES,
	channelId,
	componentsOf,
	restValue,
	type Channel,
	type Clip,
	type Doc,
} from '../document/types';
import { angleBetween, fromEuler, slerp, type Quaternion } from '../pose/quaternion';
import { frameToTicks, isOnFrame, snapToFrame, TICKS_PER_SECOND, ticksToFrame } from '../time';
import type { Finding, Rule, Severity } from './finding';

interface Scene {
	doc: Doc;
	clip: Clip;
	found: Finding[];
}
interface Subject extends Scene {
	channel: Channel;
	curve: CompiledCurve;
	/** Range of the channel over the clip; the unit that small and large are measured in. */
	range: number;
}

type Mend = Finding['mend'];

/** Shares of a channel's range below which a finding is not worth telling. */
const NOTICEABLE = 0.02;
const SEAM_TOLERANCE = 0.001;
const TELEPORT = 0.5;
const SAMPLES = 48;

function number(value: number): string {
	return String(Number(value.toPrecision(3)));
}

function unitOf({ channel, doc }: Subject): string {
	if (channel.property === 'translation') return doc.project.space === 'world' ? ' m' : ' px';
	return channel.property === 'rotation' ? '°' : '';
}

function report(
	subject: Subject,
	rule: Rule,
	severity: Severity,
	t: number,
	measure: string,
	why: string,
	mend: Mend = null,
): void {
	subject.found.push({
		rule,
		severity,
		clip: subject.clip.id,
		channel: subject.channel.id,
		t,
		measure,
		why,
		mend,
	});
}

function selectionOf(channel: Channel, ...times: number[]): Map<string, Set<number>> {
	return new Map([[channel.id, new Set(times)]]);
}

/** How far a span leaves the values of its two keys, and how far it first goes the wrong way. */
function checkSpan(subject: Subject, index: number): void {
	const { channel, curve, range } = subject;
	const key = channel.keys[index];
	const next = channel.keys[index + 1];
	// Springs, and families made for it, overshoot on purpose.
	if (key.shape.kind !== 'handles' && key.shape.kind !== 'bezier') return;
	const [low, high] = key.v < next.v ? [key.v, next.v] : [next.v, key.v];
	let past = 0;
	let pastAt = key.t;
	let back = 0;
	const direction = Math.sign(next.v - key.v);
	for (let i = 1; i < SAMPLES; i++) {
		const t = key.t + ((next.t - key.t) * i) / SAMPLES;
		const v = evaluateCurve(curve, t);
		const over = Math.max(low - v, v - high);
		if (over > past) {
			past = over;
			pastAt = t;
		}
		if (i < SAMPLES / 3) back = Math.max(back, direction * (key.v - v));
	}
	const smooth: Mend = {
		label: 'Make its handles smooth',
		edit: (doc) =>
			setModes(
				setShape(doc, selectionOf(channel, key.t), { kind: 'handles' }),
				selectionOf(channel, key.t, next.t),
				'smooth',
			),
	};
	if (direction !== 0 && back > NOTICEABLE * range) {
		report(
			subject,
			'backwards-first',
			'warning',
			key.t,
			`${number(back)}${unitOf(subject)} the wrong way`,
			'It sets off away from where it is going, which looks like a slip unless it is meant as a wind-up.',
			smooth,
		);
	} else if (past > NOTICEABLE * range) {
		report(
			subject,
			'overshoot',
			'warning',
			pastAt,
			`${number(past)}${unitOf(subject)} past its keys`,
			'The handles carry it farther than either key says.',
			smooth,
		);
	}
}

function checkSpring(subject: Subject, index: number): void {
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
function checkRebounds(subject: Subject): void {
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
			const mend: Mend =
				arc.ticks <= before.ticks * 1.02
					? {
							label: 'Lower it to fit its length',
							edit: (doc) =>
								setKeyValue(
									doc,
									selectionOf(channel, keys[i + 1].t),
									() => keys[i].v + Math.sign(keys[i + 1].v - keys[i].v) * fitting,
								),
						}
					: null;
			report(
				subject,
				'rebound-grows',
				'warning',
				keys[i + 1].t,
				higher
					? `${number(arc.height)}${unitOf(subject)} high after ${number(before.height)}${unitOf(subject)}`
					: `${number(arc.ticks / TICKS_PER_SECOND)} s long after ${number(before.ticks / TICKS_PER_SECOND)} s`,
				'Every rebound loses speed: a higher or a longer one looks as if something had pushed.',
				mend,
			);
		}
		before = arc;
	}
}

function checkSeam(subject: Subject): void {
	const { channel, clip, curve, range } = subject;
	// A channel of holds alone jumps on purpose.
	const jumps = channel.keys.every((key) => key.shape.kind === 'hold');
	if (clip.loop.mode === 'once' || range === 0 || jumps) return;
	const rotates = channel.property === 'rotation';
	const seam = seamOf(curve, clip, { rotates, accumulates: channel.accumulates });
	const unit = unitOf(subject);
	if (Math.abs(seam.gap) > SEAM_TOLERANCE * range) {
		const start = evaluateCurve(curve, 0);
		const close: Mend = {
			label: 'End where it starts',
			edit: (doc) => {
				const last = doc.channels[channel.id].keys.at(-1)!;
				const target = evaluateCurve(curve, clip.length) - seam.gap;
				return last.t === clip.length
					? setKeyValue(doc, selectionOf(channel, last.t), () => target)
					: setValue(doc, channel, clip.length, rotates ? target : start);
			},
		};
		report(
			subject,
			'seam-gap',
			'error',
			clip.length,
			`a jump of ${number(Math.abs(seam.gap))}${unit}`,
			'Each new round starts with a jump.',
			close,
		);
	} else if (
		Math.abs(seam.slopeGap) > 1.2 * (range / (clip.length / TICKS_PER_SECOND)) &&
		clip.loop.mode === 'repeat' &&
		clip.loop.pause === 0
	) {
		const { keys } = channel;
		const smoothable = keys[0].t === 0 && keys.at(-1)!.t === clip.length;
		report(
			subject,
			'seam-slope',
			'note',
			clip.length,
			`${number(Math.abs(seam.slopeGap))}${unit} a second`,
			'The value closes, but the speed changes at once: a small knock in every round.',
			smoothable
				? {
						label: 'Smooth across the seam',
						edit: (doc) => {
							const before = keys.at(-2)!.t;
							const shaped = setShape(doc, selectionOf(channel, 0, before), { kind: 'handles' });
							return setModes(shaped, selectionOf(channel, 0, clip.length), 'smooth');
						},
					}
				: null,
		);
	}
}

/** In a repeating clip the last frame before the end should differ from the first one. */
function checkDoubledFrame(subject: Subject): void {
	const { channel, clip, doc } = subject;
	if (clip.loop.mode !== 'repeat') return;
	const frame = frameToTicks(1, doc.project.frameRate);
	const last = channel.keys.at(-1)!;
	if (channel.keys.length < 3 || last.t !== clip.length - frame) return;
	if (last.v !== channel.keys[0].v || channel.keys[0].t !== 0 || channel.keys.at(-2)!.v === last.v) return;
	report(
		subject,
		'last-frame-doubled',
		'warning',
		last.t,
		'one frame too early',
		'The end of a round is the start of the next: closed a frame early, the same picture is shown twice and the loop stutters.',
		{
			label: 'Move the last key to the end',
			edit: (d) => moveKeys(d, selectionOf(channel, last.t), frame, 0),
		},
	);
}

function checkKeys(subject: Subject): void {
	const { channel, doc, clip, range } = subject;
	const { keys } = channel;
	const rate = doc.project.frameRate;
	const off = keys.filter((key) => !isOnFrame(key.t, rate));
	if (off.length > 0) {
		report(
			subject,
			'off-grid',
			'note',
			off[0].t,
			`${off.length === 1 ? 'a key' : `${off.length} keys`}, the first at frame ${number(ticksToFrame(off[0].t, rate))}`,
			'Between frames its value is never shown exactly.',
			{
				label: 'Move to whole frames',
				edit: (d) =>
					off.reduce(
						(next, key) => moveKeys(next, selectionOf(channel, key.t), snapToFrame(key.t, rate) - key.t, 0),
						d,
					),
			},
		);
	}
	const late = keys.filter((key) => key.t > clip.length);
	if (late.length > 0) {
		report(
			subject,
			'ends-apart',
			'warning',
			late[0].t,
			`${late.length === 1 ? 'a key' : `${late.length} keys`} after the end`,
			'What comes after the end of the clip is never shown.',
			{
				label: 'Make the clip longer',
				edit: (d) => updateClip(d, clip.id, { length: keys.at(-1)!.t }),
			},
		);
	}
	if (keys.length > 1 && range < 1e-9) {
		const [first, ...others] = keys;
		report(
			subject,
			'constant-channel',
			'note',
			first.t,
			`always ${number(first.v)}${unitOf(subject)}`,
			'It costs space in every file and does nothing.',
			{
				label: 'Keep one key',
				edit: (d) => removeKeys(d, selectionOf(channel, ...others.map((key) => key.t))),
			},
		);
	} else if (
		keys.length === 1 &&
		Math.abs(keys[0].v - restValue(doc.parts[channel.part], channel.property, channel.component)) < 1e-9
	) {
		report(
			subject,
			'constant-channel',
			'note',
			keys[0].t,
			'one key at the rest value',
			'It does what the rest pose does anyway.',
			{
				label: 'Delete the channel',
				edit: (d) => removeChannel(d, channel.id),
			},
		);
	}
	if (channel.property === 'scale') checkScale(subject);
	checkTeleport(subject);
}

/** A scale that is both above and below zero. */
function checkScale(subject: Subject): void {
	const { clip, curve } = subject;
	let sign = 0;
	for (let i = 0; i <= 4 * SAMPLES; i++) {
		const t = (clip.length * i) / (4 * SAMPLES);
		const v = evaluateCurve(curve, t);
		if (Math.abs(v) < 1e-6) continue;
		if (sign !== 0 && Math.sign(v) !== sign) {
			report(
				subject,
				'scale-through-zero',
				'warning',
				t,
				'changes its sign',
				'The part turns inside out, and some readers show nothing or black.',
			);
			return;
		}
		sign = Math.sign(v);
	}
}

/** A large part of the range within one frame, where no hold or step says that it is meant. */
function checkTeleport(subject: Subject): void {
	const { channel, clip, curve, range, doc } = subject;
	if ((channel.property !== 'translation' && channel.property !== 'rotation') || range === 0) return;
	const frame = frameToTicks(1, doc.project.frameRate);
	for (let i = 0; i + 1 < channel.keys.length; i++) {
		const [key, next] = [channel.keys[i], channel.keys[i + 1]];
		if (key.shape.kind === 'hold' || key.shape.kind === 'steps' || next.t - key.t > 1.5 * frame) continue;
		const change = Math.abs(evaluateCurve(curve, next.t) - key.v);
		if (change > TELEPORT * range && next.t <= clip.length) {
			report(
				subject,
				'teleport',
				'note',
				key.t,
				`${number(change)}${unitOf(subject)} in a frame`,
				'So far in one frame is seen as a jump; a hold says that it is meant.',
				{
					label: 'Make it a hold',
					edit: (d) => setShape(d, selectionOf(channel, key.t), { kind: 'hold' }),
				},
			);
			return;
		}
	}
}

/** Two Euler axes at once: how far the way goes from the shortest turn between neighbouring columns of keys. */
function checkSwings(scene: Scene): void {
	const { doc, clip } = scene;
	for (const part of Object.values(doc.parts)) {
		const channels = AXES.map((axis) => doc.channels[channelId(clip.id, part.id, 'rotation', axis)]);
		const moving = channels.filter((channel) => channel && channel.keys.length > 1);
		if (moving.length < 2) continue;
		const times = [...new Set(moving.flatMap((channel) => channel.keys.map((key) => key.t)))].sort(
			(a, b) => a - b,
		);
		const orientation = (t: number): Quaternion =>
			fromEuler(
				channels.map((channel, axis) =>
					channel ? evaluateCurve(curveOf(channel, clip), t) : part.rest.rotation[axis],
				),
				part.eulerOrder,
			);
		const out: Quaternion = [0, 0, 0, 1];
		for (let i = 0; i + 1 < times.length; i++) {
			const [a, b] = [orientation(times[i]), orientation(times[i + 1])];
			const whole = angleBetween(a, b);
			if (whole < 20) continue;
			// How far the way is from the arc, wherever along it: the nearest of a few places.
			let worst = 0;
			for (let k = 1; k < 8; k++) {
				const here = orientation(times[i] + ((times[i + 1] - times[i]) * k) / 8);
				let nearest = Infinity;
				for (let j = 0; j <= 16; j++) {
					slerp(a, b, j / 16, out);
					nearest = Math.min(nearest, angleBetween(here, out));
				}
				worst = Math.max(worst, nearest);
			}
			if (worst > 0.2 * whole + whole / 32) {
				scene.found.push({
					rule: 'two-axis-swing',
					severity: 'note',
					clip: clip.id,
					channel: moving[0].id,
					t: times[i],
					measure: `${number(worst)}° off the short way of ${number(whole)}°`,
					why: 'Angles keyed on two axes at once swing the part on a way of their own.',
					mend: null,
				});
				break;
			}
		}
	}
}

function checkForgotten(scene: Scene): void {
	const { doc, clip, found } = scene;
	for (const cue of Object.values(doc.cues)) {
		if (cue.clip !== clip.id || cue.t <= clip.length) continue;
		found.push({
			rule: 'cue-outside',
			severity: 'error',
			clip: clip.id,
			channel: null,
			t: cue.t,
			measure: `"${cue.name}" at frame ${number(ticksToFrame(cue.t, doc.project.frameRate))}`,
			why: 'It is never reached, so the code that waits for it waits for ever.',
			mend: {
				label: 'Move it to the end',
				edit: (d) => ({ ...d, cues: { ...d.cues, [cue.id]: { ...cue, t: clip.length } } }),
			},
		});
	}
}

const ORDER: Record<Severity, number> = { error: 0, warning: 1, note: 2 };

/** All findings on a clip, the worst first, then by time. */
export function checkClip(doc: Doc, clip: Clip): Finding[] {
	const scene: Scene = { doc, clip, found: [] };
	for (const channel of channelsOfClip(doc, clip.id)) {
		if (!doc.parts[channel.part] || !componentsOf(channel.property).includes(channel.component)) continue;
		const curve = curveOf(channel, clip);
		let low = Infinity;
		let high = -Infinity;
		for (let i = 0; i <= 4 * SAMPLES; i++) {
			const v = evaluateCurve(curve, (clip.length * i) / (4 * SAMPLES));
			low = Math.min(low, v);
			high = Math.max(high, v);
		}
		for (const key of channel.keys) {
			low = Math.min(low, key.v);
			high = Math.max(high, key.v);
		}
		const subject: Subject = { ...scene, channel, curve, range: high - low };
		for (let i = 0; i + 1 < channel.keys.length; i++) {
			checkSpan(subject, i);
			checkSpring(subject, i);
		}
		checkRebounds(subject);
		checkSeam(subject);
		checkDoubledFrame(subject);
		checkKeys(subject);
	}
	checkSwings(scene);
	checkForgotten(scene);
	return scene.found.sort(
		(a, b) => ORDER[a.severity] - ORDER[b.severity] || a.t - b.t || (a.rule < b.rule ? -1 : 1),
	);
}
