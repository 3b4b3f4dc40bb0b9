/** What of a part moves in a clip, in a format's own terms. */
import { evaluateVector } from '../../player/curve/vector';
import { eulerInto } from '../../player/maths/quaternion';
import type { Vec3 } from '../../player/maths/vector';
import type { CompiledClip, CompiledVector } from '../clip/compile';
import { numberPlace } from '../clip/layout';
import { mergePieces, piecesOver, traceOf, type Trace } from '../clip/trace';
import type { Clip, Doc, Part, Property } from '../document/types';
import { channelLabel } from '../document/labels';
import type { Source } from '../fit/source';
import type { Encoding } from './encode';
import type { LeftOut } from './report';
import { reachOf } from './reach';
import { inRounds, roundsOf } from './rounds';
import { switchOf, type Switch } from './switch';
import { travelOf } from './travel';

export type TrackPath = 'translation' | 'rotation' | 'scale';
export const TRACK_PATHS: readonly TrackPath[] = ['translation', 'rotation', 'scale'];

/** What else of a part a format may say, in its own terms: its colours, its size, its camera, numbers of one's own. */
export type OwnPath =
	| 'colour'
	| 'stroke'
	| 'size'
	| 'fieldOfView'
	| 'visible'
	| 'travel'
	| 'weights'
	| 'transparency'
	| 'line transparency'
	| `number ${string}`;

/** What a format can say, and how it counts. */
export interface Terms {
	paths: readonly TrackPath[];
	/** Factors that carry values (angles, of rotations) from the project's space into the format's. */
	factors: Readonly<Record<TrackPath, Vec3>>;
	/** Whether what is switched off is told by a scale of 0, for readers that know no switch. */
	hidesByScale?: boolean;
	/** Whether what has no opacity is told so too, for readers that know none. */
	fadesByScale?: boolean;
	/** Whether what accumulates of the translation of parts that hang on none is taken out: they stay in place. */
	inPlace?: boolean;
	/** How keys are placed; where they are fitted, when absent. */
	encoding?: Encoding;
	/** How many rounds of a clip are written one after the other; one when absent. */
	rounds?: (clip: Clip) => number;
	/** What it says beside them, made by the format itself. */
	ownTracks?: (compiled: CompiledClip, part: Part) => Track[];
	/** Why a property that a clip moves cannot be said. */
	whyNot: (property: Property) => string;
}

/** A component of a track with the factor that carries it into the format's units. */
export interface Component extends Trace {
	factor: number;
}

export interface Track {
	/** `clip/part/path`, of their ids. */
	id: string;
	part: Part;
	path: TrackPath | OwnPath;
	/** Channels that it says, as `property component`, where they are not what its path is called. */
	says?: readonly string[];
	/** In the format's units, as a rotation a unit quaternion. */
	source: Source;
	/** None of an orientation, which is no three angles. */
	components: Component[];
	/** One unit of the project in the format's. */
	unit: number;
	/** Range of the widest component, in the format's units; 180° for rotations. */
	range: number;
	/** Largest absolute value, for the float32 floor of a bound. */
	largest: number;
	/** Whether the bound holds everywhere: of what a formula computes it is measured closely, and no more. */
	guaranteed: boolean;
}

/** Places a second at which what a formula computes is measured: a peak of a few milliseconds is found. */
export const FORMULA_LOOKS = 480;

/** What turns a part by an orientation channel, in the format's space: mirrored axes mirror the turn. */
function orientationSource(vector: CompiledVector, clip: Clip, factors: Vec3): Source {
	return {
		size: 4,
		start: 0,
		end: clip.length,
		pieces: piecesOver(vector.channel, clip.length),
		evaluate(t, out) {
			evaluateVector(vector.vector, t, out);
			for (let k = 0; k < 3; k++) out[k] *= factors[k];
		},
	};
}

/** A scale that is 0 while a switch is off. */
function switched(source: Source, visible: Switch): Source {
	return {
		...source,
		pieces: mergePieces([source.pieces, visible.pieces]),
		looks: visible.isComputed ? FORMULA_LOOKS : source.looks,
		evaluate(t, out, round) {
			if (!visible.isOn(t)) out.fill(0, 0, source.size);
			else source.evaluate(t, out, round);
		},
	};
}

/** What hides a part by a scale of 0; null where nothing does. */
export function hidingOf(
	compiled: CompiledClip,
	{ id }: Pick<Part, 'id'>,
	{ hidesByScale = false, fadesByScale = false }: Pick<Terms, 'hidesByScale' | 'fadesByScale'>,
): Switch | null {
	return hidesByScale ? switchOf(compiled, id, fadesByScale) : null;
}

