import { inOrder, type Doc } from '../core/document/types';
import type { Rehearsal } from '../core/document/rehearsals';
import { runRehearsal, type Fault, type Frames, type Outcome } from '../core/rehearse/run';
import { faultsToSarif } from '../core/rehearse/sarif';
import { CliError } from './error';
import { readProject } from './files';

interface RehearseOptions {
	name?: readonly string[];
	frames: number | 'random';
	json?: boolean;
	sarif?: boolean;
}

function chosen(doc: Doc, names: readonly string[] | undefined): Rehearsal[] {
	const all = inOrder(doc.rehearsals);
	const known = all.map(({ name }) => `"${name}"`).join(', ') || 'none';
	if (!names) {
		if (all.length === 0) throw new CliError('there is no rehearsal in this project', 2);
		return all;
	}
	return names.map((name) => {
		const found = all.find((own) => own.name === name);
		if (!found) throw new CliError(`there is no rehearsal "${name}"; there are: ${known}`, 2);
		return found;
	});
}

/** Frame times by chance, but the same ones each time. */
function chance(): () => number {
	let seed = 4711;
	return () => (seed = (seed * 16_807) % 2_147_483_647) / 2_147_483_647;
}

function print(rehearsal: Rehearsal, { cues, messages, jump, kink, step, faults }: Outcome): void {
	const out = (line: string) => process.stdout.write(`${line}\n`);
	const time = (t: number) => `${t.toFixed(3)} s`.padStart(10);
	const json = (payload: unknown) => (payload === null ? '' : ` ${JSON.stringify(payload)}`);
	const largest = (what: string, worst: Outcome['jump'], unit: string) =>
		out(
			worst
				? `  ${what}: ${Number(worst.share.toPrecision(3))} ${unit}, ${worst.part} ${worst.path} at ${worst.t.toFixed(3)} s`
				: `  ${what}: none`,
		);
	out(`${rehearsal.name}: ${rehearsal.seconds.toFixed(2)} s, ${rehearsal.inputs.length} inputs`);
	const told = [
		...cues.map(({ t, name, cue, layer, payload }) => ({
			t,
			text: `cue ${cue} of ${name}${layer === '' ? '' : ` in ${layer}`}${json(payload)}`,
		})),
		...messages.map(({ t, name, payload }) => ({ t, text: `message ${name}${json(payload)}` })),
	].sort((a, b) => a.t - b.t);
	for (const { t, text } of told) out(`${time(t)}  ${text}`);
	largest('largest jump of a value', jump, 'of its range');
	largest('largest jump of a speed', kink, 'ranges a second');
	largest('largest step in a frame', step, 'of its range');
	for (const { t, message } of faults) out(`fault: ${rehearsal.name}, ${t.toFixed(3)} s: ${message}`);
}

/** Runs rehearsals of a project file without a screen. Exit code 1 where one breaks its limits. */
export function rehearseFile(file: string, { name, frames, json, sarif }: RehearseOptions): void {
	if (json && sarif) throw new CliError('choose --json or --sarif', 2);
	const doc = readProject(file);
	const how: Frames = frames === 'random' ? { random: chance() } : { rate: frames };
	const runs = chosen(doc, name).map((rehearsal) => ({
		rehearsal,
		outcome: runRehearsal(doc, rehearsal, how),
	}));
	if (json) {
		const rows = runs.map(({ rehearsal, outcome }) => ({ name: rehearsal.name, ...outcome }));
		process.stdout.write(`${JSON.stringify(rows, null, 2)}\n`);
	} else if (sarif) {
		const faults = runs.flatMap(({ rehearsal, outcome }) =>
			outcome.faults.map((fault): Fault & { rehearsal: string } => ({ ...fault, rehearsal: rehearsal.name })),
		);
		process.stdout.write(`${JSON.stringify(faultsToSarif(file, faults), null, 2)}\n`);
	} else for (const { rehearsal, outcome } of runs) print(rehearsal, outcome);
	if (runs.some(({ outcome }) => outcome.faults.length > 0)) process.exitCode = 1;
}
