/** What an export has to write: a file for each project and profile, in an order that does not hang on who does it. */
import type { Profile } from '../core/document/profiles';
import { existsSync, statSync } from 'node:fs';
import { basename, extname, join } from 'node:path';
import { inOrder, type Clip, type Doc } from '../core/document/types';
import { fileStem } from '../core/formats/file-name';
import { bundlesOf } from '../core/formats/files-out';
import { extensionOf } from '../core/formats/format';
import { wantedBy } from '../core/formats/profile';
import { SHIPPING, shippingFormat, type ShippingFormat } from '../core/formats/registry';
import type { Bounds, PartsBounds } from '../core/tracks/bounds';
import type { ShipOptions } from '../core/tracks/ship';
import { CliError } from './error';
import { chosenClips, readWithAssets } from './files';

export interface ExportOptions {
	clip?: readonly string[];
	profile?: readonly string[];
	to: string;
	bound: number;
	boundTranslation?: number;
	boundRotation?: number;
	boundScale?: number;
	boundNumber?: number;
	/** `part=fraction` or `part/path=value`, of parts by their names or ids. */
	boundPart?: readonly string[];
	out: string;
	/** Which part of how many of the work is done here, from 1. */
	shard?: { part: number; of: number };
	jobs?: number;
	json?: boolean;
	filePerClip?: boolean;
	watch?: boolean;
	/** Switches and numbers of formats, by their ids. */
	[name: string]: unknown;
}

export interface Job {
	file: string;
	doc: Doc;
	/** The profile's name; empty where the command line says all. */
	profile: string;
	format: ShippingFormat;
	clips: Clip[];
	options: ShipOptions;
	/** The file that is written. */
	out: string;
}
/** What is written of a project: a file, or one for each clip. */
type Task = Omit<Job, 'out'> & { perClip: boolean };

function formatOf(target: string): ShippingFormat {
	const format = shippingFormat(target);
	if (format) return format;
	const known = SHIPPING.map(({ id }) => id).join(', ');
	throw new CliError(`the target "${target}" is not known; there is: ${known}`, 2);
}

/** A bound of a part or of one of its paths, as the command line says it. */
function partBoundOf(doc: Doc, said: string): { part: string; path: string; value: number } {
	const at = said.lastIndexOf('=');
	const [what, value] = [said.slice(0, at), Number(said.slice(at + 1))];
	if (at < 0 || !(value > 0 && value <= 1e6))
		throw new CliError(
			`"${said}" is no bound of a part: say "arm/rotation=0.05", or "arm=0.01" for all of it`,
			2,
		);
	// Names may have a slash in them: the longest one that fits is meant.
	const fits = (name: string) => what === name || what.startsWith(`${name}/`);
	const [found] = Object.values(doc.parts)
		.flatMap(({ id, name }) => [name, id].filter(fits).map((own) => ({ id, own })))
		.sort((a, b) => b.own.length - a.own.length);
	if (!found) throw new CliError(`--bound-part ${said}: there is no such part`, 2);
	const path = what.slice(found.own.length + 1);
	if (path === '' && value > 1)
		throw new CliError(`--bound-part ${said}: of all of a part it is a fraction, 1 at most`, 2);
	return { part: found.id, path: path === '' ? 'relative' : path, value };
}

function partBoundsOf(doc: Doc, said: readonly string[]): PartsBounds {
	const parts: Record<string, Record<string, number>> = {};
	for (const { part, path, value } of said.map((own) => partBoundOf(doc, own)))
		parts[part] = { ...parts[part], [path]: value };
	return parts;
}

