/** What commands do with picked keys, and with the time of the whole clip at the playhead. */
import { spanAt } from '$core/curve/edit';
import { copyKeys, pasteKeys, writeCopied } from '$core/edits/clipboard';
import {
	countKeys,
	joinKeys,
	keyAsIs,
	limitMove,
	moveKeys,
	removeChannel,
	removeKeys,
	shiftSelection,
	type KeySelection,
} from '$core/edits/keys';
import { extentOf, mirroredSelection, reverseKeys } from '$core/edits/retime';
import { numbersOf } from '$core/document/rest';
import {
	channelId,
	channelLabel,
	channelsOfClip,
	kindOf,
	type Channel,
	type Clip,
	type Doc,
	type Part,
	type Property,
} from '$core/document/types';
import { frameToTicks } from '$core/time';
import { toast } from 'svelte-sonner';
import type { CommandTargets } from './command';
import type { Session } from './session.svelte';

export function copyPicked({ session }: CommandTargets): void {
	const copied = copyKeys(session.doc, session.keys);
	if (copied.length === 0) return;
	session.copied = copied;
	// Where the browser does not allow it, keys can still be pasted in this window.
	void navigator.clipboard?.writeText(writeCopied(session.doc, copied)).catch(() => {});
	const count = copied.reduce((sum, channel) => sum + channel.keys.length, 0);
	toast(count === 1 ? 'Key copied' : `${count} keys copied`, { duration: 1500 });
}

/** Pastes what the system's clipboard holds: keys of this or another window; other text is left alone. */
export async function pasteText(targets: CommandTargets, text: string): Promise<void> {
	const { session } = targets;
	// With the whole schema behind it: fetched when something is pasted.
	const { readCopied } = await import('$core/edits/clipboard-text');
	const read = readCopied(session.doc, text, session.partId);
	if (read?.length === 0) {
		toast('No part here is called as theirs', { description: 'Pick the part that is to get the keys.' });
		return;
	}
	if (read) session.copied = read;
	paste(targets);
}

export function paste({ session }: CommandTargets): void {
	const { clip, copied } = session;
	if (!clip || copied.length === 0) return;
	const t = Math.round(session.transport.local);
	// Keys of one part go to the part that is picked now.
	const pasted = pasteKeys(session.doc, clip.id, copied, t, session.partId);
	session.edit('Paste keys', (doc) => pasteKeys(doc, clip.id, copied, t, session.partId).doc);
	session.pickKeys(pasted.selection);
}

/** Pastes what was copied at the playhead, played backwards: an entry becomes its exit. */
export function pasteReversed({ session }: CommandTargets): void {
	const { clip, copied } = session;
	if (!clip || copied.length === 0) return;
	const t = Math.round(session.transport.local);
	const { doc, selection } = pasteKeys(session.doc, clip.id, copied, t, session.partId);
	session.edit('Paste keys reversed', () => reverseKeys(doc, selection));
	session.pickKeys(mirroredSelection(selection));
}

type TimeEdit = (doc: Doc, clip: Clip, t: number, frames: (count: number) => number) => Doc;

/** An edit of the whole clip's time at the playhead. */
export function changeTime({ session }: CommandTargets, label: string, edit: TimeEdit): void {
	const { clip } = session;
	if (!clip) return;
	const t = Math.round(session.transport.local);
	session.keys = new Map();
	session.edit(label, (doc) => edit(doc, clip, t, (count) => frameToTicks(count, session.frameRate)));
}

export function invertPicks({ session }: CommandTargets): void {
	if (!session.clip) return;
	const picked = new Map<string, Set<number>>();
	for (const channel of channelsOfClip(session.doc, session.clip.id)) {
		const own = session.keys.get(channel.id);
		const times = channel.keys.map((key) => key.t).filter((t) => !own?.has(t));
		if (times.length > 0) picked.set(channel.id, new Set(times));
	}
	session.pickKeys(picked);
}

