import { tellTrigger } from '../../document/trigger-words';
import { removeTrigger } from '../../edits/triggers';
import type { ClipRule } from '../rule';
import { tellFault, triggerFaults, type FaultKind } from '../trigger-faults';

export const triggerFault: ClipRule = {
	id: 'trigger-fault',
	title: 'A trigger that does not work',
	why: 'What was meant to happen does not, or two things are to happen at once where only one can.',
	measure: ({ facts }, doc) => {
		const trigger = doc.triggers[facts.trigger];
		if (!trigger) return 'the trigger is gone';
		const fault = {
			trigger: trigger.id,
			kind: facts.kind as FaultKind,
			other: String(facts.other),
			clip: null,
		};
		return `${tellTrigger(doc, trigger)}: ${tellFault(doc, fault)}`;
	},
	mends: {
		remove: {
			label: 'Remove the trigger',
			edit: (doc, { facts }) => removeTrigger(doc, String(facts.trigger)),
		},
	},
	scope: 'clip',
	find: ({ doc, clip }) =>
		triggerFaults(doc).flatMap(({ trigger, clip: own, kind, other }) =>
			own === clip.id
				? [
						{
							severity: 'warning' as const,
							t: 0,
							facts: { trigger, kind, ...(other === null ? {} : { other }) },
							mends: ['remove'],
						},
					]
				: [],
		),
};
