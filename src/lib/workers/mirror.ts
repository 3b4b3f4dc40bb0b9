/** A document that a worker keeps: told whole once, then by what changed. */
import { applyOwn, diffDocuments, isEmpty, type Changeset } from '$core/document/changeset';
import type { Doc } from '$core/document/types';

/** In the worker. */
export class Mirror {
	private doc: Doc | null = null;

	open(whole: Doc): void {
		this.doc = whole;
	}

	/** The document after a change; null where it is not known here, or the change does not fit it. */
	after(change: Changeset | null): Doc | null {
		if (this.doc && change) this.doc = applyOwn(this.doc, change);
		return this.doc;
	}
}

/** What a worker with a mirror can be asked. */
interface Told {
	open(whole: Doc): Promise<void>;
}

/** On the page. */
export class Mirrored<R extends Told> {
	/** What the worker knows, once it has been told. */
	private known: Doc | null = null;

	constructor(private readonly remote: R) {}

	/** Asks about a document: `question` is given the change to it, and answers null where the worker does not know it. */
	async ask<A>(
		doc: Doc,
		question: (remote: R, change: Changeset | null) => Promise<A | null>,
	): Promise<A | null> {
		if (this.known) {
			const change = diffDocuments(this.known, doc);
			this.known = doc;
			const answer = await question(this.remote, isEmpty(change) ? null : change);
			if (answer !== null) return answer;
		}
		this.known = doc;
		await this.remote.open(doc);
		return question(this.remote, null);
	}
}
