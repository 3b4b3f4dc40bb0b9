/** SMIL's animations of one element as keyframes. Source: SVG Animations Level 2; SMIL 3.0, 12.5. */
import type { PageAnimation, PageFrame } from '../web/incoming/animations';
import { numbersIn, type Element } from '../xml';

const ANIMATIONS = new Set(['animate', 'animateTransform', 'set', 'animateColor']);
export const isAnimation = ({ tag }: Element) => ANIMATIONS.has(tag) || tag === 'animateMotion';

/** Seconds of a clock value; null for what is none. */
export function clockOf(text: string): number | null {
	const plain = text.trim();
	const [, value, unit] = /^([+-]?(?:\d+\.?\d*|\.\d+))(h|min|s|ms)?$/.exec(plain) ?? [];
	if (value !== undefined) return Number(value) * { h: 3600, min: 60, s: 1, ms: 0.001 }[unit ?? 's']!;
	const parts = /^(?:(\d+):)?(\d\d?):(\d\d?(?:\.\d+)?)$/.exec(plain);
	return parts ? Number(parts[1] ?? 0) * 3600 + Number(parts[2]) * 60 + Number(parts[3]) : null;
}

/** What an attribute's values are at places of the animation. */
export interface Course {
	attribute: string;
	/** Of `animateTransform`. */
	type: string;
	marks: { at: number; value: string; easing: string }[];
	timing: Omit<PageAnimation, 'part' | 'frames'>;
	isAdded: boolean;
}

function valuesOf(
	{ tag, attributes }: Element,
	base: string,
	leftOut: (what: string) => void,
): string[] | null {
	const { values, from, to, by } = attributes;
	if (tag === 'set') return to === undefined ? null : [to, to];
	if (values !== undefined) {
		const all = values
			.split(';')
			.map((own) => own.trim())
			.filter((own, i, list) => own !== '' || i < list.length - 1);
		return all.length === 1 ? [all[0], all[0]] : all;
	}
	if (to !== undefined) return [from ?? base, to];
	if (by === undefined) return null;
	const [start, change] = [numbersIn(from ?? base), numbersIn(by)];
	if (start.length !== change.length) {
		leftOut(`by="${by}"`);
		return null;
	}
	return [start.join(' '), start.map((v, k) => v + change[k]).join(' ')];
}

/** The easings between values. */
function easingsOf({ tag, attributes }: Element, count: number): string[] {
	const mode = tag === 'set' ? 'discrete' : (attributes.calcMode ?? 'linear');
	if (mode === 'discrete') return Array.from({ length: count }, () => 'step-end');
	if (mode !== 'spline') return Array.from({ length: count }, () => 'linear');
	const splines = (attributes.keySplines ?? '').split(';').map(numbersIn);
	return Array.from({ length: count }, (_, i) =>
		splines[i]?.length === 4 ? `cubic-bezier(${splines[i].join(', ')})` : 'linear',
	);
}

/** Places of values: as they are said, else evenly; of those that hold, each has its share. */
function placesOf({ tag, attributes }: Element, count: number): number[] | null {
	const isDiscrete = tag === 'set' || attributes.calcMode === 'discrete';
	if (attributes.keyTimes !== undefined) {
		const places = attributes.keyTimes
			.split(';')
			.filter((own) => own.trim() !== '')
			.map(Number);
		const isSound =
			places.length === count && places.every((v, i) => v >= 0 && v <= 1 && v >= (places[i - 1] ?? 0));
		return isSound ? places : null;
	}
	return Array.from({ length: count }, (_, i) => (isDiscrete ? i / count : i / Math.max(1, count - 1)));
}

/** What an animation element says of what it is in; null where that cannot be said here. */
export function courseOf(element: Element, base: string, leftOut: (what: string) => void): Course | null {
	const { tag, attributes } = element;
	const {
		attributeName: attribute = '',
		dur = '',
		begin = '0',
		repeatCount = '1',
		type = 'translate',
	} = attributes;
	if (!ANIMATIONS.has(tag)) {
		leftOut(tag);
		return null;
	}
	const duration = clockOf(dur) ?? (tag === 'set' ? 0.001 : null);
	const begins = begin.split(';').map(clockOf);
	const delay = begins.find((own) => own !== null) ?? null;
	const values = valuesOf(element, base, leftOut);
	const places = values && placesOf(element, values.length);
	if (duration === null || duration <= 0 || !values || !places) {
		leftOut(`${tag} of ${attribute}${duration === null ? `, whose length is “${dur}”` : ''}`);
		return null;
	}
	if (delay === null) leftOut(`${tag} of ${attribute} begins with “${begin}”, here at 0`);
	if (attributes.calcMode === 'paced') leftOut(`the even pace of ${attribute}`);
	if (attributes.accumulate === 'sum') leftOut(`what ${attribute} gains each round`);
	const easings = easingsOf(element, values.length);
	const marks = values.map((value, i) => ({ at: places[i], value, easing: easings[i] }));
	// What holds does so to the end.
	if (marks.at(-1)!.at < 1) marks.push({ ...marks.at(-1)!, at: 1 });
	const rounds = repeatCount === 'indefinite' ? Infinity : Number(repeatCount);
	return {
		attribute,
		type: tag === 'animateTransform' ? type : '',
		marks,
		timing: { duration, delay: delay ?? 0, iterations: rounds > 0 ? rounds : 1, direction: 'normal' },
		isAdded: attributes.additive === 'sum',
	};
}

/** A course as keyframes; `say` writes the declarations of a value, null where it cannot. */
export function framesOf(
	{ marks }: Course,
	say: (value: string, i: number) => Record<string, string> | null,
): PageFrame[] | null {
	const frames: PageFrame[] = [];
	for (const [i, { at, value, easing }] of marks.entries()) {
		const declared = say(value, i);
		if (!declared) return null;
		frames.push({ at, easing, declared });
	}
	return frames;
}
