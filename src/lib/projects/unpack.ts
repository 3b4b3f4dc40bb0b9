/** The files of a zip that holds projects, as "save all projects" makes it; a project with its pictures is one zip itself. */
import { unzip } from 'fflate';

const PROJECT = /^(.*\/)?[^/]+\.hillock\.(json|zip)$/i;
/** What the zip of one project calls it: that is taken as a whole. */
const OWN = 'project.hillock.json';

/** The projects in a zip; the file itself where there are none in it. Throws where it cannot be read. */
export async function projectsIn(file: File): Promise<File[]> {
	if (!/\.zip$/i.test(file.name) || /\.hillock\.zip$/i.test(file.name)) return [file];
	const bytes = new Uint8Array(await file.arrayBuffer());
	const entries = await new Promise<Record<string, Uint8Array<ArrayBuffer>>>((resolve, reject) =>
		unzip(
			bytes,
			{ filter: ({ name, originalSize }) => PROJECT.test(name) && originalSize <= MOST },
			(error, all) => (error ? reject(error) : resolve(all as never)),
		),
	);
	const names = Object.keys(entries).sort();
	if (names.length === 0 || names.includes(OWN)) return [file];
	return names.map((name) => new File([entries[name]], name.slice(name.lastIndexOf('/') + 1)));
}

/** Bytes of a project in it. */
const MOST = 320 * 1024 * 1024;
