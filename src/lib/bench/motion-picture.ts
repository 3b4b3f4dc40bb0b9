/** A motion as a small picture: a card that does it above a line. */
import { compileCurve } from '$core/curve/compile';
import { PLAYS_ONCE } from '$core/curve/handles';
import type { Motion } from '$core/document/motions';
import type { Component, Property } from '$core/document/types';
import { evaluateCurve } from '$player/curve/evaluate';

export const MOTION_PICTURE = { width: 60, height: 40 };
/** Side of the card at rest. */
const CARD = 15;
const GROUND = 31;
/** A motion goes no farther in its picture than this, in sides of the card. */
const FARTHEST = 1.1;
const HOLD = { before: 'hold', after: 'hold' } as const;

export interface CardPose {
	/** Of SVG: where it stands, how it is turned and scaled. */
	transform: string;
	opacity: number;
}

/** What the card of a motion shows at a share of its time. */
export function motionPicture(motion: Motion): (share: number) => CardPose {
	const curves = new Map(
		motion.channels
			.filter(({ keys }) => !keys[0].vector)
			.map(({ property, component, keys }) => [
				`${property} ${component}`,
				compileCurve(keys, HOLD, PLAYS_ONCE),
			]),
	);
	const far = CARD * Math.min(FARTHEST, motion.distance / motion.size);
	const down = motion.space === 'world' ? -1 : 1;
	return (share) => {
		const t = share * motion.length;
		const at = (property: Property, component: Component, rest: number) => {
			const curve = curves.get(`${property} ${component}`);
			return curve ? evaluateCurve(curve, t) : rest;
		};
		const x = MOTION_PICTURE.width / 2 + far * at('translation', 'x', 0);
		const y = GROUND + down * far * at('translation', 'y', 0);
		const shown = 1 - at('reveal', 'right', 0) - at('reveal', 'left', 0);
		const aside = Math.cos((at('rotation', 'y', 0) * Math.PI) / 180);
		const turn = down * at('rotation', 'z', 0);
		const wide = at('scale', 'x', 1) * aside * shown;
		return {
			transform: `translate(${x.toFixed(2)} ${y.toFixed(2)}) rotate(${turn.toFixed(1)}) scale(${wide.toFixed(3)} ${at('scale', 'y', 1).toFixed(3)})`,
			opacity: at('opacity', 'value', 1) * at('visible', 'value', 1),
		};
	};
}

/** The card itself, its foot at the origin. */
export const CARD_PATH = `M ${-CARD / 2} 0 v ${-CARD} h ${CARD} v ${CARD} z`;
