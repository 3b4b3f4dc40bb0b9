/**
 * What an edit changed, found by comparing entities by identity. A changeset and its inverse are the undo step, the
 * save, the journal row and what another window receives.
 */
import type { Key } from '../curve/types';
import { token, type Problem } from '../result';
import { MAP_OF, MAPS, type Channel, type Doc, type Entity, type MapName } from './types';

export interface KeySplice {
	/** Index in the keys as they were before. */
	at: number;
	remove: number;
	insert: Key[];
}

export interface Changeset {
	/** Entities to set whole, by id. */
	put: Record<string, Entity>;
	/** Changes within the keys of channels, by channel id; indices in rising order, not overlapping. */
	splice: Record<string, KeySplice[]>;
	/** Ids of entities to remove. */
	drop: string[];
}

export function isEmpty(changeset: Changeset): boolean {
	return (
		changeset.drop.length === 0 &&
		Object.keys(changeset.put).length === 0 &&
		Object.keys(changeset.splice).length === 0
	);
}

/** The entities that a changeset sets, changes or removes. */
export function touchedIds(changeset: Changeset): Set<string> {
	return new Set([...Object.keys(changeset.put), ...Object.keys(changeset.splice), ...changeset.drop]);
}

/** Whether a changeset touches any of some entities. */
export function touchesAny(changeset: Changeset, ids: { has(id: string): boolean }): boolean {
	return [...touchedIds(changeset)].some((id) => ids.has(id));
}

function spliceKeys(before: readonly Key[], after: readonly Key[]): KeySplice[] {
	if (before.length === after.length) {
		const splices: KeySplice[] = [];
		for (let i = 0; i < before.length; i++) {
			if (before[i] === after[i]) continue;
			const last = splices.at(-1);
			if (last && last.at + last.remove === i) {
				last.remove++;
				last.insert.push(after[i]);
			} else splices.push({ at: i, remove: 1, insert: [after[i]] });
		}
		return splices;
	}
	let start = 0;
	const shorter = Math.min(before.length, after.length);
	while (start < shorter && before[start] === after[start]) start++;
	let end = 0;
	while (end < shorter - start && before[before.length - 1 - end] === after[after.length - 1 - end]) end++;
	return [{ at: start, remove: before.length - start - end, insert: after.slice(start, after.length - end) }];
}

function differOnlyInKeys(a: Channel, b: Channel): boolean {
	return (
		a.ends === b.ends &&
		a.accumulates === b.accumulates &&
		a.colourSpace === b.colourSpace &&
		a.keys !== b.keys
	);
}

/** The changeset that leads from one document to another; swap the arguments for its inverse. */
export function diffDocuments(before: Doc, after: Doc): Changeset {
	const changeset: Changeset = { put: {}, splice: {}, drop: [] };
	if (before.project !== after.project) changeset.put[after.project.id] = after.project;
	for (const map of MAPS) {
		const old = before[map] as Record<string, Entity>;
		const now = after[map] as Record<string, Entity>;
		if (old === now) continue;
		for (const id of Object.keys(now)) {
			const was = Object.hasOwn(old, id) ? old[id] : undefined;
			const is = now[id];
			if (was === is) continue;
			if (was?.type === 'channel' && is.type === 'channel' && differOnlyInKeys(was, is)) {
				const splices = spliceKeys(was.keys, is.keys);
				if (splices.length > 0) changeset.splice[id] = splices;
			} else changeset.put[id] = is;
		}
		for (const id of Object.keys(old)) if (!Object.hasOwn(now, id)) changeset.drop.push(id);
	}
	return changeset;
}

function applySplices(channel: Channel, splices: KeySplice[], prefix: string, problems: Problem[]): Channel {
	const keys: Key[] = [];
	let read = 0;
	for (const [i, { at, remove, insert }] of splices.entries()) {
		if (at < read || at + remove > channel.keys.length) {
			problems.push({
				pointer: `${prefix}/${i}/at`,
				message: 'The splice does not fit the keys that are there.',
			});
			return channel;
		}
		for (; read < at; read++) keys.push(channel.keys[read]);
		keys.push(...insert);
		read = at + remove;
	}
	for (; read < channel.keys.length; read++) keys.push(channel.keys[read]);
	if (keys.length === 0)
		problems.push({ pointer: prefix, message: 'A channel must keep one key: drop it instead.' });
	return { ...channel, keys };
}

/** What is looked at in what a changeset sets; each gives what is wrong, below a pointer. */
export interface EntityChecks {
	/** Whether an entity has the form of one. */
	form: (entity: Entity, prefix: string) => Problem[];
	/** Whether what it says agrees with itself. */
	rules: (entity: Entity, prefix: string) => Problem[];
}

export interface Applied {
	doc: Doc;
	/** Where in the changeset each entity that it sets stands, by id. */
	touched: ReadonlyMap<string, string>;
	/** Without any the document is what the changeset makes of it. */
	problems: Problem[];
}

/** Applies a changeset piece by piece; the first entities that fail their checks end it. */
export function applyEach(doc: Doc, changeset: Changeset, checks: EntityChecks): Applied {
	const problems: Problem[] = [];
	let project = doc.project;
	const maps = Object.fromEntries(MAPS.map((map) => [map, { ...doc[map] }])) as Record<
		MapName,
		Record<string, Entity>
	>;
	const touched = new Map<string, string>();
	for (const [i, id] of changeset.drop.entries()) {
		const map = MAPS.find((name) => Object.hasOwn(maps[name], id));
		if (map) delete maps[map][id];
		else problems.push({ pointer: `/drop/${i}`, message: `There is nothing with the id "${id}".` });
	}
	for (const [id, entity] of Object.entries(changeset.put)) {
		const prefix = `/put/${token(id)}`;
		touched.set(id, prefix);
		problems.push(...checks.form(entity, prefix));
		if (problems.length > 0) break;
		if (entity.id !== id)
			problems.push({ pointer: `${prefix}/id`, message: 'The id differs from its name here.' });
		if (entity.type === 'project') {
			if (id !== project.id) problems.push({ pointer: `${prefix}/id`, message: 'This is another project.' });
			project = entity;
		} else {
			const elsewhere = MAPS.find((name) => name !== MAP_OF[entity.type] && Object.hasOwn(maps[name], id));
			if (elsewhere || id === project.id) {
				problems.push({ pointer: `${prefix}/type`, message: 'The id belongs to an entity of another type.' });
			}
			problems.push(...checks.rules(entity, prefix));
			maps[MAP_OF[entity.type]][id] = entity;
		}
	}
	for (const [id, splices] of Object.entries(changeset.splice)) {
		const prefix = `/splice/${token(id)}`;
		const channel = Object.hasOwn(maps.channels, id) ? (maps.channels[id] as Channel) : undefined;
		if (!channel) {
			problems.push({ pointer: prefix, message: `There is no channel "${id}".` });
			continue;
		}
		touched.set(id, prefix);
		const next = applySplices(channel, splices, prefix, problems);
		problems.push(...checks.rules(next, prefix));
		maps.channels[id] = next;
	}
	return { doc: { project, ...maps } as Doc, touched, problems };
}

const TRUST: EntityChecks = { form: () => [], rules: () => [] };

/** Applies a changeset of this document's own history, such as undo gives; null where it does not fit. */
export function applyOwn(doc: Doc, changeset: Changeset): Doc | null {
	const applied = applyEach(doc, changeset, TRUST);
	return applied.problems.length === 0 ? applied.doc : null;
}
