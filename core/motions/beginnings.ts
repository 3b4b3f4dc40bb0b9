/** What a new project can begin with: a part in view that does something already. */
import type { Clip, Doc, Drawing, Part } from '../document/types';
import type { Vec3 } from '../../player/maths/vector';
import { putClip } from '../edits/clips';
import { putPart, REST } from '../edits/parts';
import { frameToTicks } from '../time';
import { amountsOf, putMotion } from './put';
import { STARTER_MOTIONS } from './starter';

export const BEGINNINGS = ['nothing', 'card', 'ball'] as const;
export type Beginning = (typeof BEGINNINGS)[number];

function part(
	id: string,
	order: string,
	colour: string,
	drawing: Drawing,
	parent: string | null = null,
): Part {
	return {
		type: 'part',
		id,
		name: id,
		parent,
		order,
		drawing,
		colour,
		rest: REST,
		eulerOrder: 'XYZ',
		visible: true,
	};
}

/** A document with parts, a clip and a motion on its first part. */
function withMotion(doc: Doc, parts: readonly Part[], name: string, motion: string, loop: Clip['loop']): Doc {
	const { frameRate } = doc.project;
	const whole = STARTER_MOTIONS.find(({ motion: own }) => own.name === motion)!.motion;
	// Whoever opens it sees the part at once.
	const chosen = { ...whole, channels: whole.channels.filter(({ property }) => property !== 'opacity') };
	const amounts = amountsOf(chosen, frameToTicks(1, frameRate));
	const length = loop.mode === 'once' ? frameToTicks(frameRate, frameRate) : amounts.length;
	const id = name.replaceAll(' ', '-');
	const clip: Clip = { type: 'clip', id, name, order: 'a0', length, loop, note: '' };
	const made = putClip(parts.reduce(putPart, doc), clip);
	return putMotion(made, clip.id, [parts[0].id], chosen, amounts, 0).doc;
}

/** An empty document with what it is to begin with. */
export function begin(doc: Doc, what: Beginning): Doc {
	const isWorld = doc.project.space === 'world';
	/** A metre, or what looks as large on a screen; up is what it says. */
	const unit = isWorld ? 1 : 100;
	const up = isWorld ? unit : -unit;
	const at = (x: number, y: number): Vec3 => [x * unit, y * up, 0];
	const size = (x: number, y: number, z = 0): Vec3 => [x * unit, y * unit, isWorld ? z * unit : 0];
	if (what === 'card')
		return withMotion(
			doc,
			[
				part('card', 'a0', '#2f6f8f', {
					kind: 'card',
					size: size(2.8, 1.6),
					radius: 0.2 * unit,
					offset: at(0, 0),
				}),
				part(
					'title',
					'a1',
					'#f3ead6',
					{ kind: 'label', size: size(2, 0.5), text: 'Hello', offset: at(0, 0) },
					'card',
				),
			],
			'card arrives',
			'rise in',
			{ mode: 'once', count: null, pause: 0 },
		);
	if (what === 'ball')
		return withMotion(
			doc,
			[
				part('ball', 'a0', '#b5532f', {
					kind: isWorld ? 'ball' : 'ellipse',
					size: size(1, 1, 1),
					offset: at(0, 0.5),
				}),
				part('ground', 'a1', '#5c6b73', { kind: 'box', size: size(5, 0.2, 2), offset: at(0, -0.1) }),
			],
			'ball hops',
			'hop',
			{ mode: 'repeat', count: null, pause: 0 },
		);
	return doc;
}
