/** All findings on a clip. */
import { evaluateCurve } from '../../player/curve/evaluate';
import { compileClip, curveOf } from '../clip/compile';
import { channelsOfClip, kindOf, type Clip, type Doc } from '../document/types';
import type { Finding, Found, Severity } from './finding';
import { SAMPLES, type Scene, type Subject } from './rule';
import { RULES } from './rules';

const ORDER: Record<Severity, number> = { error: 0, warning: 1, note: 2 };

/** The channels of numbers that move something, each with what rules look at. */
function subjectsOf(scene: Scene): Subject[] {
	const { doc, clip, compiled } = scene;
	// What a formula computes has no say in the motion; switches jump on purpose; a colour has no value to go past.
	const moving = new Set(compiled.channels.map(({ channel }) => channel));
	return channelsOfClip(doc, clip.id)
		.filter((channel) => kindOf(channel.property) === 'number' && moving.has(channel))
		.map((channel) => {
			const curve = curveOf(channel, clip);
			let [low, high] = [Infinity, -Infinity];
			const take = (v: number) => {
				low = Math.min(low, v);
				high = Math.max(high, v);
			};
			for (let i = 0; i <= 4 * SAMPLES; i++) take(evaluateCurve(curve, (clip.length * i) / (4 * SAMPLES)));
			for (const key of channel.keys) take(key.v);
			return { ...scene, channel, curve, range: high - low };
		});
}

/** All findings on a clip, the worst first, then by time. */
export function checkClip(doc: Doc, clip: Clip): Finding[] {
	const scene: Scene = { doc, clip, compiled: compileClip(doc, clip) };
	const subjects = subjectsOf(scene);
	const finding = (rule: string, channel: string | null, found: Found): Finding => ({
		rule,
		severity: found.severity,
		clip: clip.id,
		channel: found.channel ?? channel,
		t: found.t,
		facts: found.facts ?? {},
		mends: found.mends ?? [],
	});
	return RULES.flatMap((rule) =>
		rule.scope === 'clip'
			? rule.find(scene).map((found) => finding(rule.id, null, found))
			: subjects.flatMap((subject) =>
					rule.find(subject).map((found) => finding(rule.id, subject.channel.id, found)),
				),
	).sort((a, b) => ORDER[a.severity] - ORDER[b.severity] || a.t - b.t || (a.rule < b.rule ? -1 : 1));
}
