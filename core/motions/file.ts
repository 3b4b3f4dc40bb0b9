/** Motions in a file of their own, to be taken into other projects. */
import { VERSION } from '../document/migrate';
import { byOrder } from '../document/types';
import type { Motion } from '../document/motions';
import { validateEntity, validateRules } from '../document/validate';
import { parseJson } from '../json';
import { fail, ok, type Result } from '../result';

const FORMAT = 'hillock-motions';
/** Longest file that is read, in characters. */
export const MOST_MOTIONS_TEXT = 8 * 1024 * 1024;
const MOST_MOTIONS = 500;

export function writeMotions(motions: readonly Motion[]): string {
	const sorted = [...motions].sort(byOrder);
	return `${JSON.stringify({ format: FORMAT, version: VERSION, motions: sorted }, null, '\t')}\n`;
}

/** The motions of a file, or what is wrong with it and where. */
export function readMotions(text: string): Result<Motion[]> {
	if (text.length > MOST_MOTIONS_TEXT)
		return fail('', `A file of motions may have ${MOST_MOTIONS_TEXT / 1024 / 1024} MB at most.`);
	const parsed = parseJson(text);
	if (!parsed.ok) return parsed;
	const { format, version, motions } = (parsed.value ?? {}) as Record<string, unknown>;
	if (format !== FORMAT || !Array.isArray(motions))
		return fail('/format', `This is no file of motions: its "format" must be "${FORMAT}".`);
	if (typeof version !== 'number' || version > VERSION)
		return fail('/version', `This file was written by a newer Hillock (${String(version)}): update Hillock.`);
	if (motions.length > MOST_MOTIONS) return fail('/motions', `There may be ${MOST_MOTIONS} motions at most.`);
	for (const [i, motion] of motions.entries()) {
		const at = `/motions/${i}`;
		if ((motion as Motion | null)?.type !== 'motion') return fail(`${at}/type`, 'This is no motion.');
		const problems = validateEntity(motion, at);
		if (problems.length > 0) return { ok: false, problems };
		const broken = validateRules(motion as Motion, at);
		if (broken.length > 0) return { ok: false, problems: broken };
	}
	return ok(motions as Motion[]);
}
