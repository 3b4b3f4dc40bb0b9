import type { Doc } from '../document/types';
import { channelLabel } from '../document/labels';
import type { Finding } from './finding';

/** What the formula of a finding computes, in words. */
export function formulaName({ channel }: Finding, doc: Doc): string {
	const formula = channel === null ? undefined : doc.formulas[channel];
	if (!formula) return 'a formula';
	const part = doc.parts[formula.part];
	return `${part?.name ?? formula.part} ${channelLabel(formula.property, formula.component, part)}`;
}
