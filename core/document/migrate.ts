/**
 * Brings what older versions wrote up to the one that is read and written now: whole files, entities as they are stored
 * one a row, and the changesets of a journal. All three take the same steps.
 */
import { MAPS, type Entity } from './types';
import type { Changeset } from './changeset';

/** Version of everything that is written now. */
export const VERSION = 13;

type Body = Record<string, unknown>;

/** What one version changed about its predecessor. */
export interface Step {
	/** Maps of entities that came. */
	newMaps?: readonly string[];
	/** One entity, whatever its type; a channel's keys go through `key` besides. */
	entity?: (entity: Body) => Body;
	/** One key of a channel. */
	key?: (key: Body) => Body;
}

/** Steps from each version to the next, by the version that they start from. */
const STEPS: Readonly<Record<number, Step>> = {
	// Formulas.
	1: { newMaps: ['formulas'] },
	// Blends, and shapes of one's own.
	2: { newMaps: ['blends', 'shapes'] },
	// Models, cameras, strokes and channels of drawings: nothing older is different.
	3: {},
	// Findings that are meant to be so: nothing older is different.
	4: {},
	// The snap step and the screen of a project: nothing older is different.
	5: {},
	// How the text of a label is aligned: nothing older is different.
	6: {},
	// What is revealed of a drawing, and numbers of one's own: nothing older is different.
	7: {},
	// Triggers, layers and rehearsals.
	8: { newMaps: ['triggers', 'layers', 'rehearsals'] },
	// Mixes.
	9: { newMaps: ['mixes'] },
	// Profiles.
	10: { newMaps: ['profiles'] },
	// Motions of one's own.
	11: { newMaps: ['motions'] },
	// Takes.
	12: { newMaps: ['takes'] },
};

function isBody(value: unknown): value is Body {
	return typeof value === 'object' && value !== null && !Array.isArray(value);
}

function stepEntity({ entity, key }: Step, value: unknown): unknown {
	if (!isBody(value)) return value;
	const body = entity ? entity(value) : value;
	if (!key || !Array.isArray(body.keys)) return body;
	return { ...body, keys: body.keys.map((own) => (isBody(own) ? key(own) : own)) };
}

/** The steps from a version to now; none for a version that is not known. */
function stepsFrom(version: number, steps: Readonly<Record<number, Step>>): Step[] {
	const found: Step[] = [];
	for (let from = version; Object.hasOwn(steps, from); from++) found.push(steps[from]);
	return found;
}

/** An entity as it is stored, brought to the current version. */
export function migrateEntity(value: unknown, version: number, steps = STEPS): Entity {
	return stepsFrom(version, steps).reduce((body, step) => stepEntity(step, body), value) as Entity;
}

/** A changeset of the journal, brought to the current version: what it puts, and the keys that it inserts. */
export function migrateChangeset(changeset: Changeset, version: number, steps = STEPS): Changeset {
	return stepsFrom(version, steps).reduce<Changeset>(
		(made, step) => ({
			...made,
			put: Object.fromEntries(
				Object.entries(made.put).map(([id, entity]) => [id, stepEntity(step, entity) as Entity]),
			),
			splice: Object.fromEntries(
				Object.entries(made.splice).map(([id, splices]) => [
					id,
					splices.map((own) =>
						step.key
							? { ...own, insert: own.insert.map((key) => step.key!(key as unknown as Body) as never) }
							: own,
					),
				]),
			),
		}),
		changeset,
	);
}

/** A file in the current version. What is no file, or of a version that is not known, is given back as it is. */
export function migrateDocument(value: unknown, steps = STEPS): unknown {
	if (!isBody(value) || typeof value.version !== 'number') return value;
	let file = value;
	for (const step of stepsFrom(value.version, steps)) {
		const maps = Object.fromEntries(
			[...new Set([...MAPS, ...(step.newMaps ?? [])])].flatMap((map) => {
				const held = file[map] ?? (step.newMaps?.includes(map) ? {} : undefined);
				if (!isBody(held)) return held === undefined ? [] : [[map, held]];
				return [
					[map, Object.fromEntries(Object.entries(held).map(([id, own]) => [id, stepEntity(step, own)]))],
				];
			}),
		);
		const project = 'project' in file ? { project: stepEntity(step, file.project) } : {};
		file = { ...file, ...project, ...maps, version: (file.version as number) + 1 };
	}
	return file;
}
