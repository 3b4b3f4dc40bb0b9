/** A part that turns about several axes at once is given one orientation channel, whose spans go the short way. */
import { contextOf, makeChannel } from './keys';
import { curveOf } from '../clip/compile';
import { portableShape } from '../fit/css-span';
import { indexAt } from '../curve/edit';
import { evaluateCurve } from '../../player/curve/evaluate';
import { fromEuler, type Quaternion } from '../../player/maths/quaternion';
import type { HandleSide, Key } from '../curve/types';
import { AXES, channelId, formulaId, type Channel, type Doc } from '../document/types';

const SMOOTH: HandleSide = { mode: 'smooth' };

/** The channels of a part's angles in a clip, by axis. */
export function turnsOf(doc: Doc, clip: string, part: string): (Channel | undefined)[] {
	return AXES.map((axis) => doc.channels[channelId(clip, part, 'rotation', axis)]);
}

/** Whether a part's angles can become one orientation: no formula computes one, and none goes on from round to round. */
export function canTurnShortWay(doc: Doc, clip: string, part: string): boolean {
	return (
		AXES.every((axis) => !doc.formulas[formulaId(clip, part, 'rotation', axis)]) &&
		turnsOf(doc, clip, part).every((channel) => !channel?.accumulates)
	);
}

/**
 * Replaces the angles of a part by one orientation channel with a key wherever an axis had one. Each span goes the short
 * way, in the shape that its axes have in common; where they differ it passes through its keys smoothly.
 */
export function turnShortWay(doc: Doc, clipId: string, partId: string): Doc {
	const clip = doc.clips[clipId];
	const { rest, eulerOrder } = doc.parts[partId];
	const turns = turnsOf(doc, clipId, partId);
	const own = turns.flatMap((channel) => channel ?? []);
	const times = [...new Set(own.flatMap(({ keys }) => keys.map(({ t }) => t)))].sort((a, b) => a - b);
	const curves = turns.map((channel) => channel && curveOf(channel, clip));
	const orientation = (t: number): Quaternion =>
		fromEuler(
			curves.map((curve, axis) => (curve ? evaluateCurve(curve, t) : rest.rotation[axis])),
			eulerOrder,
		);
	/** The shape that all axes with a key here have; null where they differ or have none of their own. */
	const shapeAt = (t: number) => {
		const shapes = own.map((channel) => {
			const at = indexAt(channel.keys, t);
			return at < 0 || at === channel.keys.length - 1
				? null
				: portableShape(channel.keys, at, contextOf(doc, channel));
		});
		return shapes.every((shape) => JSON.stringify(shape) === JSON.stringify(shapes[0])) ? shapes[0] : null;
	};
	const keys = times.map((t): Key => {
		const key = { t, v: 0, vector: orientation(t) };
		const shape = shapeAt(t);
		return shape ? { ...key, shape } : { ...key, shape: { kind: 'handles' }, left: SMOOTH, right: SMOOTH };
	});
	const made = makeChannel({ clip: clipId, part: partId, property: 'orientation', component: 'value' }, keys);
	const channels = { ...doc.channels };
	for (const { id } of own) delete channels[id];
	return { ...doc, channels: { ...channels, [made.id]: { ...made, ends: own[0].ends } } };
}
