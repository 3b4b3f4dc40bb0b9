/** Writes TypeScript declarations of what code calls a project's motion by. */
import { partTree } from '../../clip/compile';
import { cuesOfClip, type Clip, type Doc } from '../../document/types';
import { uniqueNames } from '../../tracks/ship';
import { mixesIn, triggersIn } from '../clips/triggers';

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

/** An interface of payloads by name: the union of all that go by one. */
function payloadsByName(
	type: string,
	about: string,
	told: readonly { name: string; payload: unknown }[],
): string {
	const types = new Map<string, string[]>();
	for (const { name, payload } of told) types.set(name, [...(types.get(name) ?? []), typeOf(payload)]);
	const members = [...types].map(([name, own]) => `\n\t${JSON.stringify(name)}: ${union(own)};`);
	return `/** ${about} */\nexport interface ${type} {${members.join('')}${members.length > 0 ? '\n' : ''}}\n`;
}

/**
 * Declarations for some clips of a document: names of clips, parts, triggers and parameters, payloads by the names of cues
 * and of messages, and `Cue` and `Message`, whose names say what their payloads are. The names are those of the clip file of the
 * same clips.
 */
export function writeTypes(doc: Doc, clips: readonly Clip[]): string {
	const clipNames = uniqueNames(clips);
	const partNames = uniqueNames(partTree(doc).parts);
	const { mixes = [] } = mixesIn(doc, clipNames);
	const { triggers = [], layers = [] } = triggersIn(doc, clipNames, partNames);
	const parameters = [
		...triggers.flatMap(({ when }) => (when.kind === 'parameter' ? when.name : [])),
		...layers.flatMap(({ parameter }) => parameter ?? []),
		...mixes.map(({ parameter }) => parameter),
	];
	// A name may hold anything, the end of a comment too.
	const project = doc.project.name.replaceAll('*/', '* /').replace(/\s+/g, ' ');
	return [
		`/** What code calls the motion of “${project}” by. Written by Hillock: change it there. */\n`,
		names('ClipName', 'Clips and mixes that can be played.', [
			...clipNames.values(),
			...mixes.map(({ name }) => name),
		]),
		names('PartName', 'Parts, parents before their children.', [...partNames.values()]),
		names(
			'TriggerName',
			'Triggers that code calls.',
			triggers.flatMap(({ when }) => (when.kind === 'call' ? when.name : [])),
		),
		names('ParameterName', 'Parameters that layers follow and triggers watch.', parameters),
		payloadsByName(
			'Payloads',
			'What each cue carries, by its name.',
			clips.flatMap(({ id }) => cuesOfClip(doc, id)),
		),
		'export type CueName = keyof Payloads;\n',
		'/** A cue as the player tells it: its name says what its payload is. */\n' +
			'export type Cue = { [Name in CueName]: { readonly name: Name; readonly t: number; readonly payload: Payloads[Name] } }[CueName];\n',
		payloadsByName(
			'Messages',
			'What each message of a trigger carries, by its name.',
			triggers.flatMap(({ then }) => (then.kind === 'tell' ? then : [])),
		),
		'export type Message = { [Name in keyof Messages]: { name: Name; payload: Messages[Name] } }[keyof Messages];\n',
		'/** For `readClips<Names>()`: what is played, read and heard is checked by these names. */\n' +
			'export interface Names {\n\tclip: ClipName;\n\tpart: PartName;\n\tcue: Cue;\n\ttrigger: TriggerName;\n\tparameter: ParameterName;\n\tmessage: Message;\n}\n',
	].join('\n');
}
