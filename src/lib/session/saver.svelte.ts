/**
 * What the screen says of saving: "saved" only when the server has said so. While the server is away edits wait here
 * and in the browser's storage, and are sent when it is back.
 */
import { api, type ApiProblem, type Loaded } from '$lib/api/client';
import type { Conflict } from './steps';
import { Sync, type SyncEvents, type SyncServer, type SyncState } from './sync';
import { forgetAdopted, UnsentRecord } from './unsent';

const RETRY_MS = 1500;

/** The server as a window reaches it. */
export function serverOf(project: string): SyncServer {
	return {
		save: (revision, { editId, label, changeset }) =>
			api.save(project, revision, { editId, label, changeset }),
		retrace: (revision, { editId, kind, of }) =>
			api.retrace(project, revision, { editId, of }, kind as 'undo' | 'redo'),
		load: () => api.load(project),
		wait: () => new Promise((resolve) => setTimeout(resolve, RETRY_MS)),
	};
}

export class Saver {
	state = $state<SyncState>('saved');
	/** Why nothing could be saved last, while that is so. */
	away = $state.raw<ApiProblem | null>(null);
	savedAt = $state.raw<Date | null>(null);
	/** Labels of what undo and redo would do. */
	undo = $state<string | null>(null);
	redo = $state<string | null>(null);
	/** Edits that were not taken, since others changed the same: for somebody to choose. */
	conflicts = $state.raw<readonly Conflict[]>([]);
	readonly sync: Sync;

	constructor(
		project: string,
		loaded: Loaded,
		events: Omit<SyncEvents, 'onchange'>,
		conflicts: readonly Conflict[],
	) {
		const record = new UnsentRecord(project);
		const onchange = () => {
			this.read();
			record.keep(this.sync.unsent);
		};
		this.sync = new Sync(loaded, serverOf(project), { ...events, onchange }, conflicts);
		onchange();
		if (conflicts.length > 0) void forgetAdopted(project);
	}

	private read(): void {
		const { state, away, savedAt, undo, redo, conflicts } = this.sync;
		Object.assign(this, { state, away, savedAt, undo, redo, conflicts });
	}

	get pending(): number {
		return this.sync.pending;
	}

	/** Resolves when everything has been answered. */
	flushed(): Promise<void> {
		return this.sync.flushed();
	}
}
