/** Clips as keyframes that browsers play: written, evaluated as browsers do, and measured. */
import { ticksToSeconds } from '../../../player/time';
import { angleBetween } from '../../../player/maths/quaternion';
import { compileClip, partTree, type CompiledClip } from '../../clip/compile';
import type { Clip, Doc } from '../../document/types';
import { rotates, type Source } from '../../fit/source';
import { DEFAULT_BOUNDS, type Bounds } from '../../tracks/bounds';
import type { ClipReport, LeftOut, TrackReport } from '../../tracks/report';
import { uniqueNames, type ShipOptions } from '../../tracks/ship';
import { boundsIn, looksOf } from '../../tracks/targets';
import { evaluateFrames, fittedFrames, framesAtKeys, written, type Frame } from './frames';
import { declared, stripsOf, type Strip } from './strips';

const BAKED_RATE = 60;
/** Ticks in which nobody tells what comes before and what after: a jump is there at once, and what shoots up as fast. */
const AT_ONCE = 2;
/** All digits that a place has. */
const ALL_DIGITS = 13;

/** Digits of places in percent, and shares of a bound for what is fitted: tried until what is written keeps it. */
const TRIES = [
	{ placeDigits: 3, share: 0.97 },
	{ placeDigits: 5, share: 0.9 },
	{ placeDigits: 7, share: 0.7 },
	// Where a value shoots up within a few thousandths of a second.
	{ placeDigits: ALL_DIGITS, share: 0.4 },
	{ placeDigits: ALL_DIGITS, share: 0.1 },
];

/** Digits that leave a hundredth of a bound. */
function digitsFor(bound: number): number {
	return Math.min(12, Math.max(0, Math.ceil(2 - Math.log10(bound))));
}

/** Digits of a strip's own numbers: a turn's are those of a quaternion, its bound is in degrees. */
function digitsOf({ path, source }: Strip, bound: number): number {
	if (path === 'visible') return 0;
	return digitsFor(rotates(source) ? (bound * Math.PI) / 360 : bound);
}

export interface WrittenStrip {
	strip: Strip;
	frames: readonly Frame[];
}
export interface WrittenClip {
	clip: Clip;
	/** Unique in the file. */
	name: string;
	strips: readonly WrittenStrip[];
}
/** All that a writer of keyframes needs, and what is told of it. */
export interface WrittenClips {
	clips: readonly WrittenClip[];
	/** Unique names in the file, by part. */
	partNames: ReadonlyMap<string, string>;
	reports: ClipReport[];
}

interface Measured extends WrittenStrip {
	error: number;
	errorAt: number;
	isOwn: boolean;
}

/** How far what is shown is from what a source has about a time: between just before and just after all is there. */
function offFrom(source: Source, around: readonly Float64Array[], shown: Float64Array): number {
	const [before, now, after] = around;
	if (rotates(source)) {
		const [a, b] = [angleBetween(before, shown), angleBetween(shown, after)];
		const beside = Math.max(0, a + b - angleBetween(before, after)) / 2;
		return Math.min(angleBetween(now, shown), beside);
	}
	let error = 0;
	for (let k = 0; k < shown.length; k++) {
		const low = Math.min(before[k], now[k], after[k]);
		const high = Math.max(before[k], now[k], after[k]);
		error = Math.max(error, low - shown[k], shown[k] - high);
	}
	return error;
}

/** How far written frames are off at most. */
function measure(strip: Strip, frames: readonly Frame[], looks: Float64Array): { error: number; at: number } {
	const { source, mix } = strip;
	const around = [0, 1, 2].map(() => new Float64Array(source.size));
	const shown = new Float64Array(source.size);
	let worst = { error: 0, at: 0 };
	for (const t of looks) {
		around.forEach((out, i) =>
			source.evaluate(Math.min(source.end, Math.max(source.start, t + (i - 1) * AT_ONCE)), out),
		);
		evaluateFrames(frames, t / source.end, shown, mix);
		const error = offFrom(source, around, shown);
		if (error > worst.error) worst = { error, at: t };
	}
	return worst;
}

/** Whether a format has an easing, as CSS writes it. */
export type Says = (easing: string) => boolean;

