/**
 * The one way by which clips leave: what moves, in a format's own terms → fitted within its bounds → written → read
 * back → measured. What is told of a file is measured on the file.
 */
import { ticksToSeconds } from '../../player/time';
import { compileClip, partTree, type CompiledClip } from '../clip/compile';
import type { Clip, Doc, Part } from '../document/types';
import { bake } from '../fit/fit';
import { measure } from '../fit/measure';
import { samplerBytes, type Sampler } from '../fit/sampler';
import { boundOf, DEFAULT_BOUNDS, type Bounds } from './bounds';
import { encode, type Encoded } from './encode';
import { NO_ORIGIN_ERRORS, worseOrigins } from './origin-errors';
import { originErrors } from './origins';
import type { ClipReport, LeftOut, ShipReport, TrackReport } from './report';
import { roundsOf, writtenTicks } from './rounds';
import { tracksOf, type Terms } from './track';

export interface PreparedClip {
	clip: Clip;
	compiled: CompiledClip;
	/** Unique among the clips of the file. */
	name: string;
	/** How many rounds are written, and where the last one ends, in ticks. */
	rounds: number;
	end: number;
	encoded: readonly Encoded[];
	leftOut: readonly LeftOut[];
}

/** All that a writer needs. */
export interface Prepared {
	doc: Doc;
	/** What the format says, as it was asked to. */
	terms: Terms;
	/** Parents before children. */
	parts: readonly Part[];
	/** Unique names in the file, by part. */
	partNames: ReadonlyMap<string, string>;
	clips: readonly PreparedClip[];
}

/** What a format is asked for beside bounds: its switches and numbers, by their ids. */
export type Switches = Readonly<Record<string, boolean>>;
export interface Choices {
	switches?: Switches;
	numbers?: Readonly<Record<string, number>>;
}

/** A file that stands beside another, which names it. */
export interface FileBeside {
	name: string;
	bytes: Uint8Array;
}

/** What was written: a file, and what belongs beside it. */
export interface Written {
	bytes: Uint8Array;
	beside?: readonly FileBeside[];
}

/** How a format takes part in this. */
export interface Shipping {
	terms(doc: Doc, options?: ShipOptions): Terms;
	/** Writes the file; `plainer` says which parts it draws plainer than they are. */
	write(prepared: Prepared, options: ShipOptions): Promise<Written & { plainer: string[] }>;
	/** The samplers of a written file by the ids of their tracks. */
	readBack(written: Written, prepared: Prepared): Promise<ReadonlyMap<string, Sampler>>;
	/** Errors that a checker of the standard finds in the file, in words. */
	problems(written: Written): Promise<string[]>;
}

export interface ShipOptions extends Choices {
	bounds?: Bounds;
	/** What the file is called without its ending, for what stands beside it. */
	name?: string;
	/** Pictures and models that parts are drawn as, by their ids. */
	assets?: ReadonlyMap<string, Uint8Array>;
}

export interface Shipped extends ShipReport, Written {}

/** How many problems are told. */
const TOLD = 3;

/** Writes clips and proves the file, as a format does it. Throws as `shipClips` does. */
export interface Shipper {
	ship(doc: Doc, clips: readonly Clip[], options: ShipOptions): Promise<Shipped>;
}

/** What holds no curves that are measured. */
export function unmeasured(bytes: Uint8Array, clips: readonly Clip[]): Shipped {
	return {
		bytes,
		clips: clips.map(({ id, name, length }) => ({
			clip: id,
			name,
			seconds: ticksToSeconds(length),
			tracks: [],
			leftOut: [],
		})),
		plainer: [],
		...NO_ORIGIN_ERRORS,
	};
}

/** A format of samplers as such. */
export function shipperOf(shipping: Shipping): Shipper {
	return { ship: (doc, clips, options) => shipClips(shipping, doc, clips, options) };
}

