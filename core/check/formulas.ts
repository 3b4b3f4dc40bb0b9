/** Formulas that fail somewhere, or that do not come round with their loop. */
import { evaluateRound } from '../../player/motion';
import { formulaResult, type CompiledFormula } from '../clip/formulas';
import { channelLabel } from '../document/types';
import { ticksToFrame } from '../time';
import { number, type Scene } from './subject';

const LOOKS = 240;
/** Rounds differ when their changes do by more than this share. */
const UNEVEN = 1e-6;

function told(
	scene: Scene,
	{ formula }: CompiledFormula,
	rule: 'formula-not-finite' | 'formula-not-periodic',
	t: number,
	measure: string,
	why: string,
): void {
	const part = scene.doc.parts[formula.part];
	const name = `${part.name} ${channelLabel(formula.property, formula.component, part)}`;
	scene.found.push({
		rule,
		severity: 'warning',
		clip: scene.clip.id,
		channel: formula.id,
		t,
		measure: `${name}: ${measure}`,
		why,
		mends: [],
	});
}

/** The first time at which each formula gives no finite number, and the changes of each from round to round. */
export function checkFormulas(scene: Scene): void {
	const { compiled, clip, doc } = scene;
	const { order } = compiled.formulas;
	if (order.length === 0) return;
	const pose = compiled.layout.rest.slice();
	const failed = new Set<CompiledFormula>();
	for (let i = 0; i <= LOOKS; i++) {
		const t = (clip.length * i) / LOOKS;
		evaluateRound(compiled, t, 0, pose);
		for (const formula of order) {
			// Its own numbers still hold the time that was just computed.
			if (failed.has(formula) || Number.isFinite(formulaResult(formula, pose))) continue;
			failed.add(formula);
			const frame = number(ticksToFrame(t, doc.project.frameRate));
			told(
				scene,
				formula,
				'formula-not-finite',
				t,
				`no number at frame ${frame}`,
				'Where it fails, the part is at rest instead: it jumps there and back.',
			);
		}
	}
	if (clip.loop.mode !== 'repeat' || !compiled.channels.some(({ change }) => change !== 0)) return;
	const starts = [0, 1, 2, 3].map((round) => {
		evaluateRound(compiled, 0, round, pose);
		return order.map(({ place }) => pose[place]);
	});
	order.forEach((formula, i) => {
		const changes = starts.slice(1).map((values, round) => values[i] - starts[round][i]);
		const size = Math.max(...changes.map(Math.abs), 1e-9);
		if (changes.every((change) => Math.abs(change - changes[0]) <= UNEVEN * size)) return;
		told(
			scene,
			formula,
			'formula-not-periodic',
			0,
			`changes by ${number(changes[0])}, then by ${number(changes[1])} a round`,
			'What it reads travels on, but the formula does not keep step: each round looks different.',
		);
	});
}
