/** Shows poses on the elements of a page: those that a part's name is written on, nested as the parts are. */
import type { PlayRequest } from '../clips';
import type { ReadClips } from '../file/read';
import { NAMED } from '../file/format';
import type { Target } from '../layout';
import { playedTicks } from '../loop';
import type { Player } from '../player';
import { ticksToSeconds } from '../time';

export interface ElementOptions {
	/** The attribute that has a part's name. */
	attribute?: string;
	/** The style that takes a part's colour. */
	colour?: 'background-color' | 'color' | 'fill' | 'stroke' | 'border-color';
}

/** Writes the numbers of a target, as they are in a pose from `at` on, to an element's style. */
type Write = (style: CSSStyleDeclaration, pose: Float64Array, at: number) => void;

const px = (v: number) => `${round(v)}px`;
/** A pixel's ten-thousandth is seen by nobody, and short texts are set faster. */
const round = (v: number) => Math.round(v * 1e4) / 1e4;

function writeTurn(style: CSSStyleDeclaration, pose: Float64Array, at: number): void {
	const [x, y, z, w] = pose.subarray(at, at + 4);
	const sine = Math.hypot(x, y, z);
	style.rotate =
		sine < 1e-9
			? 'none'
			: `${round(x / sine)} ${round(y / sine)} ${round(z / sine)} ${round(2 * Math.atan2(sine, w))}rad`;
}

function writeColour(name: string): Write {
	return (style, pose, at) => {
		const [r, g, b] = [0, 1, 2].map((k) => round(255 * pose[at + k]));
		style.setProperty(name, `rgb(${r} ${g} ${b} / ${round(pose[at + 3])})`);
	};
}

/** What a target writes; null where a page has no such thing. */
function writerOf({ path, at, part }: Target, set: ReadClips, colour: string): Write | null {
	const { rest } = set.layout;
	switch (path) {
		case 'translation':
			// The page places what rests: only what it moves by is set.
			return (style, pose) => {
				style.translate = [0, 1, 2].map((k) => px(pose[at + k] - rest[at + k])).join(' ');
			};
		case 'rotation':
			return writeTurn;
		case 'scale':
			return (style, pose) => {
				style.scale = [0, 1, 2].map((k) => round(pose[at + k])).join(' ');
			};
		case 'opacity':
			return (style, pose) => (style.opacity = String(round(pose[at])));
		case 'visible':
			return (style, pose) => (style.visibility = pose[at] < 0.5 ? 'hidden' : '');
		case 'colour':
			return writeColour(colour);
		case 'reveal':
			return (style, pose) => {
				style.clipPath = `inset(${[0, 1, 2, 3].map((k) => `${round(100 * pose[at + k])}%`).join(' ')})`;
			};
		case 'size':
			return (style, pose) => {
				style.width = px(pose[at]);
				style.height = px(pose[at + 1]);
			};
		case 'radius':
			return (style, pose) => (style.borderRadius = px(pose[at]));
		case 'trim':
			return (style, pose) => {
				style.strokeDasharray = `${round(Math.max(0, pose[at + 1] - pose[at]))} 2`;
				style.strokeDashoffset = String(round(-pose[at]));
			};
		case 'custom': {
			const { numbers = {} } = set.parts.find(({ name }) => name === part) ?? {};
			const named = NAMED.custom.flatMap((key, k) => (numbers[key] ? [{ name: numbers[key], k }] : []));
			return (style, pose) => {
				for (const { name, k } of named)
					style.setProperty(`--${name.replace(/[^\w-]+/g, '-')}`, String(round(pose[at + k])));
			};
		}
		default:
			return null;
	}
}

/**
 * A function that shows a pose: give it `player.pose` after each advance. Elements are found within `where` by
 * `data-part="NAME"`, or given by their parts' names. A part moves from where the page has placed it by `translate`, turns
 * and grows about its `transform-origin` by `rotate` and `scale`; `transform` stays the page's own. Numbers of one's own
 * become custom properties, a trim the dashes of outlines whose `pathLength` is 1. Only what has changed is written.
 */
export function bindToElements(
	set: ReadClips,
	where: ParentNode | ReadonlyMap<string, Element>,
	{ attribute = 'data-part', colour = 'background-color' }: ElementOptions = {},
): (pose: Float64Array) => void {
	const found =
		where instanceof Map
			? (where as ReadonlyMap<string, Element>)
			: new Map(
					[...(where as ParentNode).querySelectorAll(`[${attribute}]`)].map((element) => [
						element.getAttribute(attribute)!,
						element,
					]),
				);
	const bound = set.layout.targets.flatMap((target) => {
		const style = (found.get(target.part) as HTMLElement | SVGElement | undefined)?.style;
		const write = style && writerOf(target, set, colour);
		return write ? [{ ...target, style, write }] : [];
	});
	const shown = new Float64Array(set.layout.rest.length).fill(NaN);
	return (pose) => {
		for (const { at, size, style, write } of bound) {
			let changed = false;
			for (let k = at; k < at + size; k++) {
				if (pose[k] === shown[k]) continue;
				shown[k] = pose[k];
				changed = true;
			}
			if (changed) write(style, pose, at);
		}
	};
}

/** What is done for those who do not want motion: the end of the clip is shown at once, or faded to. */
export type CalmWay = 'end' | 'fade';
const FADE_SECONDS = 0.2;

/**
 * Plays as `player.play` does, unless whoever looks on has asked for less motion: then a clip stands at its end at once,
 * or after a short fade. One that goes on for ever stands at its start. No cue is passed then.
 */
export function playCalmly(player: Player, set: ReadClips, request: PlayRequest, way: CalmWay = 'end'): void {
	if (!matchMedia('(prefers-reduced-motion: reduce)').matches) {
		player.play(request);
		return;
	}
	const fade = { kind: 'crossfade', seconds: FADE_SECONDS } as const;
	player.play({ clip: request.clip, speed: 0, blend: way === 'fade' ? fade : { kind: 'cut', seconds: 0 } });
	const all = playedTicks(set.clips.get(request.clip)!.motion);
	player.seek(all < Infinity ? ticksToSeconds(all) : 0);
}