/** Channels that a command without picked keys is about: the picked one, those of the picked part, or all. */
export function channelsInHand({ session }: CommandTargets) {
	if (!session.clip) return [];
	if (session.channel) return [session.channel];
	const all = channelsOfClip(session.doc, session.clip.id);
	return session.partId === null ? all : all.filter((channel) => channel.part === session.partId);
}

export function goToKey(targets: CommandTargets, direction: 1 | -1): void {
	const { session } = targets;
	const now = Math.round(session.transport.local);
	let target: number | null = null;
	for (const channel of channelsInHand(targets))
		for (const { t } of channel.keys) {
			if ((t - now) * direction <= 0) continue;
			if (target === null || (t - target) * direction < 0) target = t;
		}
	if (target === null) return;
	session.transport.stop();
	session.transport.seek(target);
	const picked = new Map<string, Set<number>>();
	if (session.channel || session.partId !== null) {
		for (const channel of channelsInHand(targets)) {
			if (channel.keys.some((key) => key.t === target)) picked.set(channel.id, new Set([target]));
		}
		session.keys = picked;
	}
}

type Address = Pick<Channel, 'part' | 'property' | 'component'>;

/** What a part is keyed in where nothing of it moves yet: its place, its turn and its scale. */
const POSE: ReadonlySet<Property> = new Set(['translation', 'rotation', 'scale']);
/** Of these a screen shows only some. */
const FLAT: ReadonlySet<string> = new Set([
	'translation x',
	'translation y',
	'rotation z',
	'scale x',
	'scale y',
]);

function numbersOfPart({ doc, clip }: Session, part: Part): Address[] {
	const moving = channelsOfClip(doc, clip!.id).filter((channel) => channel.part === part.id);
	if (moving.length > 0) return moving;
	const isFlat = doc.project.space === 'interface';
	return numbersOf(part)
		.filter(({ property }) => POSE.has(property))
		.filter(({ property, component }) => !isFlat || FLAT.has(channelLabel(property, component)))
		.map((number) => ({ ...number, part: part.id }));
}

/** What is keyed: the lanes of the picked keys, the picked lane or part, or all; a whole property or part. */
export type Keyed = 'in hand' | 'property' | 'part';

function addressesOf(session: Session, what: Keyed): Address[] {
	const { doc, clip, channel, part, keys } = session;
	if (what === 'part') return part ? numbersOfPart(session, part) : [];
	if (what === 'property') {
		if (!channel) return [];
		return numbersOf(doc.parts[channel.part])
			.filter(({ property }) => property === channel.property)
			.map((number) => ({ ...number, part: channel.part }));
	}
	if (keys.size > 1) return [...keys.keys()].flatMap((id) => doc.channels[id] ?? []);
	if (channel) return [channel];
	return part ? numbersOfPart(session, part) : channelsOfClip(doc, clip!.id);
}

/** Sets keys at the playhead on what is in hand; the motion stays as it is. */
export function keyHere({ session }: CommandTargets, what: Keyed): void {
	const { clip } = session;
	if (!clip) return;
	const t = Math.round(session.transport.local);
	const addresses = addressesOf(session, what).map((address) => ({
		clip: clip.id,
		part: address.part,
		property: address.property,
		component: address.component,
	}));
	if (addresses.length === 0) return;
	session.edit('Set keys', (doc) => keyAsIs(doc, addresses, t));
	const ids = addresses.map(({ part, property, component }) => channelId(clip.id, part, property, component));
	session.pickKeys(new Map(ids.filter((id) => session.doc.channels[id]).map((id) => [id, new Set([t])])));
}

/** Picks the keys of channels of the open clip. */
export function pickKeysOf(session: Session, isWanted: (channel: Address) => boolean): void {
	const { clip, doc } = session;
	const found = Object.values(doc.channels).filter(
		(channel) => channel.clip === clip?.id && isWanted(channel),
	);
	session.pickKeys(new Map(found.map(({ id, keys }) => [id, new Set(keys.map((key) => key.t))])));
}

