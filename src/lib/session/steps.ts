/** Steps that wait for the server's answer, and what becomes of those that do not fit what others did. */
import { applyOwn, touchedIds, touchesAny, type Changeset } from '$core/document/changeset';
import { badReferences } from '$core/document/references';
import { MAPS, type Doc, type Entity } from '$core/document/types';
import type { Answer, Answered, ApiProblem, Foreign, Retraced } from '$lib/api/client';

export type StepKind = 'edit' | 'undo' | 'redo';

/** Something done here that the server has not answered yet. */
export interface Step {
	editId: string;
	kind: StepKind;
	label: string;
	/** What it changes; null for an undo or redo of what was done before this window opened: the server knows it. */
	changeset: Changeset | null;
	/** Of an undo or redo with a changeset: the edit that it is about. */
	of?: string;
	/** What it made of each entity that it left there. */
	made: Made[];
}

/** An entity before a step and after it. */
export interface Made {
	before: Entity | null;
	after: Entity;
}

/** A step that was not taken, since it does not fit what others did, or what the server takes. */
export interface Conflict {
	editId: string;
	label: string;
	/** Why, in a sentence. */
	reason: string;
	/** What others did to the same things, by its labels; empty where that was not the reason. */
	theirs: string[];
	/** What it made here, and the ids of what it removed. */
	mine: { made: Made[]; drop: string[] };
}

/** What must outlive the page: what is to be sent and on which revision, and what somebody is still to choose. */
export interface Unsent {
	revision: number;
	queue: readonly Step[];
	conflicts: readonly Conflict[];
}

/** Sends steps; on the revision that the sender knows all of. */
export interface StepServer {
	save(revision: number, step: Step & { changeset: Changeset }): Promise<Answer<Answered>>;
	retrace(revision: number, step: Step): Promise<Answer<Retraced>>;
}

export function sendStep(
	server: StepServer,
	revision: number,
	step: Step,
): Promise<Answer<Answered & Partial<Retraced>>> {
	const { changeset } = step;
	// An edit always has a changeset.
	if (step.kind === 'edit' && changeset) return server.save(revision, { ...step, changeset });
	return server.retrace(revision, step);
}

/** Whether a problem passes by itself: the server is away, or has its own trouble. */
export function isPassing({ status }: ApiProblem): boolean {
	return status === 0 || status >= 500;
}

function entityOf(doc: Doc, id: string): Entity | null {
	if (doc.project.id === id) return doc.project;
	const map = MAPS.find((name) => Object.hasOwn(doc[name], id));
	return map ? doc[map][id] : null;
}

/** What a changeset makes of the entities that it sets or changes. */
export function madeOf(changeset: Changeset, before: Doc, after: Doc): Made[] {
	return [...Object.keys(changeset.put), ...Object.keys(changeset.splice)].flatMap((id) => {
		const entity = entityOf(after, id);
		return entity ? [{ before: entityOf(before, id), after: entity }] : [];
	});
}

/** An entity as it is now, with those of its members that a step changed as the step made them. */
function withMade(now: Entity, { before, after }: Made): Entity {
	if (!before || before.type !== after.type || now.type !== after.type) return after;
	const was = before as unknown as Record<string, unknown>;
	const is = after as unknown as Record<string, unknown>;
	const members = [...new Set([...Object.keys(was), ...Object.keys(is)])];
	const changed = members.filter((name) => JSON.stringify(was[name]) !== JSON.stringify(is[name]));
	const next: Record<string, unknown> = { ...now };
	for (const name of changed) {
		if (is[name] === undefined) delete next[name];
		else next[name] = is[name];
	}
	return next as unknown as Entity;
}

/** A step on top of a document that others changed; null where it does not fit. */
export function applyStep(doc: Doc, changeset: Changeset): Doc | null {
	const next = applyOwn(doc, changeset);
	return next && badReferences(next, touchedIds(changeset)).length === 0 ? next : null;
}

/** One's own side of a conflict, on a document as it is now: what it changed and nothing else; null where it does not fit. */
export function applyMine(doc: Doc, { made, drop }: Conflict['mine']): Doc | null {
	const put: Record<string, Entity> = {};
	for (const one of made) {
		const { id } = one.after;
		const now = entityOf(doc, id);
		put[id] = now ? withMade(now, one) : one.after;
	}
	return applyStep(doc, { put, splice: {}, drop: drop.filter((id) => entityOf(doc, id) !== null) });
}

