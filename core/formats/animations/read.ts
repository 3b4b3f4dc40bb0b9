/**
 * Keyframes as scripts have them: files of ours, and `{ keyframes, timing }` as `element.animate()` takes them, alone or
 * in a list with a `target`. Source: Web Animations Level 1, 5.3.2 (processing a keyframes argument).
 */
import { fail, ok, type Result } from '../../result';
import { parseJson } from '../../json';
import type { FileIn, TakenIn } from '../format';
import { textOf } from '../head';
import { Incoming } from '../incoming/document';
import {
	addPageClip,
	DIRECTIONS,
	type Direction,
	type PageAnimation,
	type PageFrame,
} from '../web/incoming/animations';
import { elementLook } from '../web/incoming/look';
import { MARK } from './mark';

type Entry = Record<string, unknown>;
const isEntry = (value: unknown): value is Entry =>
	typeof value === 'object' && value !== null && !Array.isArray(value);

/** A property of scripts as style sheets call it. */
const cssName = (name: string) =>
	name === 'cssFloat' ? 'float' : name.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`);
const NO_PROPERTIES = new Set(['offset', 'easing', 'composite', 'computedOffset']);

const textIn = (value: unknown): string | null =>
	typeof value === 'string' ? value : typeof value === 'number' ? String(value) : null;

/** Places of frames that say none are spread evenly between those that do. */
function spread(frames: { at: number | null }[]): void {
	if (frames.length === 0) return;
	if (frames.length > 1) frames[0].at ??= 0;
	frames.at(-1)!.at ??= 1;
	for (let i = 0; i < frames.length; i++) {
		if (frames[i].at !== null) continue;
		const next = frames.findIndex(({ at }, j) => j > i && at !== null);
		const from = frames[i - 1].at!;
		frames[i].at = from + (frames[next].at! - from) / (next - i + 1);
	}
}

/** A list of frames. */
function listed(frames: readonly unknown[]): PageFrame[] | null {
	if (!frames.every(isEntry)) return null;
	const read = frames.map((frame) => ({
		at: typeof frame.offset === 'number' ? frame.offset : null,
		easing: textIn(frame.easing) ?? 'linear',
		declared: Object.fromEntries(
			Object.entries(frame).flatMap(([name, value]) => {
				const text = textIn(value);
				return NO_PROPERTIES.has(name) || text === null ? [] : [[cssName(name), text]];
			}),
		),
	}));
	spread(read);
	return read.every(({ at }) => at! >= 0 && at! <= 1) ? (read as PageFrame[]) : null;
}

/** Lists of values by their properties: each has frames of its own. */
function byProperty(entry: Entry): PageFrame[] | null {
	const easings = [entry.easing ?? 'linear'].flat().map((own) => textIn(own) ?? 'linear');
	const frames: PageFrame[] = [];
	for (const [name, given] of Object.entries(entry)) {
		if (NO_PROPERTIES.has(name)) continue;
		const values = [given].flat().map(textIn);
		if (values.some((value) => value === null)) return null;
		const own = values.map((value, i) => ({
			at: null as number | null,
			easing: easings[i % easings.length],
			declared: { [cssName(name)]: value! },
		}));
		spread(own);
		frames.push(...(own as PageFrame[]));
	}
	return frames;
}

const framesOf = (value: unknown) =>
	Array.isArray(value) ? listed(value) : isEntry(value) ? byProperty(value) : null;

const numberIn = (value: unknown, without: number): number =>
	typeof value === 'number' ? value : value === 'Infinity' ? Infinity : without;

/** Seconds and rounds of a timing; its easing over the whole is told where there is one. */
function timed(timing: unknown, leftOut: string[]): Omit<PageAnimation, 'part' | 'frames'> {
	const own = typeof timing === 'number' ? { duration: timing } : isEntry(timing) ? timing : {};
	if (own.easing !== undefined && own.easing !== 'linear')
		leftOut.push(`the easing ${textIn(own.easing)} over a whole animation`);
	const direction = DIRECTIONS.includes(own.direction as Direction) ? (own.direction as Direction) : 'normal';
	return {
		duration: numberIn(own.duration, 1000) / 1000,
		delay: numberIn(own.delay, 0) / 1000,
		iterations: numberIn(own.iterations, 1),
		direction,
	};
}

interface Found {
	clip: string;
	animations: PageAnimation[];
}

/** The clips of a file of ours. */
function ours(file: Entry, leftOut: string[]): Found[] | null {
	if (!isEntry(file.clips)) return null;
	const found: Found[] = [];
	for (const [clip, entry] of Object.entries(file.clips)) {
		if (!isEntry(entry) || !isEntry(entry.parts)) return null;
		const timing = timed(entry.timing, leftOut);
		const animations: PageAnimation[] = [];
		for (const [part, lists] of Object.entries(entry.parts))
			for (const list of Array.isArray(lists) ? lists : []) {
				const frames = framesOf(list);
				if (!frames) return null;
				animations.push({ part, frames, ...timing });
			}
		found.push({ clip, animations });
	}
	return found;
}

/** Animations of anybody: all begin together. */
function anybodys(value: unknown, clip: string, leftOut: string[]): Found[] | null {
	const bare =
		Array.isArray(value) && value.length > 0 && value.every((own) => isEntry(own) && !('keyframes' in own));
	const all = bare ? [{ keyframes: value }] : [value].flat();
	const animations: PageAnimation[] = [];
	for (const [i, entry] of all.entries()) {
		const frames = isEntry(entry) ? framesOf(entry.keyframes) : null;
		if (!isEntry(entry) || !frames) return null;
		const part = textIn(entry.target) ?? textIn(entry.id) ?? (i === 0 ? 'element' : `element ${i + 1}`);
		const timing = entry.timing ?? entry.options ?? { ...entry, keyframes: undefined };
		animations.push({ part, frames, ...timed(timing, leftOut) });
	}
	return [{ clip, animations }];
}

export async function takeAnimations({ bytes, name }: FileIn): Promise<Result<TakenIn>> {
	const text = textOf(bytes);
	if (!text.ok) return text;
	const parsed = parseJson(text.value);
	if (!parsed.ok) return parsed;
	const { value } = parsed;
	const isOurs = isEntry(value) && value.format === MARK;
	if (isOurs && value.version !== 1)
		return fail('/version', `Version ${textIn(value.version)} is not known: there is 1.`);
	const project = isOurs ? (textIn(value.project) ?? name) : name;
	const incoming = new Incoming(project, 'interface', 60);
	const found = isOurs ? ours(value, incoming.leftOut) : anybodys(value, name, incoming.leftOut);
	if (!found)
		return fail(
			'',
			'These are no keyframes: there are lists of frames, or { "keyframes": […], "timing": {…} }.',
		);
	for (const { clip, animations } of found)
		addPageClip(incoming, clip, animations, (part) =>
			incoming.part(part, () => elementLook(incoming.parts.size)),
		);
	const done = incoming.finish('Nothing in these keyframes moves a part.');
	return done.ok ? ok(done.value) : done;
}
