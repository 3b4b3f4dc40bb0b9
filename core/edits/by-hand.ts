/**
 * What a change by hand writes, on the stage, in a field or from a colour: keys while auto-key is on, else the key that
 * is there or the rest pose. It is decided once for all that one act changes, before it begins.
 */
import { indexAt } from '../curve/edit';
import { parseHex } from '../pose/hex';
import { fromEuler } from '../../player/maths/quaternion';
import { restValue } from '../document/rest';
import {
	channelId,
	formulaId,
	type Channel,
	type Component,
	type Doc,
	type Property,
} from '../document/types';
import { channelLabel } from '../document/labels';
import type { Vec3 } from '../../player/maths/vector';
import { setColour, setValue, setVector, type ChannelAddress } from './keys';
import { setRestValue, updatePart } from './parts';

/** Whether changes by hand set keys: not by themselves, on everything that is changed, or on channels that are there. */
export type AutoKey = 'off' | 'everything' | 'existing';

export interface Hand {
	clip: string;
	part: string;
	/** Ticks. */
	t: number;
	autoKey: AutoKey;
	/** Whether a channel that is there gets a key also without auto-key, as a typed value does and a drag does not. */
	keysExisting: boolean;
}

export interface Target {
	property: Property;
	component: Component;
}

/** How one number is written: as a key, as a turn of the part's orientation channel, or as its rest pose. */
type Way = 'key' | 'orientation' | 'rest';

/** What an act writes, for each of its numbers; or why it writes nothing. */
export type Decision = { ok: true; hand: Hand; ways: ReadonlyMap<string, Way> } | { ok: false; why: string };

const nameOf = ({ property, component }: Target) => `${property}/${component}`;

function orientationOf(doc: Doc, { clip, part }: Hand): Channel | undefined {
	return doc.channels[channelId(clip, part, 'orientation', 'value')];
}

function wayOf(doc: Doc, hand: Hand, target: Target): Way | { why: string } {
	const { clip, part, t, autoKey } = hand;
	const { property, component } = target;
	const label = channelLabel(property, component, doc.parts[part]);
	if (doc.formulas[formulaId(clip, part, property, component)])
		return { why: `A formula computes ${label}: change the formula, or what it reads.` };
	const turning = property === 'rotation' ? orientationOf(doc, hand) : undefined;
	const channel = turning ?? doc.channels[channelId(clip, part, property, component)];
	const keyed: Way = turning ? 'orientation' : 'key';
	if (autoKey === 'everything') return keyed;
	if (!channel)
		return autoKey === 'off'
			? 'rest'
			: {
					why: `${label} has no channel in this clip, and auto-key is set to channels that are there: set it to everything, or turn it off to change the rest pose.`,
				};
	if (autoKey === 'existing' || hand.keysExisting || indexAt(channel.keys, t) >= 0) return keyed;
	return {
		why: `${label} moves in this clip: turn on auto-key to set a key here, or go to one of its keys.`,
	};
}

/** Decides how all that an act changes is written; where one of it cannot be, nothing is. */
export function decide(doc: Doc, hand: Hand, targets: readonly Target[]): Decision {
	const ways = new Map<string, Way>();
	for (const target of targets) {
		const way = wayOf(doc, hand, target);
		if (typeof way === 'object') return { ok: false, why: way.why };
		ways.set(nameOf(target), way);
	}
	return { ok: true, hand, ways };
}

function hasChannel(doc: Doc, { clip, part, property, component }: ChannelAddress): boolean {
	return doc.channels[channelId(clip, part, property, component)] !== undefined;
}

/** A channel that is new starts at rest at the clip's start, so that the part comes from where it stood. */
function started(doc: Doc, address: ChannelAddress, t: number): Doc {
	if (t <= 0 || hasChannel(doc, address)) return doc;
	const part = doc.parts[address.part];
	if (address.property === 'colour') return setVector(doc, address, 0, parseHex(part.colour));
	return setValue(doc, address, 0, restValue(part, address.property, address.component));
}

/** Writes a number as it was decided; `rotation` is what the part is turned to now, in degrees. */
export function writeByHand(
	doc: Doc,
	{ hand, ways }: Extract<Decision, { ok: true }>,
	target: Target,
	value: number,
	rotation: ArrayLike<number> = [0, 0, 0],
): Doc {
	const { clip, part, t } = hand;
	const { property, component } = target;
	const way = ways.get(nameOf(target));
	if (way === 'rest') return setRestValue(doc, part, property, component, value);
	if (way === 'orientation') {
		const euler: Vec3 = [rotation[0], rotation[1], rotation[2]];
		euler['xyz'.indexOf(component)] = value;
		return setVector(doc, orientationOf(doc, hand)!, t, fromEuler(euler, doc.parts[part].eulerOrder));
	}
	const address = { clip, part, property, component };
	return way === 'key' ? setValue(started(doc, address, t), address, t, value) : doc;
}

/** Writes a colour (`#rrggbb`) as it was decided. */
export function writeColourByHand(
	doc: Doc,
	{ hand, ways }: Extract<Decision, { ok: true }>,
	hex: string,
): Doc {
	const { clip, part, t } = hand;
	const target = { property: 'colour', component: 'value' } as const;
	if (ways.get(nameOf(target)) === 'rest') return updatePart(doc, part, { colour: hex });
	const address = { clip, part, ...target };
	return setColour(started(doc, address, t), address, t, parseHex(hex));
}
