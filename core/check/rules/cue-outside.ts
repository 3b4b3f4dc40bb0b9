import { putCue } from '../../edits/clips';
import { ticksToFrame } from '../../time';
import { short, type ClipRule } from '../rule';

export const cueOutside: ClipRule = {
	id: 'cue-outside',
	title: 'A cue outside the clip',
	why: 'It is never reached, so the code that waits for it waits for ever.',
	measure: ({ facts }) => `"${facts.name}" at frame ${short(facts.frame)}`,
	mends: {
		'to-end': {
			label: 'Move it to the end',
			edit: (doc, { facts, clip }) => {
				const cue = doc.cues[facts.cue];
				return cue ? putCue(doc, { ...cue, t: doc.clips[clip].length }) : doc;
			},
		},
	},
	scope: 'clip',
	find: ({ doc, clip }) =>
		Object.values(doc.cues)
			.filter((cue) => cue.clip === clip.id && cue.t > clip.length)
			.map(({ id, name, t }) => ({
				severity: 'error',
				t,
				facts: { cue: id, name, frame: ticksToFrame(t, doc.project.frameRate) },
				mends: ['to-end'],
			})),
};
