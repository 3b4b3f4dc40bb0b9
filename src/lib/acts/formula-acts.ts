/** What can be done with the formulas of channels. */
import { formulaIntoKeys, newFormula, putFormula, removeFormula } from '$core/edits/formulas';
import { kindOf, type Channel, type Formula } from '$core/document/types';
import type { Session } from '$lib/session/session.svelte';

export const canCompute = ({ property }: Channel): boolean => kindOf(property) === 'number';

/** Lays a formula over a channel, whose keys count again when it goes. */
export function addFormula(session: Session, { clip, part, property, component }: Channel): void {
	const formula = newFormula(clip, part, property, component);
	session.asks.formulaText = formula.id;
	session.edit('Add formula', (doc) => ({ doc: putFormula(doc, formula), channel: formula.id }));
}
export function convertFormula(session: Session, { id, part }: Formula): void {
	session.edit('Convert formula to keys', (doc) => ({ doc: formulaIntoKeys(doc, id), part }));
}
export function deleteFormula(session: Session, { id, part }: Formula): void {
	session.edit('Delete formula', (doc) => ({ doc: removeFormula(doc, id), part }));
}