/** What the command line itself asks for. */
function taskOf(file: string, doc: Doc, asked: ExportOptions): Task {
	const format = formatOf(asked.to);
	const { switches, numbers = [] } = format.ships;
	const bounds: Bounds = {
		relative: asked.bound,
		translation: asked.boundTranslation,
		rotation: asked.boundRotation,
		scale: asked.boundScale,
		number: asked.boundNumber,
		...(asked.boundPart ? { parts: partBoundsOf(doc, asked.boundPart) } : {}),
	};
	return {
		file,
		doc,
		profile: '',
		format,
		clips: chosenClips(doc, asked.clip ?? ['all']),
		perClip: asked.filePerClip === true,
		options: {
			bounds,
			switches: Object.fromEntries(switches.map(({ id }) => [id, asked[id] === true])),
			numbers: Object.fromEntries(
				numbers.flatMap(({ id }) => (typeof asked[id] === 'number' ? [[id, asked[id]]] : [])),
			),
		},
	};
}

function profileTask(file: string, doc: Doc, profile: Profile): Task {
	const wanted = wantedBy(doc, profile);
	if (!wanted)
		throw new CliError(
			`${file}: the profile "${profile.name}" has the target "${profile.target}", which is not known`,
			2,
		);
	if (wanted.clips.length === 0)
		throw new CliError(`${file}: there is no clip for the profile "${profile.name}"`, 2);
	return { file, doc, profile: profile.name, ...wanted };
}

function tasksOf(file: string, asked: ExportOptions): Task[] {
	const { doc, assets } = readWithAssets(file);
	const withAssets = (task: Task): Task => ({ ...task, options: { ...task.options, assets } });
	if (!asked.profile) return [withAssets(taskOf(file, doc, asked))];
	const all = inOrder(doc.profiles);
	const known = all.map(({ name }) => `"${name}"`).join(', ') || 'none';
	const chosen = asked.profile.includes('all')
		? all
		: asked.profile.flatMap((wanted) => {
				const own = all.filter(({ name }) => name === wanted);
				if (own.length === 0)
					throw new CliError(`${file}: there is no profile "${wanted}"; there are: ${known}`, 2);
				return own;
			});
	if (chosen.length === 0) throw new CliError(`${file}: the project has no profiles`, 2);
	return chosen.map((own) => withAssets(profileTask(file, doc, own)));
}

/** A project file's name without what tells its kind. */
function stemOf(file: string): string {
	return basename(file).replace(/(\.hillock)?\.(json|zip)$/i, '');
}

const isFolder = (path: string) => /[/\\]$/.test(path) || (existsSync(path) && statSync(path).isDirectory());

/** All jobs of a command, before any is left to others: names never hang on the shard. Throws where two would be one file. */
export function jobsOf(files: readonly string[], asked: ExportOptions): Job[] {
	if (asked.clip === undefined && asked.profile === undefined)
		throw new CliError('say which clips (--clip NAME, or --clip all) or which profile (--profile NAME)', 2);
	const tasks = [...new Set(files)].flatMap((file) => tasksOf(file, asked));
	if (tasks.length === 1 && !tasks[0].perClip && !isFolder(asked.out)) {
		const [task] = tasks;
		const ending = extensionOf(task.format, task.options.switches ?? {});
		if (ending !== task.format.extensions[0] && extname(asked.out) !== ending)
			throw new CliError(`${asked.out}: what is asked for is a ${ending} file`, 2);
		return [named(task, asked.out)];
	}
	const taken = new Map<string, Task>();
	return tasks.flatMap((task) => {
		const ending = extensionOf(task.format, task.options.switches ?? {});
		const profile = task.profile === '' ? '' : `-${fileStem(task.profile)}`;
		return bundlesOf(`${stemOf(task.file)}${profile}`, task.clips, task.perClip).map(({ clips, name }) => {
			const out = join(asked.out, `${name}${ending}`);
			const other = taken.get(out);
			if (other) throw new CliError(`${other.file} and ${task.file} would both be written to ${out}`, 2);
			taken.set(out, task);
			return named({ ...task, clips }, out);
		});
	});
}

/** What stands beside a file is called as it is. */
function named({ perClip: _, ...task }: Task, out: string): Job {
	return { ...task, out, options: { ...task.options, name: basename(out, extname(out)) } };
}
