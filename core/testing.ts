/** For tests: what a clip shows. */
import { compileClip, poseAt, type CompiledClip } from './clip/compile';
import { allNumbersIn, numberIn, type Posed } from './clip/layout';
import type { Component, Doc, Property } from './document/types';

/** A clip of a document at a local time (ticks) of a round. */
export interface Shown {
	compiled: CompiledClip;
	posed: Posed;
	number(part: string, property: Property, component?: Component): number;
	/** All that can move of all parts, parents first. */
	all(): number[];
}

export function shownAt(doc: Doc, clip: string, local: number, round = 0): Shown {
	const compiled = compileClip(doc, doc.clips[clip]);
	const posed = { layout: compiled.layout, pose: poseAt(compiled, local, round) };
	return {
		compiled,
		posed,
		number: (part, property, component = 'value') => numberIn(posed, doc.parts[part], property, component),
		all: () => compiled.parts.flatMap((part) => allNumbersIn(posed, part)),
	};
}
