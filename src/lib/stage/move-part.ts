/** What moving a part by hand writes: keys while auto-key is on, else the key under the playhead or the rest pose. */
import { indexAt } from '$core/curve/edit';
import { autoKey, setValue, setVector } from '$core/document/edits/keys';
import { setRestValue } from '$core/document/edits/parts';
import { restValue } from '$core/document/rest';
import {
	AXES,
	channelId,
	channelsOfClip,
	formulaId,
	type Channel,
	type Doc,
	type Vec3,
} from '$core/document/types';
import { fromEuler } from '$core/pose/quaternion';

export interface Placement {
	clip: string;
	part: string;
	t: number;
	autoKey: boolean;
	/** Whether auto-key sets keys for all that is moved, or only for what moves in the clip already. */
	keyAll: boolean;
}
export type Placed = 'translation' | 'rotation' | 'scale';

/** The channel that turns a part as a whole, where it has one. */
function orientationOf(doc: Doc, { clip, part }: Placement): Channel | undefined {
	return doc.channels[channelId(clip, part, 'orientation', 'value')];
}

/** Whether auto-key sets a key for a component: a part that does not move yet gets keys for whatever is moved. */
export function getsKey(doc: Doc, place: Placement, channel: Channel | undefined): boolean {
	if (!place.autoKey) return false;
	if (place.keyAll || channel) return true;
	return !channelsOfClip(doc, place.clip).some((other) => other.part === place.part);
}

/** Why a component cannot be changed by hand here; null when it can. */
export function whyStuck(doc: Doc, place: Placement, property: Placed, axis: number): string | null {
	const name = `${property} ${AXES[axis]}`;
	if (doc.formulas[formulaId(place.clip, place.part, property, AXES[axis])])
		return `A formula computes ${name}: change the formula, or what it reads.`;
	const own = doc.channels[channelId(place.clip, place.part, property, AXES[axis])];
	const channel = property === 'rotation' ? (orientationOf(doc, place) ?? own) : own;
	if (place.autoKey || !channel || indexAt(channel.keys, place.t) >= 0) return null;
	return `${name} moves in this clip: turn on auto-key to set a key here, or go to one of its keys.`;
}

/** Sets one component of a part where the rules above say; `rotation` is what it is turned to now. */
export function placePart(
	doc: Doc,
	place: Placement,
	property: Placed,
	axis: number,
	value: number,
	rotation: ArrayLike<number>,
): Doc {
	const { clip, part, t } = place;
	const address = { clip, part, property, component: AXES[axis] };
	const turning = property === 'rotation' ? orientationOf(doc, place) : undefined;
	if (turning) {
		const euler: Vec3 = [rotation[0], rotation[1], rotation[2]];
		euler[axis] = value;
		return setVector(doc, turning, t, fromEuler(euler, doc.parts[part].eulerOrder));
	}
	const channel = doc.channels[channelId(clip, part, property, AXES[axis])];
	if (getsKey(doc, place, channel))
		return autoKey(doc, address, t, value, restValue(doc.parts[part], property, AXES[axis]));
	if (!channel) return setRestValue(doc, part, property, AXES[axis], value);
	return indexAt(channel.keys, t) >= 0 ? setValue(doc, address, t, value) : doc;
}
