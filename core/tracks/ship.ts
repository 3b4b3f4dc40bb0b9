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
import { worstOrigin } from './origins';
import type { ClipReport, LeftOut, OriginError, ShipReport, TrackReport } from './report';
import { tracksOf, type Terms } from './track';

export interface PreparedClip {
	clip: Clip;
	compiled: CompiledClip;
	/** Unique among the clips of the file. */
	name: string;
	encoded: readonly Encoded[];
	leftOut: readonly LeftOut[];
}

/** All that a writer needs. */
export interface Prepared {
	doc: Doc;
	/** Parents before children. */
	parts: readonly Part[];
	/** Unique names in the file, by part. */
	partNames: ReadonlyMap<string, string>;
	clips: readonly PreparedClip[];
}

/** What a format is asked for beside bounds: its switches, by id. */
export type Switches = Readonly<Record<string, boolean>>;

/** How a format takes part in this. */
export interface Shipping {
	terms(doc: Doc, switches?: Switches): Terms;
	/** Writes the file; `plainer` says which parts it draws plainer than they are. */
	write(prepared: Prepared, switches: Switches): Promise<{ bytes: Uint8Array; plainer: string[] }>;
	/** The samplers of a written file by the ids of their tracks. */
	readBack(bytes: Uint8Array, prepared: Prepared): Promise<ReadonlyMap<string, Sampler>>;
	/** Errors that a checker of the standard finds in the file, in words. */
	problems(bytes: Uint8Array): Promise<string[]>;
}

export interface ShipOptions {
	bounds?: Bounds;
	switches?: Switches;
	/** Numbers of the format that are chosen, by their ids. */
	numbers?: Readonly<Record<string, number>>;
}

export interface Shipped extends ShipReport {
	bytes: Uint8Array;
}

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
		origin: null,
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
		parts,
		partNames: uniqueNames(parts),
		clips: clips.map((clip) => {
			const compiled = compileClip(doc, clip);
			const { tracks, leftOut } = tracksOf(doc, compiled, terms);
			const encoded = tracks.map((track) => {
				const own = boundOf(track, bounds);
				return { track, ...own, ...encode(track, own.bound) };
			});
			return { clip, compiled, name: clipNames.get(clip.id)!, encoded, leftOut };
		}),
	};
}

function reportTrack(
	{ track, bound, toProject, exact }: Encoded,
	sampler: Sampler | undefined,
	part: string,
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
	{ bounds = DEFAULT_BOUNDS, switches = {} }: ShipOptions = {},
): Promise<Shipped> {
	const terms = shipping.terms(doc, switches);
	const prepared = prepare(doc, clips, terms, bounds);
	const { bytes, plainer } = await shipping.write(prepared, switches);
	const samplers = await shipping.readBack(bytes, prepared);
	let origin: OriginError | null = null;
	const reports = prepared.clips.map(({ clip, compiled, encoded, leftOut }): ClipReport => {
		const tracks = encoded.map((own) =>
			reportTrack(own, samplers.get(own.track.id), prepared.partNames.get(own.track.part.id)!),
		);
		const bad = tracks.find(({ error, bound }) => !(error <= bound));
		if (bad)
			throw new RangeError(
				`${clip.name} · ${bad.part} · ${bad.path}: read back with an error of ${bad.error}, over ${bad.bound}`,
			);
		const own =
			tracks.length > 0
				? worstOrigin(compiled, terms, (part, path) => samplers.get(`${clip.id}/${part}/${path}`))
				: null;
		if (own && own.error > (origin?.error ?? 0)) origin = own;
		const seconds = Math.fround(ticksToSeconds(clip.length));
		return { clip: clip.id, name: clip.name, seconds, tracks, leftOut: [...leftOut] };
	});
	const problems = await shipping.problems(bytes);
	if (problems.length > 0)
		throw new RangeError(`the file has ${problems.length} errors: ${problems.slice(0, TOLD).join('; ')}`);
	return { bytes, clips: reports, plainer, origin };
}
