/** What the command line understands, and what it calls. */
import { Command, CommanderError, InvalidArgumentError, Option } from 'commander';
import { FORMATS, SHIPPING } from '../core/formats/registry';
import { backupData, restoreData } from './backup';
import { SMOOTHINGS } from '../core/document/takes';
import { checkFile } from './check';
import { cleanFile } from './clean';
import { printCompletion, SHELLS } from './completion';
import { CliError } from './error';
import { COMMAND_EXAMPLES } from './examples';
import { exportFiles } from './export';
import { importFile } from './import';
import { rehearseFile } from './rehearse';
import { sampleFile } from './sample';
import { serve } from './serve';

/** Endings of what can be imported. */
const ACCEPTED_ENDINGS = FORMATS.flatMap(({ takes, extensions }) => (takes ? extensions : [])).join(', ');

function positive(text: string): number {
	const value = Number(text);
	if (!Number.isFinite(value) || value <= 0) throw new InvalidArgumentError('It must be a number above 0.');
	return value;
}

/** Reads a number of a range. */
const within =
	({ lowest, highest, whole }: { lowest: number; highest: number; whole?: boolean }) =>
	(text: string) => {
		const value = Number(text);
		if (!(value >= lowest && value <= highest) || (whole && !Number.isInteger(value)))
			throw new InvalidArgumentError(
				`It must be a ${whole ? 'whole ' : ''}number from ${lowest} to ${highest}.`,
			);
		return value;
	};

function shard(text: string): { part: number; of: number } {
	const [, part, of] = /^(\d+)\/(\d+)$/.exec(text)?.map(Number) ?? [];
	if (!(part >= 1 && part <= of && of <= 10_000))
		throw new InvalidArgumentError('It must be a part and a number of parts, as 2/5.');
	return { part, of };
}

function count(text: string): number {
	const value = Number(text);
	if (!Number.isInteger(value) || value < 1 || value > 256)
		throw new InvalidArgumentError('It must be a whole number from 1 to 256.');
	return value;
}

const frames = (text: string) => (text === 'random' ? text : positive(text));

function port(text: string): number {
	const value = Number(text);
	if (!Number.isInteger(value) || value < 0 || value > 65_535)
		throw new InvalidArgumentError('It must be 0 to 65535.');
	return value;
}

/** Collects the values of an option that is given several times. */
const several = (value: string, before: readonly string[] = []) => [...before, value];

const FILE = 'project file (.hillock.json or .hillock.zip)';
const CLIP = 'name of a clip, or "all"; may be given several times';

/** What is called, with what was read. */
export const ACTIONS = {
	serve,
	exportFiles,
	importFile,
	cleanFile,
	sampleFile,
	checkFile,
	rehearseFile,
	backupData,
	restoreData,
	printCompletion,
};
type Actions = {
	[name in keyof typeof ACTIONS]: (...given: Parameters<(typeof ACTIONS)[name]>) => void | Promise<void>;
};

function addServing(program: Command, actions: Actions, demo: boolean): void {
	const description = demo
		? 'start the application, with the demo projects where there are none'
		: 'start the application';
	program
		.command(demo ? 'demo' : 'serve')
		.description(description)
		.option('--port <number>', 'port; 0 takes any free one', port, 4720)
		.option('--host <address>', 'address to listen on', '127.0.0.1')
		.option('--token <text>', 'access token; needed when others can reach the address')
		.option('--allow-host <name>', 'another name that it answers to; may be given several times', several)
		.option(
			'--allow-origin <origin>',
			'a site whose pages may follow projects, as http://localhost:5173; may be given several times',
			several,
		)
		.option('--data <folder>', 'data folder', process.env.HILLOCK_DATA)
		.action((options) => actions.serve({ ...options, demo }));
}

/** How far what is written may be off. */
function addBounds(command: Command): void {
	command
		.option(
			'--bound <fraction>',
			"largest error as a fraction of each path's range (rotations: of 180 degrees)",
			positive,
			0.001,
		)
		.option('--bound-translation <units>', "largest error of translations, in the project's units", positive)
		.option('--bound-rotation <degrees>', 'largest error of rotations, in degrees', positive)
		.option('--bound-scale <factor>', 'largest error of scales', positive)
		.option(
			'--bound-number <value>',
			'largest error of other numbers (sizes, opacity, colours 0 to 1), each in its own unit',
			positive,
		)
		.option(
			'--bound-part <part/path=value>',
			'largest error of one path, as "arm/rotation=0.05", or of all of a part as a fraction, as "arm=0.01"; may be given several times',
			several,
		);
}

function addExport(program: Command, actions: Actions): void {
	const targets = SHIPPING.map(({ id }) => id).join(', ');
	const exporting = program
		.command('export')
		.description('write clips of project files for a player, reduced within a bound and read back')
		.argument('<files...>', `${FILE}; several are written into a folder`)
		.option('--clip <name>', CLIP, several)
		.addOption(
			new Option(
				'--profile <name>',
				'a profile that the project keeps, or "all", instead of clips and what follows; may be given several times',
			)
				.argParser(several)
				.conflicts([
					'clip',
					'to',
					'bound',
					'boundTranslation',
					'boundRotation',
					'boundScale',
					'boundNumber',
					'boundPart',
				]),
		)
		.option('--to <target>', `target format: ${targets}`, SHIPPING[0].id)
		.requiredOption('--out <file>', 'file to write; of several, the folder')
		.option(
			'--shard <part/of>',
			'write only this part of the files, as 2/5: the parts together are all',
			shard,
		)
		.option(
			'--jobs <number>',
			'files that are written at once (without it as many as there are processors)',
			count,
		)
		.option('--file-per-clip', 'a file for each clip, written into the folder')
		.option('--watch', 'write again whenever a project file changes')
		.option('--json', 'print what was written as JSON')
		.action((files, options) => actions.exportFiles(files, options));
	addBounds(exporting);
	for (const { id, ships } of SHIPPING) {
		for (const { flag, says } of ships.switches) exporting.option(`--${flag}`, `${id}: ${says}`);
		for (const { flag, says, initially, ...range } of ships.numbers ?? [])
			exporting.option(`--${flag} <number>`, `${id}: ${says} (without it ${initially})`, within(range));
	}
}

