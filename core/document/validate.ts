/** Whether entities are well-formed (by schema) and agree with each other (references, order of keys). */
import type { ErrorObject } from 'ajv';
import { fail, ok, token, type Problem, type Result } from '../result';
import { pathLines } from '../outline/outline';
import { compileExpression } from '../formula/expression';
import type { Key } from '../curve/types';
import { migrateDocument, VERSION } from './migrate';
import { badReferences } from './references';
import type { Motion } from './motions';
import { columnName, type Take } from './takes';
import type { Mix } from './triggers';
import {
	blendId,
	channelId,
	componentsOf,
	formulaId,
	isVector,
	MAP_OF,
	MAPS,
	type Channel,
	type Doc,
	type Entity,
	type Formula,
	type Part,
	type Property,
} from './types';
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
	if (type !== 'project' && (typeof type !== 'string' || !Object.hasOwn(MAP_OF, type))) {
		return [{ pointer: `${prefix}/type`, message: 'This type of entity is not known.' }];
	}
	return validateShape(type as Kind, value, prefix);
}

/** Rules for one entity that a schema cannot say. */
export function validateRules(entity: Entity, prefix: string): Problem[] {
	if (entity.type === 'channel') return validateChannel(entity, prefix);
	if (entity.type === 'blend' && entity.id !== blendId(entity.from, entity.to))
		return [{ pointer: `${prefix}/id`, message: "A blend's id must be from/to/blend." }];
	if (entity.type === 'part') return [...validatePath(entity, prefix), ...validateNumbers(entity, prefix)];
	if (entity.type === 'mix') return validateStops(entity, prefix);
	if (entity.type === 'motion') return validateMotion(entity, prefix);
	if (entity.type === 'take') return validateTake(entity, prefix);
	return entity.type === 'formula' ? validateFormula(entity, prefix) : [];
}

/** A clip plays alone at one place, and no two do at the same. */
function validateStops({ stops }: Mix, prefix: string): Problem[] {
	return stops.flatMap(({ clip, at }, i) => {
		const before = stops.slice(0, i);
		const pointer = `${prefix}/stops/${i}`;
		if (before.some((other) => other.clip === clip))
			return [{ pointer: `${pointer}/clip`, message: 'A clip is in a mix once.' }];
		return before.some((other) => other.at >= at)
			? [{ pointer: `${pointer}/at`, message: 'The places of a mix must rise.' }]
			: [];
	});
}

/** A path that cannot be drawn would be found out only where it is: on the stage, and in files. */
function validatePath({ drawing }: Part, prefix: string): Problem[] {
	if (drawing.kind !== 'path') return [];
	try {
		pathLines(drawing.d);
		return [];
	} catch (error) {
		const why = error instanceof Error ? error.message : String(error);
		return [{ pointer: `${prefix}/drawing/d`, message: `This path cannot be drawn: ${why}` }];
	}
}

/** Numbers of one's own have a component each, and a rest value within their range. */
function validateNumbers({ numbers = [] }: Part, prefix: string): Problem[] {
	return numbers.flatMap(({ key, low, high, value }, i) => {
		const at = `${prefix}/numbers/${i}`;
		if (numbers.findIndex((other) => other.key === key) < i)
			return [{ pointer: `${at}/key`, message: `There are two numbers "${key}".` }];
		if (low >= high) return [{ pointer: `${at}/high`, message: 'A range must end above its start.' }];
		return value < low || value > high
			? [{ pointer: `${at}/value`, message: 'The value must be within the range.' }]
			: [];
	});
}

/** How far the length of a stored quaternion may be from 1. */
const UNIT_LENGTH = 1e-3;

/** What is wrong with a key for the kind of its channel. */
function misfit(property: Property, key: Key, next: Key | undefined): string | null {
	const { vector } = key;
	if (isVector(property) && !vector) return `A key of ${property} needs a vector.`;
	if (!isVector(property) && vector) return 'Only colours and orientations have vectors.';
	if (property === 'orientation' && vector && Math.abs(Math.hypot(...vector) - 1) > UNIT_LENGTH)
		return 'An orientation must be a quaternion of length 1.';
	if (property === 'colour' && vector?.some((share) => share < 0 || share > 1))
		return 'Colours go from 0 to 1.';
	if (property === 'visible' && (key.shape.kind !== 'hold' || (key.v !== 0 && key.v !== 1)))
		return 'A switch is 0 or 1, and holds.';
	if (
		key.shape.kind === 'tangents' &&
		(property !== 'orientation' || !key.tangents || (next && !next.tangents))
	)
		return 'Spans with tangents are for orientations whose keys have them.';
	return null;
}

