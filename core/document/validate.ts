/** Whether entities are well-formed (by schema) and agree with each other (references, order of keys). */
import type { ErrorObject } from 'ajv';
import { fail, ok, token, type Problem, type Result } from '../result';
import { channelId, componentsOf, type Channel, type Doc, type Entity } from './types';
import * as validators from './validators.generated.js';

type Kind = keyof typeof validators;

function problemOf(error: ErrorObject, prefix: string): Problem {
	const at = prefix + error.instancePath;
	const params = error.params as Record<string, unknown>;
	switch (error.keyword) {
		case 'additionalProperties':
			return {
				pointer: `${at}/${token(String(params.additionalProperty))}`,
				message: 'This member is not known here.',
			};
		case 'required':
			return { pointer: at, message: `The member "${String(params.missingProperty)}" is missing.` };
		case 'propertyNames':
			return { pointer: `${at}/${token(String(params.propertyName))}`, message: 'This is no valid id.' };
		case 'const':
		case 'enum': {
			const allowed = (params.allowedValues ?? [params.allowedValue]) as unknown[];
			return {
				pointer: at,
				message: `The value must be ${allowed.map((v) => JSON.stringify(v)).join(' or ')}.`,
			};
		}
		case 'discriminator':
			return { pointer: `${at}/kind`, message: 'This kind is not known.' };
		default:
			return { pointer: at, message: `The value ${error.message ?? 'is not valid'}.` };
	}
}

/** Checks a value against one schema of the project file. */
export function validateShape(kind: Kind, value: unknown, prefix = ''): Problem[] {
	const validate = validators[kind];
	if (validate(value)) return [];
	// An anyOf or oneOf reports last; the error before it, in the branch, says more.
	const errors = validate.errors ?? [];
	const best = errors.find((error) => error.keyword !== 'if') ?? errors[0];
	return best ? [problemOf(best, prefix)] : [{ pointer: prefix, message: 'The value is not valid.' }];
}

/** Checks an entity against the schema of its own type. */
export function validateEntity(value: unknown, prefix: string): Problem[] {
	const type = (value as { type?: unknown } | null)?.type;
	if (type !== 'project' && type !== 'part' && type !== 'clip' && type !== 'channel' && type !== 'cue') {
		return [{ pointer: `${prefix}/type`, message: 'This type of entity is not known.' }];
	}
	return validateShape(type, value, prefix);
}

/** Rules for one channel that a schema cannot say. */
export function validateChannel(channel: Channel, prefix: string): Problem[] {
	const { clip, part, property, component, keys, id } = channel;
	if (id !== channelId(clip, part, property, component)) {
		return [{ pointer: `${prefix}/id`, message: "A channel's id must be clip/part/property/component." }];
	}
	if (!componentsOf(property).includes(component)) {
		return [
			{
				pointer: `${prefix}/component`,
				message: `The property ${property} has no component "${component}".`,
			},
		];
	}
	for (let i = 0; i < keys.length; i++) {
		if (i > 0 && keys[i].t <= keys[i - 1].t) {
			return [
				{ pointer: `${prefix}/keys/${i}/t`, message: 'Keys must be in order of time, no two at one tick.' },
			];
		}
		const { shape } = keys[i];
		if (shape.kind === 'stops') {
			const bad = shape.stops.findIndex((stop, j) => j > 0 && stop.x < shape.stops[j - 1].x);
			if (bad > 0) {
				return [
					{ pointer: `${prefix}/keys/${i}/shape/stops/${bad}/x`, message: 'Stops must not go backwards.' },
				];
			}
		}
		if (shape.kind === 'steps' && shape.jump === 'jump-none' && shape.count < 2) {
			return [{ pointer: `${prefix}/keys/${i}/shape/count`, message: 'jump-none needs two steps or more.' }];
		}
	}
	return [];
}

/** A reference that leads nowhere, or round in a ring. */
export interface BadReference {
	entity: Entity;
	member: 'parent' | 'clip' | 'part';
	/** The id that is missing; null for a ring. */
	missing: string | null;
	message: string;
}

function ringOfParents(doc: Doc): string[] | null {
	const safe = new Set<string>();
	for (const start of Object.keys(doc.parts)) {
		const trail: string[] = [];
		for (let id: string | null = start; id !== null && !safe.has(id); id = doc.parts[id].parent) {
			if (trail.includes(id)) return trail.slice(trail.indexOf(id));
			trail.push(id);
		}
		for (const id of trail) safe.add(id);
	}
	return null;
}

/**
 * The references between entities: parents, clips and parts that are there, no ring of parents. A ring is told at
 * the first of its parts that is in `suspects`.
 */
export function badReferences(doc: Doc, suspects: { has(id: string): boolean }): BadReference[] {
	const found: BadReference[] = [];
	const check = (entity: Entity, member: BadReference['member'], map: 'parts' | 'clips', id: string) => {
		if (Object.hasOwn(doc[map], id)) return;
		const kind = map === 'parts' ? 'part' : 'clip';
		found.push({ entity, member, missing: id, message: `There is no ${kind} "${id}".` });
	};
	for (const part of Object.values(doc.parts))
		if (part.parent !== null) check(part, 'parent', 'parts', part.parent);
	if (found.length === 0) {
		const ring = ringOfParents(doc);
		if (ring) {
			const entity = doc.parts[ring.find((id) => suspects.has(id)) ?? ring[0]];
			found.push({
				entity,
				member: 'parent',
				missing: null,
				message: `"${entity.name}" would be its own ancestor.`,
			});
		}
	}
	for (const channel of Object.values(doc.channels)) {
		check(channel, 'clip', 'clips', channel.clip);
		check(channel, 'part', 'parts', channel.part);
	}
	for (const cue of Object.values(doc.cues)) check(cue, 'clip', 'clips', cue.clip);
	return found;
}

/** Reads a value as a whole document: schema first, then what entities say of each other. */
export function validateDocument(value: unknown): Result<Doc> {
	const version = (value as { version?: unknown } | null)?.version;
	if (typeof version === 'number' && version > 1) {
		return fail(
			'/version',
			`This file is of version ${version}, newer than this Hillock reads (1). Update Hillock.`,
		);
	}
	const shape = validateShape('file', value);
	if (shape.length > 0) return { ok: false, problems: shape };
	const { project, parts, clips, channels, cues } = value as Doc;
	const doc: Doc = { project, parts, clips, channels, cues };
	for (const [map, entities] of Object.entries({ parts, clips, channels, cues })) {
		for (const [id, entity] of Object.entries(entities)) {
			if (entity.id !== id)
				return fail(`/${map}/${token(id)}/id`, 'The id differs from the name it stands under.');
		}
	}
	for (const channel of Object.values(channels)) {
		const problems = validateChannel(channel, `/channels/${token(channel.id)}`);
		if (problems.length > 0) return { ok: false, problems };
	}
	const references = badReferences(doc, { has: () => true });
	if (references.length === 0) return ok(doc);
	return {
		ok: false,
		problems: references.map(({ entity, member, message }) => ({
			pointer: `/${entity.type}s/${token(entity.id)}/${member}`,
			message,
		})),
	};
}