export function conflictOf({ step, reason, theirs }: Refused): Conflict | null {
	const { editId, kind, label, changeset, made } = step;
	// An undo that was not done can be redone: there is nothing to choose.
	if (kind !== 'edit' || !changeset) return null;
	return { editId, label, reason, theirs, mine: { made, drop: changeset.drop } };
}

/** A step that cannot be taken any more, and why. */
export interface Refused {
	step: Step;
	reason: string;
	theirs: string[];
}

/** Takes out of a queue what touches the same entities as a changeset, and what was made on top of that. */
export function splitClashing(
	queue: readonly Step[],
	changeset: Changeset,
	reason: string,
	theirs: string[] = [],
): { kept: Step[]; refused: Refused[] } {
	const tainted = touchedIds(changeset);
	const kept: Step[] = [];
	const refused: Refused[] = [];
	for (const step of queue) {
		if (!step.changeset || !touchesAny(step.changeset, tainted)) kept.push(step);
		else {
			refused.push({ step, reason, theirs });
			for (const id of touchedIds(step.changeset)) tainted.add(id);
		}
	}
	return { kept, refused };
}

/** What is left of a queue after others did something, and what is not. */
export function splitOvertaken(
	queue: readonly Step[],
	rows: readonly Foreign[],
): { kept: readonly Step[]; refused: Refused[] } {
	if (rows.length === 0) return { kept: queue, refused: [] };
	// What the last edit is has changed: what was to be taken back unseen would be another one now.
	const refused = queue
		.filter(({ changeset }) => changeset === null)
		.map((step): Refused => ({ step, reason: CHANGED_ELSEWHERE, theirs: rows.map(({ label }) => label) }));
	let kept = queue.filter(({ changeset }) => changeset !== null);
	for (const { label, changeset } of rows) {
		const split = splitClashing(kept, changeset, CHANGED_ELSEWHERE, [label]);
		kept = split.kept;
		refused.push(...split.refused);
	}
	return { kept, refused };
}

export const CHANGED_ELSEWHERE = 'Another window changed the same things.';
export const madeBefore = (label: string) => `It was made before “${label}” was taken back or done again.`;
export const builtOn = (label: string) => `It was made on top of “${label}”, which was not saved.`;

/**
 * Sends what an earlier visit could not, on the revision that it knew. Without a document: what the server has taken
 * already must not be shown twice. Null when the server does not answer; it can be called again then.
 */
export async function sendUnsent(server: StepServer, unsent: Unsent): Promise<Conflict[] | null> {
	let { revision } = unsent;
	let queue: readonly Step[] = unsent.queue;
	const refused: Refused[] = [];
	const keep = (split: { kept: readonly Step[]; refused: Refused[] }) => {
		queue = split.kept;
		refused.push(...split.refused);
	};
	while (queue.length > 0) {
		const step = queue[0];
		const answer = await sendStep(server, revision, step);
		if (!answer.ok && isPassing(answer.problem)) return null;
		queue = queue.slice(1);
		if (answer.ok) {
			keep(splitOvertaken(queue, answer.value.missed));
			const { changeset } = answer.value;
			if (!step.changeset && changeset) keep(splitClashing(queue, changeset, madeBefore(step.label)));
			revision = answer.value.revision;
		} else {
			const { problem } = answer;
			refused.push(refusalOf(step, problem));
			if (step.changeset) keep(splitClashing(queue, step.changeset, builtOn(step.label)));
			keep(splitOvertaken(queue, problem.missed ?? []));
			revision = problem.revision ?? revision;
		}
	}
	return [...unsent.conflicts, ...refused.flatMap((one) => conflictOf(one) ?? [])];
}

/** Why the server did not take a step: others did something to the same things, or it does not take it from anybody. */
export function refusalOf(step: Step, problem: ApiProblem): Refused {
	const { missed, title, detail } = problem;
	if (!missed) return { step, reason: `${title}: ${detail}`, theirs: [] };
	const { changeset } = step;
	const ids = changeset && touchedIds(changeset);
	const rows = ids ? missed.filter((row) => touchesAny(row.changeset, ids)) : missed;
	return { step, reason: CHANGED_ELSEWHERE, theirs: rows.map(({ label }) => label) };
}
