/** Findings as SARIF 2.1.0 (OASIS), for build systems that show them. */
import { channelLabel, type Doc } from '../document/types';
import { ticksToSeconds } from '../../player/time';
import { RULES, type Finding, type Severity } from './finding';

const LEVELS: Record<Severity, string> = { error: 'error', warning: 'warning', note: 'note' };

/** Where a finding is, in words: clip / part / channel. */
export function placeOf(doc: Doc, finding: Finding): string {
	const clip = doc.clips[finding.clip].name;
	const channel = finding.channel === null ? undefined : doc.channels[finding.channel];
	if (!channel) return clip;
	const part = doc.parts[channel.part];
	return `${clip} / ${part.name} / ${channelLabel(channel.property, channel.component, part)}`;
}

export function toSarif(doc: Doc, file: string, findings: readonly Finding[]): object {
	return {
		$schema: 'https://json.schemastore.org/sarif-2.1.0.json',
		version: '2.1.0',
		runs: [
			{
				tool: {
					driver: {
						name: 'Hillock',
						rules: Object.entries(RULES).map(([id, text]) => ({ id, shortDescription: { text } })),
					},
				},
				results: findings.map((finding) => ({
					ruleId: finding.rule,
					level: LEVELS[finding.severity],
					message: { text: `${RULES[finding.rule]}: ${finding.measure}. ${finding.why}` },
					locations: [
						{
							physicalLocation: { artifactLocation: { uri: file } },
							logicalLocations: [{ fullyQualifiedName: placeOf(doc, finding) }],
						},
					],
					properties: { seconds: ticksToSeconds(finding.t), mends: finding.mends.map((mend) => mend.label) },
				})),
			},
		],
	};
}
