/** What a glTF file is asked for, of its format's switches and numbers. */
import type { Doc } from '../../document/types';
import { METRES_PER_PIXEL, translationFactors } from '../../pose/space';
import type { Vec3 } from '../../../player/maths/vector';
import type { Encoding } from '../../tracks/encode';
import type { Choices } from '../../tracks/ship';

export interface GltfChoices {
	withDrawings: boolean;
	encoding: Encoding;
	/** Whether a node on top turns all that z is up. */
	isZUp: boolean;
	/** What accumulates of the way of parts that hang on none: told by their own nodes, left out, or by a node above. */
	travel: 'kept' | 'out' | 'above';
	/** Whether a scale of 0 hides parts for readers without a switch, and those without opacity too. */
	hidesByScale: boolean;
	fadesByScale: boolean;
	rounds: number;
	/** Whether the numbers are in a file of their own, and what glTF has no place for in another. */
	isSeparate: boolean;
	hasMotionFile: boolean;
	/** Factors that carry translations into the file, and the unit of the project in metres. */
	factors: Vec3;
	metres: number;
}

/** What a unit of a project is in metres where nobody says. */
export function metresOf({ project: { space } }: Doc): number {
	return space === 'world' ? 1 : METRES_PER_PIXEL;
}

export function gltfChoices(doc: Doc, { switches = {}, numbers = {} }: Choices): GltfChoices {
	const { keyRate = 0, rounds = 1, metresPerUnit = metresOf(doc) } = numbers;
	const { linearOnly, travelOut, travelAbove } = switches;
	return {
		withDrawings: !switches.curvesOnly,
		encoding: keyRate > 0 ? { kind: 'baked', rate: keyRate } : { kind: linearOnly ? 'linear' : 'fitted' },
		isZUp: switches.zUp ?? false,
		travel: travelAbove ? 'above' : travelOut ? 'out' : 'kept',
		hidesByScale: !switches.onlySwitches,
		fadesByScale: switches.fadesByScale ?? false,
		rounds,
		isSeparate: switches.separate ?? false,
		hasMotionFile: switches.motionFile ?? false,
		factors: translationFactors(doc.project.space).map((f) => Math.sign(f) * metresPerUnit) as Vec3,
		metres: metresPerUnit,
	};
}
