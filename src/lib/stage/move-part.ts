/** What moving a part by hand writes: keys while auto-key is on, else the key under the playhead or the rest pose. */
import { indexAt } from '$core/curve/edit';
import { autoKey, setValue } from '$core/document/edits/keys';
import { setRestComponent } from '$core/document/edits/parts';
import { AXES, channelId, restValue, type Doc } from '$core/document/types';

export interface Placement {
	clip: string;
	part: string;
	t: number;
	autoKey: boolean;
}

/** Whether a component may be changed by hand here; when not, it moves and there is no key to change. */
export function canPlace(
	doc: Doc,
	place: Placement,
	property: 'translation' | 'rotation' | 'scale',
	axis: number,
): boolean {
	const channel = doc.channels[channelId(place.clip, place.part, property, AXES[axis])];
	return place.autoKey || !channel || indexAt(channel.keys, place.t) >= 0;
}

/** Sets one component of a part where the rules above say. */
export function placePart(
	doc: Doc,
	place: Placement,
	property: 'translation' | 'rotation' | 'scale',
	axis: number,
	value: number,
): Doc {
	const address = { clip: place.clip, part: place.part, property, component: AXES[axis] };
	const channel = doc.channels[channelId(place.clip, place.part, property, AXES[axis])];
	if (place.autoKey)
		return autoKey(doc, address, place.t, value, restValue(doc.parts[place.part], property, AXES[axis]));
	if (!channel) return setRestComponent(doc, place.part, property, axis, value);
	return indexAt(channel.keys, place.t) >= 0 ? setValue(doc, address, place.t, value) : doc;
}