/** The picked keys; without any, the keys whose spans are under the playhead of the picked channel. */
export function spansInHand({ session }: CommandTargets): KeySelection {
	if (session.keys.size > 0 || !session.channel) return session.keys;
	const at = spanAt(session.channel.keys, session.transport.local);
	return at < 0 ? session.keys : new Map([[session.channel.id, new Set([session.channel.keys[at].t])]]);
}

export function nudge({ session }: CommandTargets, frames: number): void {
	if (!session.clip || session.keys.size === 0) return;
	const ticks = limitMove(session.keys, frameToTicks(frames, session.frameRate), session.clip.length);
	const { keys } = session;
	session.edit('Move keys', (doc) => moveKeys(doc, keys, ticks, 0));
	session.keys = shiftSelection(keys, ticks);
}

export function removePicked({ session }: CommandTargets): void {
	if (session.keys.size === 0) return;
	const { keys } = session;
	const count = countKeys(keys);
	session.keys = new Map();
	session.edit(count === 1 ? 'Delete key' : `Delete ${count} keys`, (doc) => removeKeys(doc, keys));
}

export function deleteChannel(session: Session, id: string): void {
	const channel = session.doc.channels[id];
	if (!channel) return;
	const label = channelLabel(channel.property, channel.component, session.doc.parts[channel.part]);
	session.edit('Delete channel', (doc) => removeChannel(doc, id));
	session.clearPicks();
	toast(`${label} deleted`, { action: { label: 'Undo', onClick: () => void session.undo() } });
}

/** Takes away what the motion does not need, and says what stayed. */
export function joinPicked({ session }: CommandTargets): void {
	const { keys } = session;
	if (keys.size === 0) return;
	const stays = (doc: Doc) =>
		new Map(
			[...keys]
				.map(([id, times]): [string, Set<number>] => [
					id,
					new Set((doc.channels[id]?.keys ?? []).filter((key) => times.has(key.t)).map((key) => key.t)),
				])
				.filter(([, times]) => times.size > 0),
		);
	session.edit('Join spans', (doc) => joinKeys(doc, keys));
	const left = stays(session.doc);
	session.keys = left;
	const gone = countKeys(keys) - countKeys(left);
	toast(
		gone === 0
			? 'Every picked key carries motion: all stay'
			: `${gone} ${gone === 1 ? 'key' : 'keys'} gone, the motion as it was; ${countKeys(left)} carry motion and stay`,
	);
}

export function pickAll({ session }: CommandTargets): void {
	if (!session.clip) return;
	const channels = session.channel ? [session.channel] : channelsOfClip(session.doc, session.clip.id);
	session.pickKeys(
		new Map(channels.map((channel) => [channel.id, new Set(channel.keys.map((key) => key.t))])),
	);
}

/** First and last tick of the picked keys; null where they have no length. */
function stretchOf({ session }: CommandTargets): { from: number; to: number } | null {
	const extent = extentOf(session.keys);
	return extent && extent.first < extent.last ? { from: extent.first, to: extent.last } : null;
}

/** Lanes with picked keys on one axis; where they are so already, each for itself again. */
export function layOver({ session, view }: CommandTargets): void {
	const ids = [...session.keys.keys()].filter(
		(id) => session.doc.channels[id] && kindOf(session.doc.channels[id].property) === 'number',
	);
	const same = ids.length === view.together.length && ids.every((id) => view.together.includes(id));
	if (ids.length >= 2 && !same) view.together = ids;
	else if (view.together.length > 0) view.together = [];
	else toast('Pick keys on two lanes or more first', { description: 'Shift adds keys to those picked.' });
}

export function toggleRange(targets: CommandTargets): void {
	const { transport } = targets.session;
	if (transport.range) {
		transport.range = null;
		return;
	}
	const stretch = stretchOf(targets);
	if (stretch) transport.setRange(stretch.from, stretch.to);
	else toast('Pick keys at two times first, or drag on the ruler with Shift');
}

export function fitPicked(targets: CommandTargets): void {
	const { session, view } = targets;
	const stretch = stretchOf(targets);
	if (stretch) view.fit(stretch.from, stretch.to);
	else if (session.clip) view.fit(0, session.clip.length);
	view.remember();
}
