import { evaluateRound } from '../../../player/motion';
import { formulaName } from '../formula-name';
import { short, type ClipRule } from '../rule';

/** Rounds differ when their changes do by more than this share. */
const UNEVEN = 1e-6;
const ROUNDS = [0, 1, 2, 3];

/** The changes of each formula from round to round, where the clip travels. */
export const formulaNotPeriodic: ClipRule = {
	id: 'formula-not-periodic',
	title: 'A formula that does not come round',
	why: 'What it reads travels on, but the formula does not keep step: each round looks different.',
	measure: (finding, doc) =>
		`${formulaName(finding, doc)}: changes by ${short(finding.facts.first)}, then by ${short(finding.facts.second)} a round`,
	mends: {},
	scope: 'clip',
	find({ compiled, clip }) {
		const { order } = compiled.formulas;
		const travels = compiled.channels.some(({ change }) => change !== 0);
		if (order.length === 0 || clip.loop.mode !== 'repeat' || !travels) return [];
		const pose = compiled.layout.rest.slice();
		const starts = ROUNDS.map((round) => {
			evaluateRound(compiled, 0, round, pose);
			return order.map(({ place }) => pose[place]);
		});
		return order.flatMap(({ formula }, i) => {
			const changes = starts.slice(1).map((values, round) => values[i] - starts[round][i]);
			const size = Math.max(...changes.map(Math.abs), 1e-9);
			if (changes.every((change) => Math.abs(change - changes[0]) <= UNEVEN * size)) return [];
			const facts = { first: changes[0], second: changes[1] };
			return [{ severity: 'warning' as const, t: 0, channel: formula.id, facts }];
		});
	},
};
