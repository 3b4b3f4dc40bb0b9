import { evaluateRound } from '../../../player/motion';
import { formulaResult } from '../../clip/formulas';
import { ticksToFrame } from '../../time';
import type { Found } from '../finding';
import { formulaName } from '../formula-name';
import { short, type ClipRule } from '../rule';

const LOOKS = 240;

/** The first time at which each formula gives no finite number. */
export const formulaNotFinite: ClipRule = {
	id: 'formula-not-finite',
	title: 'A formula that fails',
	why: 'Where it fails, the part is at rest instead: it jumps there and back.',
	measure: (finding, doc) => `${formulaName(finding, doc)}: no number at frame ${short(finding.facts.frame)}`,
	mends: {},
	scope: 'clip',
	find({ compiled, clip, doc }) {
		const { order } = compiled.formulas;
		if (order.length === 0) return [];
		const pose = compiled.layout.rest.slice();
		const failed = new Map<string, Found>();
		for (let i = 0; i <= LOOKS; i++) {
			const t = (clip.length * i) / LOOKS;
			evaluateRound(compiled, t, 0, pose);
			for (const own of order) {
				const { id } = own.formula;
				// Its own numbers still hold the time that was just computed.
				if (failed.has(id) || Number.isFinite(formulaResult(own, pose))) continue;
				const facts = { frame: ticksToFrame(t, doc.project.frameRate) };
				failed.set(id, { severity: 'warning', t, channel: id, facts });
			}
		}
		return [...failed.values()];
	},
};
