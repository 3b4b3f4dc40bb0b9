/** The one store of this process, on the data folder that was chosen at the start. */
import { keepBackedUp } from './db/backups';
import { openDatabase } from './db/database';
import { closePool } from './exports/pool';
import { ProjectStore } from './project-store';

const holder = globalThis as { hillockStore?: { store: ProjectStore; close: () => void } };

export function dataFolder(): string {
	return process.env.HILLOCK_DATA ?? 'data';
}

export function getStore(): ProjectStore {
	if (!holder.hillockStore) {
		const folder = dataFolder();
		const db = openDatabase(folder);
		const stopBackups = keepBackedUp(db, folder);
		const close = () => {
			stopBackups();
			db.close();
		};
		holder.hillockStore = { store: new ProjectStore(db), close };
	}
	return holder.hillockStore.store;
}

/** Ends what the store holds: after the last request has been answered. */
export async function closeStore(): Promise<void> {
	await closePool();
	holder.hillockStore?.close();
	delete holder.hillockStore;
}
