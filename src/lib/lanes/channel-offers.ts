/** The channels that a part could be given in a clip, and what stands in the way of some. */
import {
	AXES,
	channelId,
	formulaId,
	type Component,
	type Doc,
	type Part,
	type Property,
} from '$core/document/types';
import { channelLabel } from '$core/document/labels';
import { numbersOf } from '$core/document/rest';
import { canTurnShortWay } from '$core/edits/short-way';

export interface ChannelOffer {
	property: Property;
	component: Component;
	label: string;
	/** Why it cannot be there now; empty where it can. */
	why: string;
	/** It comes in the place of the part's rotation, which turns the short way then. */
	replaces: boolean;
}

/** All that has neither keys nor a formula yet. A part turns by angles or by an orientation, not by both. */
export function channelOffers(doc: Doc, clip: string, part: Part): ChannelOffer[] {
	const has = (property: Property, component: Component) =>
		doc.channels[channelId(clip, part.id, property, component)] !== undefined ||
		doc.formulas[formulaId(clip, part.id, property, component)] !== undefined;
	const isTurned = AXES.some((axis) => has('rotation', axis));
	const isOriented = has('orientation', 'value');
	const offers: ChannelOffer[] = [];
	for (const { property, component } of numbersOf(part)) {
		if (has(property, component)) continue;
		const label = channelLabel(property, component, part);
		const offer = { property, component, label, why: '', replaces: false };
		if (property === 'rotation' && isOriented) offers.push({ ...offer, why: 'an orientation turns it here' });
		else if (property !== 'orientation' || !isTurned) offers.push(offer);
		else if (canTurnShortWay(doc, clip, part.id)) offers.push({ ...offer, replaces: true });
		else offers.push({ ...offer, why: 'its rotation is by a formula, or accumulates' });
	}
	return offers;
}
