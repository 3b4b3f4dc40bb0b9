import { evaluateCurve } from '../../../player/curve/evaluate';
import { angleBetween, fromEuler, slerp, type Quaternion } from '../../../player/maths/quaternion';
import { curveOf } from '../../clip/compile';
import type { Part } from '../../document/types';
import { canTurnShortWay, turnShortWay, turnsOf } from '../../edits/short-way';
import type { Found } from '../finding';
import { short, type ClipRule, type Scene } from '../rule';

/** Degrees between two columns of keys below which no way is looked at. */
const LEAST_TURN = 20;
/** A way is off the short one by more than this share of its turn, or by more than so many degrees. */
const OFF_SHARE = 0.2;
const OFF_DEGREES = 15;
/** Places of the arc that a way is compared with. */
const ALONG = 64;

/** How far a way is off the arc between its ends, wherever along it: degrees, the nearest of a few places. */
function offTheArc(orientation: (share: number) => Quaternion): number {
	const [a, b] = [orientation(0), orientation(1)];
	const out: Quaternion = [0, 0, 0, 1];
	let worst = 0;
	for (let k = 1; k < 8; k++) {
		const here = orientation(k / 8);
		let nearest = Infinity;
		for (let j = 0; j <= ALONG; j++) {
			slerp(a, b, j / ALONG, out);
			nearest = Math.min(nearest, angleBetween(here, out));
		}
		worst = Math.max(worst, nearest);
	}
	return worst;
}

/** The first stretch in which a part that turns about two axes leaves the short way. */
function swingOf({ doc, clip }: Scene, part: Part): Found[] {
	const channels = turnsOf(doc, clip.id, part.id);
	const moving = channels.flatMap((channel) => (channel && channel.keys.length > 1 ? [channel] : []));
	if (moving.length < 2) return [];
	const keyed = new Set(moving.flatMap((channel) => channel.keys.map((key) => key.t)));
	const times = [...keyed].sort((a, b) => a - b);
	const orientation = (t: number): Quaternion =>
		fromEuler(
			channels.map((channel, axis) =>
				channel ? evaluateCurve(curveOf(channel, clip), t) : part.rest.rotation[axis],
			),
			part.eulerOrder,
		);
	for (let i = 0; i + 1 < times.length; i++) {
		const [from, to] = [times[i], times[i + 1]];
		const whole = angleBetween(orientation(from), orientation(to));
		if (whole < LEAST_TURN) continue;
		const off = offTheArc((share) => orientation(from + (to - from) * share));
		if (off > Math.min(OFF_SHARE * whole, OFF_DEGREES) + whole / (2 * ALONG)) {
			const mends = canTurnShortWay(doc, clip.id, part.id) ? ['short-way'] : [];
			return [{ severity: 'note', t: from, channel: moving[0].id, facts: { off, whole }, mends }];
		}
	}
	return [];
}

/** Two Euler axes at once: how far the way goes from the shortest turn between neighbouring columns of keys. */
export const twoAxisSwing: ClipRule = {
	id: 'two-axis-swing',
	title: 'A turn about two axes that leaves the short way',
	why: 'Angles keyed on two axes at once swing the part on a way of their own.',
	measure: ({ facts }) => `${short(facts.off)}° off the short way of ${short(facts.whole)}°`,
	mends: {
		'short-way': {
			label: 'Turn the short way',
			edit: (doc, { clip, channel }) => turnShortWay(doc, clip, doc.channels[channel!].part),
		},
	},
	scope: 'clip',
	find: (scene) => Object.values(scene.doc.parts).flatMap((part) => swingOf(scene, part)),
};
