/** Writes TypeScript declarations of what code calls a project's motion by. */
import { partTree } from '../../clip/compile';
import { cuesOfClip, type Clip, type Doc } from '../../document/types';
import { uniqueNames } from '../../tracks/ship';

/** Alternatives, each once, in the order in which they come up; `never` where there is none. */
function union(alternatives: Iterable<string>): string {
	return [...new Set(alternatives)].join(' | ') || 'never';
}

const isPlainName = (name: string) => /^[A-Za-z_$][\w$]*$/.test(name);

/** The type of a JSON value: what stands in its place, not the value itself. */
export function typeOf(value: unknown): string {
	if (value === null) return 'null';
	if (Array.isArray(value)) {
		const items = union(value.map(typeOf));
		return items.includes('|') ? `(${items})[]` : `${items}[]`;
	}
	if (typeof value !== 'object') return typeof value;
	const members = Object.entries(value).map(
		([name, member]) => `${isPlainName(name) ? name : JSON.stringify(name)}: ${typeOf(member)}`,
	);
	return members.length > 0 ? `{ ${members.join('; ')} }` : 'Record<string, never>';
}

/** A union of names, each on a line of its own. */
function names(type: string, about: string, all: readonly string[]): string {
	const lines = [...new Set(all)].map((name) => `\n\t| ${JSON.stringify(name)}`).join('');
	return `/** ${about} */\nexport type ${type} =${lines || ' never'};\n`;
}

/**
 * Declarations for some clips of a document: `ClipName`, `PartName`, `CueName`, `Payloads` by the names of cues, and `Cue`, whose
 * name says what its payload is. The names are those of the clip file of the same clips.
 */
export function writeTypes(doc: Doc, clips: readonly Clip[]): string {
	const clipNames = uniqueNames(clips);
	const partNames = uniqueNames(partTree(doc).parts);
	const payloads = new Map<string, string[]>();
	for (const clip of clips)
		for (const { name, payload } of cuesOfClip(doc, clip.id))
			payloads.set(name, [...(payloads.get(name) ?? []), typeOf(payload)]);
	const members = [...payloads].map(([name, types]) => `\n\t${JSON.stringify(name)}: ${union(types)};`);
	// A name may hold anything, the end of a comment too.
	const project = doc.project.name.replaceAll('*/', '* /').replace(/\s+/g, ' ');
	return [
		`/** What code calls the motion of “${project}” by. Written by Hillock: change it there. */\n`,
		names('ClipName', 'Clips that can be played.', [...clipNames.values()]),
		names('PartName', 'Parts, parents before their children.', [...partNames.values()]),
		`/** What each cue carries, by its name. */\nexport interface Payloads {${members.join('')}${members.length > 0 ? '\n' : ''}}\n`,
		'export type CueName = keyof Payloads;\n',
		'/** A cue as the player tells it: its name says what its payload is. */\n' +
			'export type Cue = { [Name in CueName]: { readonly name: Name; readonly t: number; readonly payload: Payloads[Name] } }[CueName];\n',
		'/** For `readClips<Names>()`: what is played, read and heard is checked by these names. */\n' +
			'export interface Names {\n\tclip: ClipName;\n\tpart: PartName;\n\tcue: Cue;\n}\n',
	].join('\n');
}