/** The track of a part's path in a clip, or null where nothing moves it. */
export function trackOf(compiled: CompiledClip, part: Part, path: TrackPath, terms: Terms): Track | null {
	const own = trackOfPath(compiled, part, path, terms);
	const visible = path === 'scale' ? hidingOf(compiled, part, terms) : null;
	if (!visible) return own;
	const { rest } = part;
	const resting: Source = {
		size: 3,
		start: 0,
		end: compiled.clip.length,
		pieces: [],
		evaluate: (_, out) => out.set(rest.scale),
	};
	return {
		id: `${compiled.clip.id}/${part.id}/${path}`,
		part,
		path,
		source: switched(own?.source ?? resting, visible),
		components: [],
		unit: 1,
		range: own?.range ?? 0,
		largest: own?.largest ?? Math.max(...rest.scale.map(Math.abs)),
		guaranteed: !visible.isComputed && (own?.guaranteed ?? true),
	};
}

function trackOfPath(compiled: CompiledClip, part: Part, path: TrackPath, terms: Terms): Track | null {
	const { clip } = compiled;
	const id = `${clip.id}/${part.id}/${path}`;
	const factors = terms.factors[path];
	const rotates = path === 'rotation';
	const vector = rotates
		? compiled.vectors.find(({ channel, vector: own }) => channel.part === part.id && own.mix === 'turn')
		: undefined;
	if (vector) {
		const source = orientationSource(vector, clip, factors);
		return { id, part, path, source, components: [], unit: 1, range: 180, largest: 1, guaranteed: true };
	}
	const place = numberPlace(compiled.layout, part.id, path, 'x');
	if (place < 0) return null;
	const components = factors.map((factor, i): Component => ({
		...traceOf(compiled, place + i),
		factor,
	}));
	if (components.every(({ channel, formula }) => !channel && !formula)) return null;
	const guaranteed = components.every(({ formula }) => !formula);
	const values = new Float64Array(3);
	const travel = terms.inPlace && path === 'translation' ? travelOf(compiled, part) : null;
	const read = (t: number, out: Float64Array, round = 0) => {
		for (let i = 0; i < 3; i++) {
			const gone = travel ? travel[i] * (t / clip.length + round) : 0;
			out[i] = components[i].factor * (components[i].read(t, round) - gone);
		}
	};
	const source: Source = {
		size: rotates ? 4 : 3,
		start: 0,
		end: clip.length,
		pieces: mergePieces(components.map((component) => component.pieces)),
		looks: guaranteed ? undefined : FORMULA_LOOKS,
		evaluate: rotates
			? (t, out, round) => {
					read(t, values, round);
					eulerInto(values[0], values[1], values[2], part.eulerOrder, out);
				}
			: read,
	};
	const reach = reachOf(read, 3, source);
	return {
		id,
		part,
		path,
		source,
		components: travel ? [] : components,
		unit: rotates ? 1 : Math.abs(factors[0]),
		...(rotates ? { range: 180, largest: 1 } : reach),
		guaranteed,
	};
}

/** All that a clip moves: what the format can say as tracks, the rest told. */
export function tracksOf(
	doc: Doc,
	compiled: CompiledClip,
	terms: Terms,
): { tracks: Track[]; leftOut: LeftOut[] } {
	const rounds = roundsOf(compiled.clip, terms.rounds?.(compiled.clip) ?? 1);
	const tracks = compiled.parts
		.flatMap((part) => [
			...terms.paths.flatMap((path) => trackOf(compiled, part, path, terms) ?? []),
			...(terms.ownTracks?.(compiled, part) ?? []),
		])
		.map((track) => inRounds(track, compiled.clip, rounds));
	const said = new Set(tracks.flatMap(({ part, says = [] }) => says.map((own) => `${part.id} ${own}`)));
	const moved = [...compiled.channels, ...compiled.vectors].map(({ channel }) => channel);
	const leftOut = [...moved, ...compiled.formulas.order.map(({ formula }) => formula)]
		.filter(({ property }) => !(terms.hidesByScale && property === 'visible'))
		.filter(({ property }) => !terms.paths.includes(pathOf(property)))
		.filter(({ part, property, component }) => !said.has(`${part} ${property} ${component}`))
		.map(({ part, property, component }) => ({
			part: doc.parts[part].name,
			what: channelLabel(property, component, doc.parts[part]),
			why: terms.whyNot(property),
		}));
	return { tracks, leftOut };
}

function pathOf(property: Property): TrackPath {
	return (property === 'orientation' ? 'rotation' : property) as TrackPath;
}
