/** Broken limits of rehearsals as SARIF 2.1.0 (OASIS). */
import { sarifOf, sarifPlace } from '../check/sarif';
import type { Fault } from './run';

const TITLES: Record<Fault['kind'], string> = {
	jump: 'A value jumps where a clip takes over',
	kink: 'A speed jumps where a clip takes over',
	'missing-cue': 'A cue does not pass in its time',
	'unexpected-cue': 'A cue passes that is not expected',
};

export function faultsToSarif(file: string, faults: readonly (Fault & { rehearsal: string })[]): object {
	return sarifOf(
		Object.entries(TITLES).map(([id, title]) => ({ id, title })),
		faults.map(({ kind, t, message, rehearsal }) => ({
			ruleId: kind,
			level: 'error',
			message: { text: `${TITLES[kind]}: ${message}.` },
			locations: [sarifPlace(file, rehearsal)],
			properties: { seconds: t },
		})),
	);
}
