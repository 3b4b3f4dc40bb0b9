/** Blends that an eye would catch. */
import { measureBlend } from '../blend/clip-set';
import { putBlend } from '../edits/clips';
import type { Blend, Doc } from '../document/types';
import { unitOf } from '../document/units';
import { NOTICEABLE, number, type Scene } from './subject';

/** Seconds of the blend that a mend proposes. */
const GENTLE = 0.2;

export function checkBlends({ doc, clip, found }: Scene): void {
	for (const blend of Object.values(doc.blends)) {
		if (blend.from !== clip.id) continue;
		const pop = measureBlend(doc, blend).find(({ value, range }) => range > 0 && value > NOTICEABLE * range);
		if (!pop) continue;
		const mend = (label: string, kind: Blend['kind']) => ({
			label,
			edit: (d: Doc) => putBlend(d, { ...blend, kind, seconds: Math.max(GENTLE, blend.seconds) }),
		});
		found.push({
			rule: 'blend-pop',
			severity: 'warning',
			clip: clip.id,
			channel: null,
			t: Math.round(pop.at),
			measure: `${doc.parts[pop.part]?.name ?? pop.part} ${pop.property} jumps by ${number(pop.value)}${unitOf(pop.property, doc.project.space)} on the way to "${doc.clips[blend.to]?.name}"`,
			why: 'The next clip does not stand where this one is left, and the blend does not lead over.',
			mends: [mend('Crossfade', 'crossfade'), mend('Let the offset die away', 'inertial')],
		});
	}
}
