/** Fields that a command brings into hand, by ids of their own: what they are called on the screen may change. */

import type { Property } from '$core/document/types';

export type BenchCard = 'span' | 'channel' | 'part' | 'motions' | 'record' | 'clip';

/** The fields of the bench, and the card that each stands on. */
export const BENCH_FIELDS = {
	'keys-times': 'span',
	'keys-values': 'span',
	'keys-offset': 'span',
	'keys-stagger': 'span',
	'keys-round': 'span',
	'keys-reduce': 'span',
	'keys-resample': 'span',
	'keys-smooth': 'span',
	'ends-before': 'channel',
	'ends-after': 'channel',
	'part-colour': 'part',
	'part-translation': 'part',
	'part-rotation': 'part',
	'part-scale': 'part',
	'part-size': 'part',
	'part-opacity': 'part',
	'part-parent': 'part',
	'part-euler': 'part',
	'part-pivot': 'part',
	'part-reveal': 'part',
	'part-numbers': 'part',
	'motion-find': 'motions',
	'record-device': 'record',
	'record-latency': 'record',
	'recording-file': 'record',
	'take-lay': 'record',
	'take-tolerance': 'record',
	'clip-name': 'clip',
	'clip-length': 'clip',
	'clip-rate': 'clip',
	'clip-loop': 'clip',
	'clip-note': 'clip',
	'clip-reference': 'clip',
	'clip-blend': 'clip',
} as const satisfies Record<string, BenchCard>;
export type BenchField = keyof typeof BENCH_FIELDS;

export type Field = BenchField | 'playhead';

/** The field of a property's first number on the part's card, where a command leads to it. */
export function fieldOf(property: Property): BenchField | undefined {
	const id = `part-${property}`;
	return id in BENCH_FIELDS ? (id as BenchField) : undefined;
}

/** The element of a field: of a row of buttons the one that is pressed. */
function elementOf(field: Field): HTMLElement | null {
	const found = document.querySelector<HTMLElement>(`[data-field="${field}"]`);
	return found?.querySelector<HTMLElement>('[aria-pressed="true"]') ?? found;
}

/** Puts the focus into a field that is on the screen, its text picked. */
export function focusField(field: Field): void {
	const element = elementOf(field);
	element?.focus();
	if (element instanceof HTMLInputElement) element.select();
}