function validateFormula(formula: Formula, prefix: string): Problem[] {
	const { clip, part, property, component, id, text, inputs } = formula;
	if (id !== formulaId(clip, part, property, component)) {
		return [
			{ pointer: `${prefix}/id`, message: "A formula's id must be clip/part/property/component/formula." },
		];
	}
	const addresses = [formula, ...Object.values(inputs).flatMap((input) => ('value' in input ? [] : [input]))];
	for (const address of addresses) {
		if (!componentsOf(address.property).includes(address.component)) {
			return [
				{
					pointer: prefix,
					message: `The property ${address.property} has no component "${address.component}".`,
				},
			];
		}
	}
	const compiled = compileExpression(text, Object.keys(inputs));
	return compiled.ok ? [] : [{ pointer: `${prefix}/text`, message: compiled.problem.message }];
}

function validateChannel(channel: Channel, prefix: string): Problem[] {
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
	if (isVector(property) && channel.accumulates) {
		return [{ pointer: `${prefix}/accumulates`, message: `A channel of ${property} cannot add up.` }];
	}
	return validateKeys(property, keys, prefix);
}

/** Rules of the keys of a channel, in a clip or in a motion. */
function validateKeys(property: Property, keys: readonly Key[], prefix: string): Problem[] {
	for (let i = 0; i < keys.length; i++) {
		if (i > 0 && keys[i].t <= keys[i - 1].t) {
			return [
				{ pointer: `${prefix}/keys/${i}/t`, message: 'Keys must be in order of time, no two at one tick.' },
			];
		}
		const { shape } = keys[i];
		const wrong = misfit(property, keys[i], keys[i + 1]);
		if (wrong) return [{ pointer: `${prefix}/keys/${i}`, message: wrong }];
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

/** A motion begins at 0 and ends with its last key; no number is in it twice. */
function validateMotion({ channels, length }: Motion, prefix: string): Problem[] {
	const seen = new Set<string>();
	for (const [i, { property, component, keys }] of channels.entries()) {
		const at = `${prefix}/channels/${i}`;
		const name = `${property} ${component}`;
		if (!componentsOf(property).includes(component))
			return [
				{ pointer: `${at}/component`, message: `The property ${property} has no component "${component}".` },
			];
		if (seen.has(name)) return [{ pointer: at, message: `There are two channels for ${name}.` }];
		seen.add(name);
		const problems = validateKeys(property, keys, at);
		if (problems.length > 0) return problems;
		if (keys.at(-1)!.t > length)
			return [
				{ pointer: `${prefix}/length`, message: 'A motion is as long as its last key is late, at least.' },
			];
	}
	return [];
}

/** A take ends where it begins or later; no number is in it twice. */
function validateTake({ columns, from, to }: Take, prefix: string): Problem[] {
	if (to < from) return [{ pointer: `${prefix}/to`, message: 'A take cannot end before it begins.' }];
	const seen = new Set<string>();
	return columns.flatMap((column, i) => {
		const { property, component, index } = column;
		const at = `${prefix}/columns/${i}`;
		const name = columnName(column);
		if (seen.has(name))
			return [{ pointer: at, message: `There are two columns for ${property} ${component}.` }];
		seen.add(name);
		if ((property === 'colour') !== (index !== undefined))
			return [{ pointer: `${at}/index`, message: 'A column of a colour says which of its numbers it is.' }];
		return componentsOf(property).includes(component)
			? []
			: [
					{
						pointer: `${at}/component`,
						message: `The property ${property} has no component "${component}".`,
					},
				];
	});
}

/** Reads a value as a whole document: older versions are brought up, then schema, then what entities say of each other. */
export function validateDocument(value: unknown): Result<Doc> {
	const version = (value as { version?: unknown } | null)?.version;
	if (typeof version === 'number' && version > VERSION) {
		return fail(
			'/version',
			`This file is of version ${version}, newer than this Hillock reads (${VERSION}). Update Hillock.`,
		);
	}
	const current = migrateDocument(value);
	const shape = validateShape('file', current);
	if (shape.length > 0) return { ok: false, problems: shape };
	const file = current as Doc;
	const maps = Object.fromEntries(MAPS.map((map) => [map, file[map]]));
	const doc = { project: file.project, ...maps } as Doc;
	// Entities are stored and changed by their ids alone, whatever map they stand in.
	const known = new Map<string, string>();
	for (const map of MAPS) {
		for (const [id, entity] of Object.entries(doc[map] as Record<string, Entity>)) {
			const prefix = `/${map}/${token(id)}`;
			if (entity.id !== id) return fail(`${prefix}/id`, 'The id differs from the name it stands under.');
			const other = known.get(id);
			if (other !== undefined) return fail(prefix, `The id "${id}" is used in "${other}" already.`);
			known.set(id, map);
			const problems = validateRules(entity, prefix);
			if (problems.length > 0) return { ok: false, problems };
		}
	}
	const references = badReferences(doc, { has: () => true });
	if (references.length === 0) return ok(doc);
	return {
		ok: false,
		problems: references.map(({ entity, member, message }) => ({
			pointer: `/${entity.type === 'project' ? 'project' : MAP_OF[entity.type]}/${token(entity.id)}/${member}`,
			message,
		})),
	};
}
