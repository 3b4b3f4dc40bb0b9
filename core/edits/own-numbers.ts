/** Numbers of one's own on parts: made, changed, taken away with all that moves or reads them. */
import {
	componentsOf,
	MOST_NUMBERS,
	type Doc,
	type OwnKey,
	type OwnNumber,
	type Part,
} from '../document/types';
import { putPart, withoutMoved } from './parts';

/** A component for another number of a part; null where it has as many as there may be. */
export function freeNumberKey({ numbers = [] }: Part): OwnKey | null {
	if (numbers.length >= MOST_NUMBERS) return null;
	const taken = new Set<string>(numbers.map(({ key }) => key));
	return (componentsOf('custom').find((key) => !taken.has(key)) as OwnKey | undefined) ?? null;
}

/** Puts a number on a part, or in the place of the one with its component; its rest value is kept within its range. */
export function putNumber(doc: Doc, part: string, number: OwnNumber): Doc {
	const own = doc.parts[part];
	if (!own) return doc;
	const value = Math.min(number.high, Math.max(number.low, number.value));
	const numbers = [...(own.numbers ?? [])];
	const at = numbers.findIndex(({ key }) => key === number.key);
	numbers.splice(at < 0 ? numbers.length : at, at < 0 ? 0 : 1, { ...number, value });
	return putPart(doc, { ...own, numbers });
}

/** Removes a number with its channels and formulas in every clip; formulas that read it go on with its rest value. */
export function removeNumber(doc: Doc, part: string, key: OwnKey): Doc {
	const { numbers, ...own } = doc.parts[part];
	const left = numbers?.filter((number) => number.key !== key) ?? [];
	const still = withoutMoved(
		doc,
		(moved) => moved.part === part && moved.property === 'custom' && moved.component === key,
	);
	return putPart(still, left.length > 0 ? { ...own, numbers: left } : own);
}
