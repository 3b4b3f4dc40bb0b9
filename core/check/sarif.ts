/** Findings as SARIF 2.1.0 (OASIS), for build systems that show them. */
import type { Doc } from '../document/types';
import { ticksToSeconds } from '../../player/time';
import type { Finding, Severity } from './finding';
import { markOn } from './intended';
import { RULES } from './rules';
import { placeOf, tellFinding } from './tell';

const LEVELS: Record<Severity, string> = { error: 'error', warning: 'warning', note: 'note' };

export interface SarifRule {
	id: string;
	title: string;
}

/** One run of Hillock over a file. */
export function sarifOf(rules: readonly SarifRule[], results: readonly object[]): object {
	return {
		$schema: 'https://json.schemastore.org/sarif-2.1.0.json',
		version: '2.1.0',
		runs: [
			{
				tool: {
					driver: {
						name: 'Hillock',
						rules: rules.map(({ id, title }) => ({ id, shortDescription: { text: title } })),
					},
				},
				results,
			},
		],
	};
}

/** A place in a file, by a name. */
export function sarifPlace(file: string, name: string): object {
	return {
		physicalLocation: { artifactLocation: { uri: file } },
		logicalLocations: [{ fullyQualifiedName: name }],
	};
}

export function toSarif(doc: Doc, file: string, findings: readonly Finding[]): object {
	return sarifOf(
		RULES,
		findings.map((finding) => {
			const { title, measure, why, mends } = tellFinding(doc, finding);
			const mark = markOn(doc, finding);
			return {
				...(mark && { suppressions: [{ kind: 'external', justification: mark.reason }] }),
				ruleId: finding.rule,
				level: LEVELS[finding.severity],
				message: { text: `${title}: ${measure}. ${why}` },
				locations: [sarifPlace(file, placeOf(doc, finding))],
				properties: { seconds: ticksToSeconds(finding.t), mends: mends.map(({ label }) => label) },
			};
		}),
	);
}
