/**
 * What a window could not send yet, kept in the browser: a record a window, so that two of them never write over each
 * other. A window holds a lock as long as it lives; what one left behind is sent by the next that opens the project.
 */
import { createStore, del, entries, set, type UseStore } from 'idb-keyval';
import { newId } from './ids';
import { sendUnsent, type Conflict, type StepServer, type Unsent } from './steps';

interface Record extends Unsent {
	project: string;
	window: string;
}

let opened: UseStore | null = null;
const store = (): UseStore => (opened ??= createStore('hillock', 'unsent'));

const lockOf = (window: string) => `hillock-window-${window}`;

/** What the browser has of Web Locks; without any (an old browser, a test) no other window is known to live. */
const locks = (): LockManager | undefined => (typeof navigator === 'undefined' ? undefined : navigator.locks);

export class UnsentRecord {
	readonly window = newId();
	private isWritten = false;
	private writing: Promise<void> = Promise.resolve();

	constructor(private readonly project: string) {
		// Held until the page is gone.
		void locks()?.request(lockOf(this.window), () => new Promise<never>(() => {}));
	}

	/** Keeps what is unsent, in the order of the calls; nothing is kept where there is nothing. */
	keep({ revision, queue, conflicts }: Unsent): void {
		const isEmpty = queue.length === 0 && conflicts.length === 0;
		if (isEmpty && !this.isWritten) return;
		this.isWritten = !isEmpty;
		const { project, window } = this;
		const record: Record = { project, window, revision, queue: [...queue], conflicts: [...conflicts] };
		this.writing = this.writing
			.then(() => (isEmpty ? del(window, store()) : set(window, record, store())))
			// Without storage, unsent edits last as long as the page.
			.catch(() => {});
	}
}

/** Whether a window that kept something is gone. */
async function goneWindows(records: readonly Record[]): Promise<Record[]> {
	const state = await locks()?.query();
	const living = new Set(state?.held?.map(({ name }) => name));
	return records.filter(({ window }) => !living.has(lockOf(window)));
}

/**
 * Sends what windows that are gone have left of a project; to be done before its document is loaded. Gives what clashes
 * with what others did, for somebody to choose.
 */
export async function adoptUnsent(project: string, server: StepServer): Promise<Conflict[]> {
	const work = async (): Promise<Conflict[]> => {
		const all = (await entries<string, Record>(store())).map(([, record]) => record);
		const found: Conflict[] = [];
		for (const record of await goneWindows(all.filter((own) => own.project === project))) {
			const conflicts = await sendUnsent(server, record);
			// The server is away: it stays for the next try.
			if (!conflicts) continue;
			found.push(...conflicts);
			// What clashes is kept until somebody has chosen; sent once more, nothing is done twice.
			if (conflicts.length === 0) await del(record.window, store());
			else await set(record.window, { ...record, queue: [], conflicts }, store());
		}
		return found;
	};
	try {
		// Two windows that open at once do not send the same.
		const manager = locks();
		return manager ? await manager.request(`hillock-unsent-${project}`, work) : await work();
	} catch {
		return [];
	}
}

/** Forgets what gone windows left of a project: its conflicts are kept by this window now. */
export async function forgetAdopted(project: string): Promise<void> {
	try {
		const all = (await entries<string, Record>(store())).map(([, record]) => record);
		const gone = await goneWindows(all.filter((own) => own.project === project));
		for (const { window, queue } of gone) if (queue.length === 0) await del(window, store());
	} catch {
		// They are adopted once more then, and told once more.
	}
}
