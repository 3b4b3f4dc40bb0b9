/** All rules, in no particular order: a new one is its file and a line here. */
import type { Rule } from './rule';
import { backwardsFirst } from './rules/backwards-first';
import { blendPop } from './rules/blend-pop';
import { constantChannel } from './rules/constant-channel';
import { cueOutside } from './rules/cue-outside';
import { deadHold } from './rules/dead-hold';
import { denseKeys } from './rules/dense-keys';
import { endsApart } from './rules/ends-apart';
import { formulaNotFinite } from './rules/formula-not-finite';
import { formulaNotPeriodic } from './rules/formula-not-periodic';
import { lastFrameDoubled } from './rules/last-frame-doubled';
import { longTurn } from './rules/long-turn';
import { offGrid } from './rules/off-grid';
import { overshoot } from './rules/overshoot';
import { reboundGrows } from './rules/rebound-grows';
import { scaleThroughZero } from './rules/scale-through-zero';
import { seamGap } from './rules/seam-gap';
import { seamSlope } from './rules/seam-slope';
import { springCutShort } from './rules/spring-cut-short';
import { teleport } from './rules/teleport';
import { triggerFault } from './rules/trigger-fault';
import { twoAxisSwing } from './rules/two-axis-swing';
import { unlikeGravity } from './rules/unlike-gravity';

export const RULES: readonly Rule[] = [
	overshoot,
	backwardsFirst,
	seamGap,
	seamSlope,
	lastFrameDoubled,
	endsApart,
	deadHold,
	offGrid,
	denseKeys,
	reboundGrows,
	unlikeGravity,
	springCutShort,
	twoAxisSwing,
	longTurn,
	scaleThroughZero,
	teleport,
	constantChannel,
	formulaNotFinite,
	formulaNotPeriodic,
	cueOutside,
	blendPop,
	triggerFault,
];

const BY_ID = new Map(RULES.map((rule) => [rule.id, rule]));

/** Throws a RangeError for an id that no rule has. */
export function ruleOf({ rule: id }: { rule: string }): Rule {
	const rule = BY_ID.get(id);
	if (!rule) throw new RangeError(`there is no rule "${id}"`);
	return rule;
}
