/** What an edit touched, as data for a list of versions: where, which keys, by how much, and the profiles around it. */
import { curveOf } from '../clip/compile';
import { sampleProfile } from '../clip/profile';
import type { Key } from '../curve/types';
import { isVector, type Channel, type Clip, type Doc, type Entity, MAPS } from '../document/types';
import { channelLabel } from '../document/labels';
import { unitAt } from '../document/units';

/** What an edit did to the first channel that it touched; all `null` and empty where it touched none. */
export interface Touched {
	/** Id of the clip and name of the part, where the edit was about one. */
	clip: string | null;
	part: string | null;
	/** What the channel is called. */
	channel: string | null;
	/** Channels that were touched besides it. */
	others: number;
	/** How many of its keys were set, moved or removed, and the ticks between which they stand (or stood). */
	keys: number;
	from: number | null;
	to: number | null;
	/** Ticks by which all of them moved, where they did so alike and kept their values. */
	byTicks: number | null;
	/** Value of the one key that was changed, before and after; `null` on the side where there is none. */
	before: number | null;
	after: number | null;
	/** As it is written behind such a value. */
	unit: string;
	/** The channel over its clip before and after, 0…1 on one scale; empty where it was not there. */
	was: number[];
	is: number[];
}

/** Of an edit that touched neither clip nor part. */
export const NOTHING_TOUCHED: Touched = {
	clip: null,
	part: null,
	channel: null,
	others: 0,
	keys: 0,
	from: null,
	to: null,
	byTicks: null,
	before: null,
	after: null,
	unit: '',
	was: [],
	is: [],
};

/** Points of a profile. */
const POINTS = 32;

function entityOf(doc: Doc, id: string): Entity | undefined {
	for (const map of MAPS) if (Object.hasOwn(doc[map], id)) return doc[map][id];
	return undefined;
}

/** Keys of one list that the other does not have as they are; most are the very same object in both. */
function keysNotIn(keys: readonly Key[], others: readonly Key[]): Key[] {
	const [own, theirs] = [new Set(keys), new Set(others)];
	const unlike = new Set(others.filter((key) => !own.has(key)).map((key) => JSON.stringify(key)));
	return keys.filter((key) => !theirs.has(key) && !unlike.has(JSON.stringify(key)));
}

/** By how much all keys moved; `null` where they did not move alike, or did more than that. */
function commonMove(before: readonly Key[], after: readonly Key[]): number | null {
	if (before.length === 0 || before.length !== after.length) return null;
	const by = after[0].t - before[0].t;
	const isAlike = before.every((key, i) => after[i].t - key.t === by && after[i].v === key.v);
	return by !== 0 && isAlike ? by : null;
}

function profilesOf(versions: readonly (readonly [Channel, Clip] | null)[]): number[][] {
	const sampled = versions.map((version) => {
		if (!version || isVector(version[0].property)) return null;
		const values = new Float64Array(POINTS);
		return { values, ...sampleProfile(curveOf(...version), 0, version[1].length, values) };
	});
	const low = Math.min(...sampled.map((one) => one?.low ?? Infinity));
	const range = Math.max(...sampled.map((one) => one?.high ?? -Infinity)) - low || 1;
	return sampled.map((one) =>
		one ? Array.from(one.values, (v) => Math.round((1000 * (v - low)) / range) / 1000) : [],
	);
}

/** What leads from one document to the next, by the ids of the entities that differ. */
export function touched(before: Doc, after: Doc, ids: Iterable<string>): Touched {
	const pairs = [...ids].map((id) => [entityOf(before, id), entityOf(after, id)] as const);
	const channels = pairs.flatMap(([was, is]) => {
		const channel = is ?? was;
		return channel?.type === 'channel' ? [[was, is, channel] as [Channel?, Channel?, Channel?]] : [];
	});
	if (channels.length === 0) {
		const entity = pairs.map(([was, is]) => is ?? was).find((one) => one !== undefined);
		if (!entity || entity.type === 'project') return NOTHING_TOUCHED;
		const clip = entity.type === 'clip' ? entity.id : 'clip' in entity ? entity.clip : null;
		const part = entity.type === 'part' ? entity : 'part' in entity ? partOf(entity.part) : null;
		return { ...NOTHING_TOUCHED, clip, part: part?.name ?? null };
	}
	const [was, is, channel] = channels[0] as [Channel | undefined, Channel | undefined, Channel];
	const old = keysNotIn(was?.keys ?? [], is?.keys ?? []);
	const now = keysNotIn(is?.keys ?? [], was?.keys ?? []);
	const times = (now.length > 0 ? now : old).map((key) => key.t);
	const isOne = Math.max(old.length, now.length) === 1 && !isVector(channel.property);
	const part = partOf(channel.part);
	const version = (doc: Doc, own?: Channel) =>
		own && doc.clips[own.clip] ? ([own, doc.clips[own.clip]] as const) : null;
	const [profileBefore, profileAfter] = profilesOf([version(before, was), version(after, is)]);
	return {
		clip: channel.clip,
		part: part?.name ?? null,
		channel: channelLabel(channel.property, channel.component, part),
		others: channels.length - 1,
		keys: Math.max(old.length, now.length),
		from: times[0] ?? null,
		to: times.at(-1) ?? null,
		byTicks: commonMove(old, now),
		before: isOne && old.length > 0 ? old[0].v : null,
		after: isOne && now.length > 0 ? now[0].v : null,
		unit: unitAt(after.parts[channel.part] ? after : before, channel),
		was: profileBefore,
		is: profileAfter,
	};

	function partOf(id: string) {
		return after.parts[id] ?? before.parts[id];
	}
}
