import { mendedNote } from '$lib/server/db/mend';
import { projectCard } from '$lib/server/project-card';
import { dataFolder, getStore } from '$lib/server/store';

export function load() {
	const store = getStore();
	return {
		projects: store.list().map(projectCard),
		deleted: store.deleted(),
		mended: mendedNote(dataFolder()),
	};
}
