/** All findings on a clip. Pure: the mends are edits that the caller may apply. */
import { compileClip, curveOf } from '../clip/compile';
import { evaluateCurve } from '../../player/curve/evaluate';
import { putCue } from '../edits/clips';
import { channelsOfClip, kindOf, type Clip, type Doc } from '../document/types';
import { ticksToFrame } from '../time';
import { checkBlends } from './blends';
import type { Finding, Severity } from './finding';
import { checkFormulas } from './formulas';
import { checkKeys } from './keys';
import { checkDoubledFrame, checkEnd, checkSeam } from './seams';
import { checkRebounds, checkSpan, checkSpring } from './spans';
import { number, SAMPLES, type Scene, type Subject } from './subject';
import { checkSwings, checkTurn } from './turns';

function checkForgotten(scene: Scene): void {
	const { doc, clip, found } = scene;
	for (const cue of Object.values(doc.cues)) {
		if (cue.clip !== clip.id || cue.t <= clip.length) continue;
		found.push({
			rule: 'cue-outside',
			severity: 'error',
			clip: clip.id,
			channel: null,
			t: cue.t,
			measure: `"${cue.name}" at frame ${number(ticksToFrame(cue.t, doc.project.frameRate))}`,
			why: 'It is never reached, so the code that waits for it waits for ever.',
			mends: [
				{
					label: 'Move it to the end',
					edit: (d) => putCue(d, { ...cue, t: clip.length }),
				},
			],
		});
	}
}

const ORDER: Record<Severity, number> = { error: 0, warning: 1, note: 2 };

/** All findings on a clip, the worst first, then by time. */
export function checkClip(doc: Doc, clip: Clip): Finding[] {
	const compiled = compileClip(doc, clip);
	const scene: Scene = { doc, clip, compiled, found: [] };
	for (const channel of channelsOfClip(doc, clip.id)) {
		// What a formula computes has no say in the motion; switches jump on purpose; a colour has no value to go past.
		if (!doc.parts[channel.part] || kindOf(channel.property) !== 'number') continue;
		if (!compiled.channels.some((other) => other.channel === channel)) continue;
		const curve = curveOf(channel, clip);
		let low = Infinity;
		let high = -Infinity;
		for (let i = 0; i <= 4 * SAMPLES; i++) {
			const v = evaluateCurve(curve, (clip.length * i) / (4 * SAMPLES));
			low = Math.min(low, v);
			high = Math.max(high, v);
		}
		for (const key of channel.keys) {
			low = Math.min(low, key.v);
			high = Math.max(high, key.v);
		}
		const subject: Subject = { ...scene, channel, curve, range: high - low };
		for (let i = 0; i + 1 < channel.keys.length; i++) {
			checkSpan(subject, i);
			checkSpring(subject, i);
			checkTurn(subject, i);
		}
		checkRebounds(subject);
		checkSeam(subject);
		checkDoubledFrame(subject);
		checkEnd(subject);
		checkKeys(subject);
	}
	checkSwings(scene);
	checkFormulas(scene);
	checkForgotten(scene);
	checkBlends(scene);
	return scene.found.sort(
		(a, b) => ORDER[a.severity] - ORDER[b.severity] || a.t - b.t || (a.rule < b.rule ? -1 : 1),
	);
}
