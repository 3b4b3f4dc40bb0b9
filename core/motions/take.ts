/** A motion made of selected keys. */
import { scaleKeys } from '../curve/retime';
import type { Key } from '../curve/types';
import type { Motion, MotionChannel } from '../document/motions';
import { restValue } from '../document/rest';
import { kindOf, partsInTree, type Channel, type Doc } from '../document/types';
import { copyKeys } from '../edits/clipboard';
import type { KeySelection } from '../edits/keys';
import { isFactor, partSize } from './put';

/** What the selected keys of one part do, as it would be told to another part; or why they are no motion. */
export function takeMotion(
	doc: Doc,
	selection: KeySelection,
	{ id, name, order }: Pick<Motion, 'id' | 'name' | 'order'>,
): Motion | { why: string } {
	const copied = copyKeys(doc, selection);
	const moving = new Set(copied.map(({ part }) => part));
	const part = partsInTree(doc).find((own) => moving.has(own.part.id))?.part;
	if (!part) return { why: 'Select the keys that make the motion.' };
	if (moving.size > 1) return { why: 'A motion is what one part does: select keys of one part.' };
	const length = copied.reduce((last, { keys }) => Math.max(last, keys.at(-1)!.t), 0);
	if (length === 0) return { why: 'A motion takes time: select keys at two times at least.' };
	const rest = ({ property, component }: Pick<Channel, 'property' | 'component'>) =>
		restValue(part, property, component);
	const { space } = doc.project;
	const reach = copied
		.filter(({ property }) => property === 'translation')
		.reduce((far, own) => own.keys.reduce((most, { v }) => Math.max(most, Math.abs(v - rest(own))), far), 0);
	const distance = reach || 1;
	const channels = copied.map((own): MotionChannel => {
		const { property, component, keys } = own;
		if (kindOf(property) !== 'number') return { property, component, keys };
		const base = rest(own);
		if (property === 'translation') return { property, component, keys: relative(keys, base, 1 / distance) };
		if (!isFactor(property)) return { property, component, keys: relative(keys, base, 1) };
		return { property, component, keys: relative(keys, 0, 1 / (base || 1)) };
	});
	return { type: 'motion', id, name, order, space, length, distance, size: partSize(part, space), channels };
}

/** Values `(v − base) · factor`, handles too. */
function relative(keys: readonly Key[], base: number, factor: number): Key[] {
	const all = new Set(keys.map(({ t }) => t));
	const moved = keys.map((key) => ({ ...key, v: key.v - base }));
	return scaleKeys(moved, all, { pivot: 0, factor: 1 }, { pivot: 0, factor });
}

/** The document with a motion among its own. */
export function keepMotion(doc: Doc, motion: Motion): Doc {
	return { ...doc, motions: { ...doc.motions, [motion.id]: motion } };
}

export function removeMotion(doc: Doc, id: string): Doc {
	const motions = { ...doc.motions };
	delete motions[id];
	return { ...doc, motions };
}
