import { strToU8, Zip, ZipPassThrough } from 'fflate';
import { uniqueNames } from '$core/tracks/ship';
import { attachment } from '$lib/server/attachment';
import { answer } from '$lib/server/problem';
import { projectFile } from '$lib/server/project-file';
import { getStore } from '$lib/server/store';

/** Every project as its file, in one zip that is made as it is fetched: one project at a time is in memory. */
export function GET(): Promise<Response> {
	return answer(() => {
		const store = getStore();
		const cards = store.list().map(({ doc }) => doc.project);
		const names = uniqueNames(cards);
		const ids = cards.map(({ id }) => id);
		let zip: Zip;
		const body = new ReadableStream<Uint8Array>({
			start(controller) {
				zip = new Zip((error, chunk, isLast) => {
					if (error) controller.error(error);
					else if (chunk.length > 0) controller.enqueue(chunk);
					if (isLast) controller.close();
				});
			},
			pull() {
				const id = ids.shift();
				if (id === undefined) return zip.end();
				const { name, content } = projectFile(store, id);
				const ending = name.slice(name.indexOf('.hillock.'));
				// What is in a zip is packed already; text is small beside it.
				const entry = new ZipPassThrough(`${safe(names.get(id)!)}${ending}`);
				zip.add(entry);
				entry.push(typeof content === 'string' ? strToU8(content) : content, true);
			},
			cancel: () => zip.terminate(),
		});
		const day = new Date().toISOString().slice(0, 10);
		return attachment(body, `hillock-projects-${day}.zip`, 'application/zip');
	});
}

/** A name that is no path. */
function safe(name: string): string {
	return name.replace(/[\\/:*?"<>|\p{Cc}]/gu, '-');
}
