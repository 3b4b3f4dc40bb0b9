/** What an animation carries beside its samplers, as far as it says what it may say. */
import type { Animation } from '@gltf-transform/core';
import type { Loop } from '../../../player/loop';
import { shortName } from '../../text';
import { tickOf } from './read-keys';

export interface Extras {
	loop: Loop;
	accumulates: { part: string; path: string; component: string }[];
	cues: { name: string; t: number; payload: unknown }[];
}

type Entry = Record<string, unknown>;
const isEntry = (value: unknown): value is Entry =>
	typeof value === 'object' && value !== null && !Array.isArray(value);
const entriesIn = (value: unknown): Entry[] => (Array.isArray(value) ? value.filter(isEntry) : []);
const isTime = (value: unknown): value is number =>
	typeof value === 'number' && value >= 0 && value < Infinity;

function loopIn(given: unknown, told: (what: string) => void): Loop {
	const once: Loop = { mode: 'once', count: null, pause: 0 };
	if (!isEntry(given)) return once;
	const { mode, count = null, pause = 0 } = given;
	if (mode !== 'repeat' && mode !== 'alternate') return once;
	const isCount =
		count === null || (Number.isInteger(count) && (count as number) > 0 && (count as number) <= 10_000);
	if (!isCount) told('its number of iterations');
	if (!isTime(pause)) told('its pause');
	return { mode, count: isCount ? (count as number | null) : null, pause: isTime(pause) ? tickOf(pause) : 0 };
}

/** What is none is told, and left out. */
export function extrasOf(animation: Animation, told: (what: string) => void): Extras {
	const { hillock } = animation.getExtras() as { hillock?: unknown };
	const own = isEntry(hillock) ? hillock : {};
	const cues = entriesIn(own.cues).flatMap(({ name, time, payload = null }) => {
		const called = shortName(name, 120);
		if (called !== '' && isTime(time)) return [{ name: called, t: tickOf(time), payload }];
		told('a cue without a name or a time');
		return [];
	});
	const accumulates = entriesIn(own.accumulates).flatMap(({ part, path, component }) =>
		[part, path, component].every((text) => typeof text === 'string')
			? [{ part, path, component } as Extras['accumulates'][number]]
			: [],
	);
	return { loop: loopIn(own.loop, told), accumulates, cues };
}
