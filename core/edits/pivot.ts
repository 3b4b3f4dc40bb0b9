/** Moving the pivot of a part: its drawing and its children stay where they are. */
import { compileClip, poseAt } from '../clip/compile';
import { transformPoint } from '../pose/matrix';
import { worldMatrix } from '../clip/path';
import { fromEuler, rotateVector } from '../../player/maths/quaternion';
import { AXES, childrenOf, type Clip, type Doc, type Part } from '../document/types';
import type { Vec3 } from '../../player/maths/vector';

/** Adds to a part's translation: at rest, in all keys of all clips, and in what formulas give. */
function shiftTranslation(doc: Doc, part: Part, by: Vec3): Doc {
	const translation = part.rest.translation.map((v, i) => v + by[i]) as Vec3;
	const parts = { ...doc.parts, [part.id]: { ...doc.parts[part.id], rest: { ...part.rest, translation } } };
	const channels = { ...doc.channels };
	const formulas = { ...doc.formulas };
	for (const channel of Object.values(doc.channels)) {
		if (channel.part !== part.id || channel.property !== 'translation') continue;
		const change = by[AXES.indexOf(channel.component as 'x')];
		if (change === 0) continue;
		channels[channel.id] = { ...channel, keys: channel.keys.map((key) => ({ ...key, v: key.v + change })) };
	}
	for (const formula of Object.values(doc.formulas)) {
		if (formula.part !== part.id || formula.property !== 'translation') continue;
		const change = by[AXES.indexOf(formula.component as 'x')];
		if (change !== 0) formulas[formula.id] = { ...formula, text: `(${formula.text}) + ${change}` };
	}
	return { ...doc, parts, channels, formulas };
}

/**
 * Moves a part's pivot by `d`, in the part's own axes and the units of its drawing: exact where rotation and scale are
 * as at rest; elsewhere see `pivotDrift`.
 */
export function movePivot(doc: Doc, id: string, d: Vec3): Doc {
	const part = doc.parts[id];
	if (!part) return doc;
	const scaled = d.map((v, i) => v * part.rest.scale[i]) as Vec3;
	const moved = shiftTranslation(
		doc,
		part,
		rotateVector(fromEuler(part.rest.rotation, part.eulerOrder), scaled),
	);
	const back = d.map((v) => -v) as Vec3;
	const offset = part.drawing.offset.map((v, i) => v + back[i]) as Vec3;
	const own = { ...moved.parts[id], drawing: { ...part.drawing, offset } };
	return childrenOf(doc, id).reduce((next, child) => shiftTranslation(next, child, back), {
		...moved,
		parts: { ...moved.parts, [id]: own },
	});
}

const LOOKS = 120;

/** How far a part's drawing is elsewhere in a clip of one document than in another, at most, in the project's units. */
export function pivotDrift(before: Doc, after: Doc, clip: Clip, id: string): number {
	const scenes = [before, after].map((doc) => ({
		compiled: compileClip(doc, doc.clips[clip.id]),
		part: doc.parts[id],
	}));
	let worst = 0;
	for (let i = 0; i <= LOOKS; i++) {
		const places = scenes.map(({ compiled, part }) => {
			const posed = { layout: compiled.layout, pose: poseAt(compiled, (clip.length * i) / LOOKS) };
			return transformPoint(worldMatrix(compiled, id, posed)!, part.drawing.offset);
		});
		worst = Math.max(worst, Math.hypot(...places[0].map((v, k) => v - places[1][k])));
	}
	return worst;
}