/** Names made unique by a number, since readers find things by name. */
export function uniqueNames(items: readonly { id: string; name: string }[]): Map<string, string> {
	const used = new Set<string>();
	const names = new Map<string, string>();
	for (const { id, name } of items) {
		let unique = name;
		for (let n = 2; used.has(unique); n++) unique = `${name} ${n}`;
		used.add(unique);
		names.set(id, unique);
	}
	return names;
}

function prepare(doc: Doc, clips: readonly Clip[], terms: Terms, bounds: Bounds): Prepared {
	const { parts } = partTree(doc);
	const clipNames = uniqueNames(clips);
	return {
		doc,
		terms,
		parts,
		partNames: uniqueNames(parts),
		clips: clips.map((clip) => {
			const compiled = compileClip(doc, clip);
			const { tracks, leftOut } = tracksOf(doc, compiled, terms);
			const encoded = tracks.map((track) => {
				const own = boundOf(track, bounds);
				return { track, ...own, ...encode(track, own.bound, terms.encoding) };
			});
			const rounds = roundsOf(clip, terms.rounds?.(clip) ?? 1);
			const name = clipNames.get(clip.id)!;
			return { clip, compiled, name, rounds, end: writtenTicks(clip, rounds), encoded, leftOut };
		}),
	};
}

function reportTrack(
	{ track, bound, toProject, exact }: Encoded,
	sampler: Sampler | undefined,
	part: string,
	baked: boolean,
): TrackReport {
	const { error, errorAt } = sampler
		? measure(track.source, sampler, bound)
		: { error: Infinity, errorAt: 0 };
	return {
		id: track.id,
		part,
		path: track.path,
		encoding: sampler?.interpolation ?? 'STEP',
		exact,
		guaranteed: track.guaranteed,
		...(baked ? { baked: true as const } : {}),
		keys: sampler?.times.length ?? 0,
		bytes: sampler ? samplerBytes(sampler) : 0,
		bakedBytes: samplerBytes(bake(track.source, 60)),
		bound: bound * toProject,
		error: error * toProject,
		errorAt,
	};
}

/**
 * Writes clips and proves the file. The same input gives the same bytes. Throws a RangeError with what is wrong when a
 * bound cannot be kept, when the file as read back does not keep it, or when a checker finds an error.
 */
export async function shipClips(
	shipping: Shipping,
	doc: Doc,
	clips: readonly Clip[],
	options: ShipOptions = {},
): Promise<Shipped> {
	const { bounds = DEFAULT_BOUNDS } = options;
	const terms = shipping.terms(doc, options);
	const isBaked = terms.encoding?.kind === 'baked';
	const prepared = prepare(doc, clips, terms, bounds);
	const { plainer, ...written } = await shipping.write(prepared, options);
	const samplers = await shipping.readBack(written, prepared);
	let origins = NO_ORIGIN_ERRORS;
	const reports = prepared.clips.map(({ clip, compiled, end, encoded, leftOut }): ClipReport => {
		const tracks = encoded.map((own) =>
			reportTrack(own, samplers.get(own.track.id), prepared.partNames.get(own.track.part.id)!, isBaked),
		);
		const bad = tracks.find(({ error, bound }) => !(isBaked ? error < Infinity : error <= bound));
		if (bad)
			throw new RangeError(
				`${clip.name} · ${bad.part} · ${bad.path}: read back with an error of ${bad.error}, over ${bad.bound}`,
			);
		if (tracks.length > 0)
			origins = worseOrigins(
				origins,
				originErrors(compiled, terms, (part, path) => samplers.get(`${clip.id}/${part}/${path}`)),
			);
		const seconds = Math.fround(ticksToSeconds(end));
		return { clip: clip.id, name: clip.name, seconds, tracks, leftOut: [...leftOut] };
	});
	const problems = await shipping.problems(written);
	if (problems.length > 0)
		throw new RangeError(`the file has ${problems.length} errors: ${problems.slice(0, TOLD).join('; ')}`);
	return { ...written, clips: reports, plainer, ...origins };
}
