/** Turns that differ from what somebody may expect of their keys. */
import { curveOf } from '../clip/compile';
import { evaluateCurve } from '../../player/curve/evaluate';
import { AXES, channelId } from '../document/types';
import { angleBetween, fromEuler, slerp, type Quaternion } from '../../player/maths/quaternion';
import { number, report, type Scene, type Subject } from './subject';

/** Two Euler axes at once: how far the way goes from the shortest turn between neighbouring columns of keys. */
export function checkSwings(scene: Scene): void {
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
					mends: [],
				});
				break;
			}
		}
	}
}

/** Between two keys of a file of quaternions a reader turns the short way: 180° and more needs keys between. */
const SHORT_WAY = 180;

export function checkTurn(subject: Subject, index: number): void {
	const { channel } = subject;
	const [key, next] = [channel.keys[index], channel.keys[index + 1]];
	if (channel.property !== 'rotation' || key.shape.kind === 'hold') return;
	const turn = Math.abs(next.v - key.v);
	if (turn < SHORT_WAY) return;
	report(
		subject,
		'long-turn',
		'note',
		key.t,
		`${number(turn)}° between two keys`,
		'Readers of quaternions turn the short way between two keys: export puts keys between, a copy of these two alone would not turn like this.',
	);
}
