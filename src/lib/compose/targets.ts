/** What the commands of Compose act on. */
import type { Place } from '$lib/acts/room-commands';
import type { LaneView } from '$lib/lanes/lane-view.svelte';
import type { BenchField } from '$lib/session/fields';
import type { Session } from '$lib/session/session.svelte';

export interface CommandTargets {
	session: Session;
	view: LaneView;
	/** Opens another clip of the project; null leads to what is left. */
	openClip: (id: string | null) => void;
	/** Leaves Compose for another room, or for the page of all projects. */
	goTo: (place: Place) => void;
}

/** Brings a field of the bench into hand: what is typed or scrubbed there. */
export function toBench(session: Session, field: BenchField): () => void {
	return () => (session.asks.field = field);
}
