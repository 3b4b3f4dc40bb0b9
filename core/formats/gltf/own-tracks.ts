/**
 * What of a part glTF says beside its node's place: colours and opacity as the factor of its own material, size as the
 * scale of its drawing, the field of view of its camera, whether it is to be seen, what carries it along, numbers of
 * one's own as nodes that nobody sees.
 */
import { linearFromSrgb } from '../../../player/maths/colour';
import type { Vec3 } from '../../../player/maths/vector';
import { placeOf } from '../../../player/layout';
import { evaluateVector } from '../../../player/curve/vector';
import type { CompiledClip } from '../../clip/compile';
import { mergePieces, piecesOver } from '../../clip/trace';
import { restValue } from '../../document/rest';
import { componentsOf, type Part } from '../../document/types';
import type { Source } from '../../fit/source';
import { strokeColour } from '../../drawing/mesh';
import { parseHex } from '../../pose/hex';
import { switchOf } from '../../tracks/switch';
import { OwnSources } from '../../tracks/own-sources';
import { FORMULA_LOOKS, type Track } from '../../tracks/track';
import { travelOf } from '../../tracks/travel';
import type { GltfChoices } from './choices';

/** A surface of a drawing, which has a material. */
export type Surface = 'colour' | 'stroke';

/** The surfaces of a part's drawing, with the colours that they have at rest. */
export function surfacesOf({ drawing, colour }: Part): Map<Surface, string> {
	const surfaces = new Map<Surface, string>();
	if (drawing.kind === 'empty' || drawing.kind === 'camera') return surfaces;
	const isHollow = 'filled' in drawing && drawing.filled === false;
	if (!isHollow) surfaces.set('colour', colour);
	if ('stroke' in drawing && drawing.stroke) surfaces.set('stroke', strokeColour({ drawing, colour }));
	return surfaces;
}

/** Whether a surface has its part's colour, and not one of its own. */
export function followsPart({ drawing }: Part, surface: Surface): boolean {
	return surface === 'colour' || ('filled' in drawing && drawing.filled === false);
}

class OwnTracks extends OwnSources {
	/** A surface's factor: linear light, and the alpha of its colour times the part's opacity. */
	private surface(surface: Surface, hex: string): Track | null {
		const { compiled, part } = this;
		const at = followsPart(part, surface) ? placeOf(compiled.layout, part.id, 'colour') : -1;
		const colour = at < 0 ? undefined : compiled.vectors.find(({ place }) => place === at);
		const opacity = this.trace('opacity', 'value');
		if (!colour && !opacity) return null;
		const still = parseHex(hex);
		const values = new Float64Array(4);
		const source = this.source([opacity], 4, (t, out) => {
			if (colour) evaluateVector(colour.vector, t, values);
			else values.set(still);
			for (let k = 0; k < 3; k++) out[k] = linearFromSrgb(values[k]);
			out[3] = values[3] * (opacity ? opacity.read(t) : part.rest.opacity);
		});
		if (colour) {
			// What is mixed elsewhere bends in linear light.
			const bent = piecesOver(colour.channel, compiled.clip.length).map(({ t, jump }) => ({ t, jump }));
			source.pieces = mergePieces([source.pieces, bent]);
		}
		const says = [...(opacity ? ['opacity value'] : []), ...(colour ? ['colour value'] : [])];
		return this.track(surface, says, source);
	}

