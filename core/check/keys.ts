/** Keys and channels that are beside their place, or do nothing. */
import { evaluateCurve } from '../../player/curve/evaluate';
import { updateClip } from '../edits/clips';
import { moveKeys, removeChannel, removeKeys, setShape } from '../edits/keys';
import { restValue } from '../document/rest';

import { frameToTicks, isOnFrame, snapToFrame, ticksToFrame } from '../time';
import { number, report, SAMPLES, selectionOf, unitHere, type Subject } from './subject';

const TELEPORT = 0.5;

export function checkKeys(subject: Subject): void {
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
			`always ${number(first.v)}${unitHere(subject)}`,
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
				`${number(change)}${unitHere(subject)} in a frame`,
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
