import { measureBlend } from '../../blend/clip-set';
import { propertyLabel } from '../../document/labels';
import type { Blend, Doc, Property } from '../../document/types';
import { unitOf } from '../../document/units';
import { putBlend } from '../../edits/clips';
import type { Finding } from '../finding';
import { NOTICEABLE, short, type ClipRule } from '../rule';

/** Seconds of the blend that a mend proposes. */
const GENTLE = 0.2;

function withKind(doc: Doc, { facts }: Finding, kind: Blend['kind']): Doc {
	const blend = doc.blends[facts.blend];
	return blend ? putBlend(doc, { ...blend, kind, seconds: Math.max(GENTLE, blend.seconds) }) : doc;
}

export const blendPop: ClipRule = {
	id: 'blend-pop',
	title: 'A pop where one clip blends to another',
	why: 'The next clip does not stand where this one is left, and the blend does not cover it.',
	measure: ({ facts }, doc) => {
		const { part, property, value, to } = facts;
		const unit = unitOf(property as Property, doc.project.space);
		return `${doc.parts[part]?.name ?? part} ${propertyLabel(property as Property)} jumps by ${short(value)}${unit} on the way to "${doc.clips[to]?.name ?? to}"`;
	},
	mends: {
		crossfade: { label: 'Crossfade', edit: (doc, finding) => withKind(doc, finding, 'crossfade') },
		inertial: {
			label: 'Inertial blend',
			edit: (doc, finding) => withKind(doc, finding, 'inertial'),
		},
	},
	scope: 'clip',
	find: ({ doc, clip }) =>
		Object.values(doc.blends).flatMap((blend) => {
			if (blend.from !== clip.id) return [];
			const pop = measureBlend(doc, blend).find(
				({ value, range }) => range > 0 && value > NOTICEABLE * range,
			);
			if (!pop) return [];
			const { part, property, value } = pop;
			const facts = { blend: blend.id, part, property, value, to: blend.to };
			return [
				{ severity: 'warning' as const, t: Math.round(pop.at), facts, mends: ['crossfade', 'inertial'] },
			];
		}),
};