/** Throws a RangeError where the bound cannot be kept. */
function writeStrip(strip: Strip, clip: Clip, bound: number, looks: Float64Array, says: Says): Measured {
	const digits = digitsOf(strip, bound);
	let last: Measured | null = null;
	for (const { placeDigits, share } of TRIES) {
		const own = strip.traces && framesAtKeys(strip.traces, clip, share * bound);
		const made = own?.frames.every(({ easing }) => says(easing))
			? own
			: fittedFrames(strip.source, share * bound);
		const frames = written(made.frames, placeDigits, digits);
		const { error, at } = measure(strip, frames, looks);
		last = { strip, frames, error, errorAt: ticksToSeconds(at), isOwn: made.isOwn };
		if (error <= bound) return last;
	}
	throw new RangeError(
		`${clip.name} · ${strip.part.name} · ${strip.path}: written with an error of ${last!.error} at ${last!.errorAt} s, over ${bound}`,
	);
}

const WHY_NOT: Readonly<Record<string, string>> = {
	custom: 'browsers need each number declared: the player sets them as custom properties',
	weight: 'a page has no models',
	fieldOfView: 'a page has no cameras',
	stroke: 'the width of a line is left to the page',
};

/** What cannot be said, or is not all that it is. */
function leftOutOf({ layout, parts, indexOfPart, channels, clip }: CompiledClip): LeftOut[] {
	const nameOf = (part: string) => parts[indexOfPart.get(part)!].name;
	const gone = layout.targets.flatMap(({ part, path }): LeftOut[] =>
		path in WHY_NOT ? [{ part: nameOf(part), what: path, why: WHY_NOT[path] }] : [],
	);
	const adding = channels.filter(({ channel }) => channel.accumulates && clip.loop.mode === 'repeat');
	return [
		...gone,
		...adding.map(({ channel: { part, property, component } }) => ({
			part: nameOf(part),
			what: `${property} ${component}`,
			why: 'adds up round by round: browsers begin each anew, the player does not',
		})),
	];
}

function reportsOf(
	compiled: CompiledClip,
	strips: readonly Measured[],
	names: ReadonlyMap<string, string>,
	bounds: ReadonlyMap<Strip, number>,
): TrackReport[] {
	const frames = Math.ceil(ticksToSeconds(compiled.length) * BAKED_RATE) + 1;
	return strips.map(({ strip, frames: own, error, errorAt, isOwn }): TrackReport => {
		const texts = own.map(
			({ at, values, easing }) => `${100 * at}% { ${declared(strip.declare(values))}; ${easing} }`,
		);
		const each = declared(strip.declare(own[0].values)).length + 12;
		return {
			id: `${compiled.clip.id}/${strip.part.id}/${strip.path}/${strip.name}`,
			part: names.get(strip.part.id)!,
			path: strip.path,
			encoding: isOwn
				? 'easings'
				: strip.traces && own.some(({ easing }) => easing.startsWith('linear('))
					? 'linear()'
					: 'straight',
			exact: isOwn && error <= 1e-6 * bounds.get(strip)!,
			guaranteed: !strip.isComputed,
			keys: own.length,
			bytes: texts.join('').length,
			bakedBytes: frames * each,
			bound: bounds.get(strip)!,
			error,
			errorAt,
		};
	});
}

function shipClip(
	doc: Doc,
	clip: Clip,
	name: string,
	bounds: Bounds,
	names: ReadonlyMap<string, string>,
	says: Says,
) {
	const compiled = compileClip(doc, clip);
	const looks = looksOf(compiled);
	const limits = boundsIn(compiled, looks, bounds);
	const bound = new Map<Strip, number>();
	const strips = compiled.layout.targets.flatMap((target, i) =>
		stripsOf(compiled, target).map((strip) => {
			bound.set(strip, limits[i]);
			return writeStrip(strip, clip, limits[i], looks, says);
		}),
	);
	const report: ClipReport = {
		clip: clip.id,
		name: clip.name,
		seconds: ticksToSeconds(clip.length),
		tracks: reportsOf(compiled, strips, names, bound),
		leftOut: leftOutOf(compiled),
	};
	const file: WrittenClip = { clip, name, strips };
	return { report, file };
}

/**
 * Clips of an interface project as keyframes within their bounds; `format` is what is written. Throws a RangeError for
 * worlds, and where a bound cannot be kept.
 */
export function writeKeyframes(
	doc: Doc,
	clips: readonly Clip[],
	{ bounds = DEFAULT_BOUNDS }: ShipOptions,
	format: string,
	says: Says = () => true,
): WrittenClips {
	if (doc.project.space !== 'interface')
		throw new RangeError(`${format} moves the elements of a page: this project is a world`);
	const partNames = uniqueNames(partTree(doc).parts);
	const names = uniqueNames(clips);
	const made = clips.map((clip) => shipClip(doc, clip, names.get(clip.id)!, bounds, partNames, says));
	return { clips: made.map(({ file }) => file), partNames, reports: made.map(({ report }) => report) };
}
