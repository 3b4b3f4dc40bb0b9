/** What commands do with selected keys, and with the time of the whole clip at the playhead. */
import { spanAt } from '$core/curve/edit';
import { copyKeys, pasteKeys, writeCopied } from '$core/edits/clipboard';
import {
	countKeys,
	joinKeys,
	keyAsIs,
	extentOf,
	removeChannels,
	removeKeys,
	type KeySelection,
} from '$core/edits/keys';
import { mirroredSelection, reverseKeys } from '$core/edits/retime';
import { numbersOf } from '$core/document/rest';
import {
	channelId,
	channelsOfClip,
	type Channel,
	type Doc,
	type Part,
	type Property,
} from '$core/document/types';
import { channelLabel } from '$core/document/labels';
import { unitAt } from '$core/document/units';
import { toast } from 'svelte-sonner';
import { NO_KEYS, pickedKeys } from '$lib/session/selection.svelte';
import { snapToFrame, ticksToFrame } from '$core/time';
import { writeNumber } from '$lib/ui/number-text';
import { fastestOf, tellSpeed } from '$lib/session/lane-speed';
import type { Edited } from '$lib/session/project.svelte';
import type { Session } from '$lib/session/session.svelte';
import { roomFor } from './move-keys';

export function copyPicked(session: Session): void {
	const copied = copyKeys(session.doc, session.selection.keys);
	if (copied.length === 0) return;
	session.copied = copied;
	session.copiedText = writeCopied(session.doc, copied);
	// Where the browser does not allow it, keys can still be pasted in this window.
	void navigator.clipboard?.writeText(session.copiedText).catch(() => {});
	const count = copied.reduce((sum, channel) => sum + channel.keys.length, 0);
	toast(count === 1 ? 'Key copied' : `${count} keys copied`, { duration: 1500 });
}

/** Pastes what the system's clipboard holds: keys of this or another window; other text is left alone. */
export async function pasteText(session: Session, text: string): Promise<void> {
	// Where the hand was when it pasted, wherever it has gone by the time the text is read.
	const place = placeOfPaste(session);
	if (text !== session.copiedText) {
		// With the whole schema behind it: fetched when something of elsewhere is pasted.
		const { readCopied } = await import('$core/edits/clipboard-text');
		const read = readCopied(session.doc, text, place.partId);
		if (read?.length === 0) {
			toast('No part here is called as theirs', { description: 'Pick the part that is to get the keys.' });
			return;
		}
		if (read) {
			session.copied = read;
			session.copiedText = text;
		}
	}
	paste(session, place);
}

function placeOfPaste({ clip, transport, selection }: Session) {
	return { clipId: clip?.id, t: Math.round(transport.local), partId: selection.partId };
}

export function paste(session: Session, place = placeOfPaste(session)): void {
	pasteAt(session, place, 'Paste keys', (doc, selection) => ({ doc, ...pickedKeys(selection) }));
}

/** Pastes what was copied at the playhead, played backwards: an entry becomes its exit. */
export function pasteReversed(session: Session): void {
	pasteAt(session, placeOfPaste(session), 'Paste keys reversed', (doc, selection) => ({
		doc: reverseKeys(doc, selection),
		...pickedKeys(mirroredSelection(selection)),
	}));
}

function pasteAt(
	session: Session,
	{ clipId, t, partId }: ReturnType<typeof placeOfPaste>,
	label: string,
	take: (pasted: Doc, selection: KeySelection) => Edited,
): void {
	const { copied } = session;
	if (clipId === undefined || copied.length === 0) return;
	// Keys of one part go to the part that is picked now.
	const pasted = (doc: Doc) => pasteKeys(doc, clipId, copied, t, partId);
	if (pasted(session.doc).selection.size === 0) {
		toast('The part has nothing that these keys move', {
			description: 'Pick one that has it, or add it there.',
		});
		return;
	}
	const last = Math.max(...copied.map(({ keys }) => keys.at(-1)?.t ?? 0));
	const lengthen = roomFor(session, clipId, t + last, 'The keys cannot be pasted here');
	if (!lengthen) return;
	session.edit(label, (doc) => {
		const made = pasted(lengthen(doc));
		return take(made.doc, made.selection);
	});
}

export function invertPicks(session: Session): void {
	if (!session.clip) return;
	const picked = new Map<string, Set<number>>();
	for (const channel of channelsOfClip(session.doc, session.clip.id)) {
		const own = session.selection.keys.get(channel.id);
		const times = channel.keys.map((key) => key.t).filter((t) => !own?.has(t));
		if (times.length > 0) picked.set(channel.id, new Set(times));
	}
	session.selection.pickKeys(picked);
}

/** Channels that a command without selected keys is about: the picked ones, those of the selected part, or all. */
export function channelsInHand(session: Session) {
	if (!session.clip) return [];
	if (session.selection.channels.length > 0) return session.selection.channels;
	const all = channelsOfClip(session.doc, session.clip.id);
	return session.selection.partId === null
		? all
		: all.filter((channel) => channel.part === session.selection.partId);
}