function addCleaning(program: Command, actions: Actions): void {
	program
		.command('clean')
		.description('make few keys of recorded takes, from their raw samples, and write the project with them')
		.argument('<file>', 'project as a zip, or a recording (.bvh, .csv)')
		.requiredOption('--take <name>', 'name of a take, or "all"; may be given several times', several)
		.requiredOption(
			'--out <file>',
			'project to write: .hillock.zip, or .hillock.json with a folder beside it',
		)
		.option(
			'--tolerance <share>',
			'how far keys may be off, as a share of what each number goes over',
			within({ lowest: 0.0001, highest: 0.5 }),
		)
		.addOption(new Option('--smooth <how>', 'smoothing before that').choices([...SMOOTHINGS]))
		.option('--steadiness <share>', 'of steady smoothing, 0 to 1', within({ lowest: 0, highest: 1 }))
		.option('--spikes', 'take single values out that stand out')
		.option('--no-spikes', 'leave them in')
		.option(
			'--still <share>',
			'what stays within this share stands still; 0 finds none',
			within({ lowest: 0, highest: 0.5 }),
		)
		.action((file, options) => actions.cleanFile(file, options));
}

function addReading(program: Command, actions: Actions): void {
	program
		.command('import')
		.description('read a file of any format that comes in; store it, or write it as a project file')
		.argument('<file>', ACCEPTED_ENDINGS)
		.option('--out <file>', 'write a project file instead of storing it')
		.option('--data <folder>', 'data folder', process.env.HILLOCK_DATA)
		.action((file, options) => actions.importFile(file, options));
	program
		.command('sample')
		.description('print what a reader of the exported clip should see, as JSON')
		.argument('<file>', FILE)
		.requiredOption('--clip <name>', CLIP, several)
		.option('--rate <hertz>', 'samples a second', within({ lowest: 0.001, highest: 10_000 }), 60)
		.action((file, options) => actions.sampleFile(file, options));
	program
		.command('check')
		.description(
			'check a project file: its schema, its references, and what a viewer would notice in its clips',
		)
		.argument('<file>', FILE)
		.option('--clip <name>', 'only this clip; may be given several times', several)
		.option('--json', 'print the findings as JSON')
		.option('--sarif', 'print the findings as SARIF 2.1.0')
		.option('--strict', 'exit with 1 on warnings too')
		.action((file, options) => actions.checkFile(file, options));
	program
		.command('rehearse')
		.description(
			'run the rehearsals of a project file: their cues, their pops, and the limits that they keep',
		)
		.argument('<file>', FILE)
		.option('--name <name>', 'only this rehearsal; may be given several times', several)
		.option('--frames <rate>', 'frames a second, or "random" for frame times by chance', frames, 60)
		.option('--json', 'print what comes of them as JSON')
		.option('--sarif', 'print broken limits as SARIF 2.1.0')
		.action((file, options) => actions.rehearseFile(file, options));
}

function addKeeping(program: Command, actions: Actions): void {
	program
		.command('backup')
		.description('copy all that is stored, beside the data or to a file; the application may run meanwhile')
		.option('--out <file>', 'file to write, instead of one in the folder backups')
		.option('--data <folder>', 'data folder', process.env.HILLOCK_DATA)
		.action((options) => actions.backupData(options));
	program
		.command('restore')
		.description('put a backup in the place of all that is stored, which is kept beside it')
		.argument('<file>', 'a backup')
		.option('--data <folder>', 'data folder', process.env.HILLOCK_DATA)
		.action((file, options) => actions.restoreData(file, options));
}

/** Runs the command that the arguments name; what is wrong with them, or goes wrong, is said and makes the exit code. */
export async function run(args: readonly string[], actions: Actions = ACTIONS): Promise<void> {
	const program = new Command('hillock')
		.description('Make, shape, loop and ship animation clips.')
		.version('0.1.0')
		.showHelpAfterError('(add --help for what is possible)')
		.exitOverride();
	addServing(program, actions, false);
	addServing(program, actions, true);
	addExport(program, actions);
	addReading(program, actions);
	addCleaning(program, actions);
	addKeeping(program, actions);
	program
		.command('completion')
		.description('print what makes a shell complete commands and options')
		.argument('<shell>', SHELLS.join(', '))
		.action((shell: string) => actions.printCompletion(shell, program));
	for (const command of program.commands) {
		const examples = COMMAND_EXAMPLES[command.name()].map((line) => `  ${line}`);
		command.addHelpText('after', `\nFor example:\n${examples.join('\n')}`);
	}
	try {
		await program.parseAsync(args, { from: 'user' });
	} catch (error) {
		if (error instanceof CommanderError) process.exitCode = error.exitCode === 0 ? 0 : 2;
		else if (error instanceof CliError) {
			process.stderr.write(`hillock: ${error.message}\n`);
			process.exitCode = error.exitCode;
		} else throw error;
	}
}
