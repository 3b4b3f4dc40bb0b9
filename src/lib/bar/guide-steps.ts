/** The steps of a first clip: what each says, where it is done, and when it has been done. */
import type { Session } from '$lib/session/session.svelte';

type Channels = Session['doc']['channels'];

export interface GuideStep {
	say: string;
	/** The same without a pointer. */
	keys: string;
	/** What it speaks of: the first of these that is there. */
	near: readonly string[];
	/** `before` are the channels as the step began. */
	done: (session: Session, before: Channels) => boolean;
}

const hasParts = ({ doc }: Session) => Object.keys(doc.parts).length > 0;

/** Whether a key of before has another shape now. */
function isReshaped(channels: Channels, before: Channels): boolean {
	return Object.values(channels).some(({ id, keys }) =>
		before[id]?.keys.some((key) => keys.some(({ t, shape }) => t === key.t && shape !== key.shape)),
	);
}

const SELECT: GuideStep = {
	say: 'Select a part: click it on the stage, or its name in the lanes.',
	keys: 'Tab to its name in the lanes, Enter.',
	near: ['[data-part-row]', '[data-lanes-foot]'],
	done: ({ selection }) => selection.partId !== null,
};
const ADD: GuideStep = {
	say: 'Add a part: what moves later on.',
	keys: 'Shift+N, arrow keys, Enter.',
	near: ['[data-add-part]'],
	done: (session) => hasParts(session) && session.selection.partId !== null,
};

const REST: readonly GuideStep[] = [
	{
		say: 'Go to another frame: drag on the ruler.',
		keys: 'Shift+right arrow, or F and a number.',
		near: ['[aria-label="playhead"]'],
		done: ({ transport }) => transport.local > 0,
	},
	{
		say: 'Turn on Auto-key, and move the part by its handles: that sets keys.',
		keys: 'A, then a number on the Part card.',
		near: ['[data-gizmo="guard"]', '[data-stage-canvas]'],
		done: ({ isAutoKey, project, doc }, before) =>
			isAutoKey && !project.isDragging && doc.channels !== before,
	},
	{
		say: 'Select a key and choose its easing on the left below, or drag its line up or down.',
		keys: '[ and ] go to keys; 1 to 6 choose.',
		near: ['[data-channel]'],
		done: ({ project, doc }, before) => !project.isDragging && isReshaped(doc.channels, before),
	},
	{
		say: 'Play it.',
		keys: 'Space, wherever you are.',
		near: ['[aria-label="play"]', '[aria-label="pause"]'],
		done: ({ transport }) => transport.playing,
	},
	{
		say: 'Ship it: open Ship and export a file. Auto-key is off again, so that looking around changes nothing.',
		keys: 'Ctrl+K, “ship”, Enter.',
		near: ['[data-export]', '[data-room="Ship"]'],
		done: ({ exported }) => exported > 0,
	},
];

/** Six steps; where there is no part yet, the first is to add one. */
export function guideSteps(session: Session): readonly GuideStep[] {
	return [hasParts(session) ? SELECT : ADD, ...REST];
}

interface Rect {
	left: number;
	top: number;
	width: number;
	height: number;
}
const GAP = 12;
const EDGE = 8;

/**
 * Where a box of a size stands beside a target within a window and never over it: below, above, to the right, to the
 * left; in the corner farthest from it where there is no room beside.
 */
export function placeBeside(
	target: Rect,
	size: { width: number; height: number },
	window: { width: number; height: number },
): { left: number; top: number } {
	const clampTo = (v: number, most: number) => Math.max(EDGE, Math.min(v, most - EDGE));
	const left = clampTo(target.left, window.width - size.width);
	const top = clampTo(target.top, window.height - size.height);
	const tries = [
		{ left, top: target.top + target.height + GAP },
		{ left, top: target.top - size.height - GAP },
		{ left: target.left + target.width + GAP, top },
		{ left: target.left - size.width - GAP, top },
	];
	const fits = (at: { left: number; top: number }) =>
		at.left >= EDGE &&
		at.top >= EDGE &&
		at.left + size.width <= window.width - EDGE &&
		at.top + size.height <= window.height - EDGE;
	const found = tries.find(fits);
	if (found) return found;
	const isLeft = target.left + target.width / 2 < window.width / 2;
	const isHigh = target.top + target.height / 2 < window.height / 2;
	return {
		left: isLeft ? window.width - size.width - EDGE : EDGE,
		top: isHigh ? window.height - size.height - EDGE : EDGE,
	};
}
