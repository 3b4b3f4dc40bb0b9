import { projectCard } from '$lib/server/project-card';
import { getStore } from '$lib/server/store';

export function load() {
	return { projects: getStore().list().map(projectCard), deleted: getStore().deleted() };
}