export function goToKey(session: Session, direction: 1 | -1): void {
	const now = Math.round(session.transport.local);
	let target: number | null = null;
	for (const channel of channelsInHand(session))
		for (const { t } of channel.keys) {
			if ((t - now) * direction <= 0) continue;
			if (target === null || (t - target) * direction < 0) target = t;
		}
	if (target === null) return;
	session.transport.stop();
	session.transport.seek(target);
	const picked = new Map<string, Set<number>>();
	if (session.selection.channels.length > 0 || session.selection.partId !== null) {
		for (const channel of channelsInHand(session)) {
			if (channel.keys.some((key) => key.t === target)) picked.set(channel.id, new Set([target]));
		}
		session.selection.keys = picked;
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

/** What is keyed: the lanes of the selected keys, the selected lane or part, or all; a whole property or part. */
/** Goes to the whole frame at which the channel in hand is fastest: a swap there is seen the least. */
export function goToFastest({ selection, clip, doc, frameRate, transport }: Session): void {
	const { channel } = selection;
	if (!channel || !clip) return;
	const { at, speed } = fastestOf(channel, clip);
	if (speed === 0) {
		toast('It does not move in this clip', { id: 'fastest' });
		return;
	}
	transport.stop();
	transport.seek(Math.min(clip.length, snapToFrame(at, frameRate)));
	const frame = writeNumber(ticksToFrame(at, frameRate), 2);
	toast(`Fastest at frame ${frame}: ${tellSpeed(speed, unitAt(doc, channel))}`, { id: 'fastest' });
}

export type Keyed = 'in hand' | 'property' | 'part';

function addressesOf(session: Session, what: Keyed): Address[] {
	const { doc, clip } = session;
	const { channel, channels, part } = session.selection;
	if (what === 'part') return part ? numbersOfPart(session, part) : [];
	if (what === 'property') {
		if (!channel) return [];
		return numbersOf(doc.parts[channel.part])
			.filter(({ property }) => property === channel.property)
			.map((number) => ({ ...number, part: channel.part }));
	}
	if (channels.length > 0) return [...channels];
	return part ? numbersOfPart(session, part) : channelsOfClip(doc, clip!.id);
}

/** Sets keys at the playhead on what is in hand; the motion stays as it is. */
export function keyHere(session: Session, what: Keyed): void {
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
	const ids = addresses.map(({ part, property, component }) => channelId(clip.id, part, property, component));
	session.edit('Set keys', (before) => {
		const doc = keyAsIs(before, addresses, t);
		return {
			doc,
			...pickedKeys(new Map(ids.filter((id) => doc.channels[id]).map((id) => [id, new Set([t])]))),
		};
	});
}

/** Picks the keys of channels of the open clip. */
export function pickKeysOf(session: Session, isWanted: (channel: Address) => boolean): void {
	const { clip, doc } = session;
	const found = Object.values(doc.channels).filter(
		(channel) => channel.clip === clip?.id && isWanted(channel),
	);
	session.selection.pickKeys(new Map(found.map(({ id, keys }) => [id, new Set(keys.map((key) => key.t))])));
}

/** The selected keys; without any, the keys whose spans are under the playhead of the picked channels. */
export function spansInHand({ selection, transport }: Session): KeySelection {
	if (selection.keys.size > 0) return selection.keys;
	return new Map(
		selection.channels.flatMap(({ id, keys }): [string, Set<number>][] => {
			const at = spanAt(keys, transport.local);
			return at < 0 ? [] : [[id, new Set([keys[at].t])]];
		}),
	);
}

/** The selected keys; without any, all of the picked channels. */
export function keysInHand({ selection }: Session): KeySelection {
	if (selection.keys.size > 0) return selection.keys;
	return new Map(selection.channels.map(({ id, keys }) => [id, new Set(keys.map((key) => key.t))]));
}

export function removePicked(session: Session): void {
	if (session.selection.keys.size === 0) return;
	const { keys } = session.selection;
	const count = countKeys(keys);
	session.edit(count === 1 ? 'Delete key' : `Delete ${count} keys`, (doc) => ({
		doc: removeKeys(doc, keys),
		keys: NO_KEYS,
	}));
}

export function deleteChannels(session: Session, channels: readonly Channel[]): void {
	const [first] = channels;
	if (!first) return;
	const label =
		channels.length > 1
			? `${channels.length} channels`
			: channelLabel(first.property, first.component, session.doc.parts[first.part]);
	session.edit(channels.length > 1 ? `Delete ${label}` : 'Delete channel', (doc) => ({
		doc: removeChannels(
			doc,
			channels.map(({ id }) => id),
		),
		keys: NO_KEYS,
		part: null,
		channel: null,
	}));
	toast(`${label} deleted`, { action: { label: 'Undo', onClick: () => void session.project.undo() } });
}

/** Takes away what the motion does not need, and says what stayed. */
export function joinPicked(session: Session): void {
	const { keys } = session.selection;
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
	let left: KeySelection = NO_KEYS;
	session.edit('Join spans', (before) => {
		const doc = joinKeys(before, keys);
		left = stays(doc);
		return { doc, keys: left };
	});
	const gone = countKeys(keys) - countKeys(left);
	toast(
		gone === 0
			? 'Every selected key carries motion: all stay'
			: `${gone} ${gone === 1 ? 'key' : 'keys'} gone, the motion as it was; ${countKeys(left)} carry motion and stay`,
	);
}

export function pickAll(session: Session): void {
	if (!session.clip) return;
	const picked = session.selection.channels;
	const channels = picked.length > 0 ? picked : channelsOfClip(session.doc, session.clip.id);
	session.selection.pickKeys(
		new Map(channels.map((channel) => [channel.id, new Set(channel.keys.map((key) => key.t))])),
	);
}

/** First and last tick of the selected keys; null where they have no length. */
export function stretchOf(session: Session): { from: number; to: number } | null {
	const extent = extentOf(session.selection.keys);
	return extent && extent.first < extent.last ? { from: extent.first, to: extent.last } : null;
}

export function toggleRange(session: Session): void {
	const { transport } = session;
	if (transport.range) {
		transport.range = null;
		return;
	}
	const stretch = stretchOf(session);
	if (stretch) transport.setRange(stretch.from, stretch.to);
	else toast('Pick keys at two times first, or drag on the ruler with Shift');
}