	/** The scale of a drawing: its size as a share of that at rest. Null where nothing moves it, or where it has none. */
	private size(): Track | null {
		const { part } = this;
		if (!('size' in part.drawing)) return null;
		const axes = componentsOf('size');
		const traces = axes.map((axis) => this.trace('size', axis));
		const rest = axes.map((axis) => restValue(part, 'size', axis));
		if (traces.every((trace) => trace === null) || traces.some((trace, k) => trace && !(rest[k] > 0)))
			return null;
		const source = this.source(traces, 3, (t, out) => {
			for (let k = 0; k < 3; k++) out[k] = traces[k] ? Math.max(0, traces[k]!.read(t)) / rest[k] : 1;
		});
		// Where it would go below 0 it has a corner that no key tells of.
		source.pieces = source.pieces.map(({ t, jump }) => ({ t, jump }));
		return this.track(
			'size',
			axes.filter((_, k) => traces[k]).map((axis) => `size ${axis}`),
			source,
			1 / Math.max(...rest.filter((_, k) => traces[k])),
		);
	}

	private fieldOfView(): Track | null {
		const trace = this.part.drawing.kind === 'camera' ? this.trace('fieldOfView', 'value') : null;
		if (!trace) return null;
		const radians = Math.PI / 180;
		const source = this.source([trace], 1, (t, out) => (out[0] = trace.read(t) * radians));
		return this.track('fieldOfView', ['fieldOfView value'], source, radians);
	}

	/** A number of one's own, as where a node of its name stands along x. */
	private numbers(): Track[] {
		return (this.part.numbers ?? []).flatMap(({ key }) => {
			const trace = this.trace('custom', key);
			if (!trace) return [];
			const source = this.source([trace], 3, (t, out, round) => {
				out[0] = trace.read(t, round);
				out[1] = 0;
				out[2] = 0;
			});
			return [this.track(`number ${key}`, [`custom ${key}`], source)];
		});
	}

	/** The weights of a model's morph targets, whose mesh is in the file. */
	private weights(): Track | null {
		const { drawing } = this.part;
		if (drawing.kind !== 'model') return null;
		const targets = componentsOf('weight').slice(0, drawing.weights.length);
		const traces = targets.map((target) => this.trace('weight', target));
		if (traces.every((trace) => trace === null)) return null;
		const source = this.source(traces, targets.length, (t, out, round) =>
			traces.forEach((trace, k) => (out[k] = trace?.read(t, round) ?? drawing.weights[k])),
		);
		return this.track(
			'weights',
			targets.filter((_, k) => traces[k]).map((target) => `weight ${target}`),
			source,
		);
	}

	private visible(): Track | null {
		const own = switchOf(this.compiled, this.part.id);
		if (!own) return null;
		const source: Source = {
			size: 1,
			plain: true,
			start: 0,
			end: this.compiled.clip.length,
			pieces: own.pieces,
			looks: own.isComputed ? FORMULA_LOOKS : undefined,
			evaluate: (t, out) => (out[0] = Number(own.isOn(t))),
		};
		return this.track('visible', ['visible value'], source);
	}

	/** The even way of a node that carries the part along, where its own keeps what is left of its way. */
	private travel(factors: Vec3): Track | null {
		const { compiled, part } = this;
		const travel = travelOf(compiled, part);
		if (!travel) return null;
		const { length } = compiled.clip;
		const source = this.source([], 3, (t, out, round = 0) => {
			for (let k = 0; k < 3; k++) out[k] = factors[k] * travel[k] * (t / length + round);
		});
		return this.track('travel', [], source, Math.abs(factors[0]));
	}

	all({ withDrawings, travel, factors }: GltfChoices, hasModel: boolean): Track[] {
		const looks = withDrawings
			? [
					...[...surfacesOf(this.part)].map(([surface, hex]) => this.surface(surface, hex)),
					this.size(),
					hasModel ? this.weights() : null,
				]
			: [];
		return [
			...looks,
			this.fieldOfView(),
			this.visible(),
			travel === 'above' ? this.travel(factors) : null,
			...this.numbers(),
		].filter((track) => track !== null);
	}
}

/** Without drawings there are no materials, and nothing that has a size. */
export function ownTracksOf(
	compiled: CompiledClip,
	part: Part,
	choices: GltfChoices,
	hasModel: boolean,
): Track[] {
	return new OwnTracks(compiled, part).all(choices, hasModel);
}
