import { readProject } from './files';

/** Refuses a file that is not valid (exit code 1); says what is in one that is. */
export function checkFile(file: string): void {
	const doc = readProject(file);
	const count = (map: object) => Object.keys(map).length;
	process.stdout.write(
		`${file}: ok (${count(doc.clips)} clips, ${count(doc.parts)} parts, ${count(doc.channels)} channels)\n`,
	);
}
