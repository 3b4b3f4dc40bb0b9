import { checkClip } from '../core/check/check';
import type { Finding } from '../core/check/finding';
import { toSarif } from '../core/check/sarif';
import { markOn } from '../core/check/intended';
import { placeOf, tellFinding } from '../core/check/tell';
import { clipsInOrder } from '../core/document/types';
import { ticksToFrame } from '../core/time';
import { ticksToSeconds } from '../player/time';
import { CliError } from './error';
import { chosenClips, readProject } from './files';

interface CheckOptions {
	clip?: readonly string[];
	json?: boolean;
	sarif?: boolean;
	strict?: boolean;
}

/**
 * Refuses a file that is not valid, and prints the findings on its clips. Exit code 1 when there is an error among
 * them (with --strict: a warning too).
 */
export function checkFile(file: string, options: CheckOptions): void {
	if (options.json && options.sarif) throw new CliError('choose --json or --sarif', 2);
	const doc = readProject(file);
	const clips = options.clip ? chosenClips(doc, options.clip) : clipsInOrder(doc);
	const findings = clips.flatMap((clip) => checkClip(doc, clip));
	const row = (finding: Finding) => {
		const { title, measure, why, mends } = tellFinding(doc, finding);
		return {
			rule: finding.rule,
			title,
			severity: finding.severity,
			place: placeOf(doc, finding),
			frame: Number(ticksToFrame(finding.t, doc.project.frameRate).toFixed(2)),
			seconds: ticksToSeconds(finding.t),
			measure,
			facts: finding.facts,
			why,
			mends: mends.map(({ label }) => label),
			intended: markOn(doc, finding)?.reason ?? null,
		};
	};
	if (options.json) process.stdout.write(`${JSON.stringify(findings.map(row), null, 2)}\n`);
	else if (options.sarif) process.stdout.write(`${JSON.stringify(toSarif(doc, file, findings), null, 2)}\n`);
	else {
		for (const finding of findings) {
			const { severity, place, frame, title, measure, mends, intended } = row(finding);
			const advice = mends.length > 0 ? ` (mend: ${mends.join('; ')})` : '';
			process.stdout.write(
				`${intended === null ? severity : 'intended'}: ${place}, frame ${frame}: ${title}: ${measure}${intended === null ? advice : ` (${intended})`}\n`,
			);
		}
		const count = (map: object) => Object.keys(map).length;
		process.stdout.write(
			`${file}: ok (${count(doc.clips)} clips, ${count(doc.parts)} parts, ${count(doc.channels)} channels), ${findings.length} findings\n`,
		);
	}
	const bad = findings.some(
		(finding) =>
			!markOn(doc, finding) &&
			(finding.severity === 'error' || (options.strict && finding.severity === 'warning')),
	);
	if (bad) process.exitCode = 1;
}
