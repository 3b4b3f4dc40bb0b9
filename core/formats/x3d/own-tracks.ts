/** What X3D says of a part beside its place: the colours and the clearness of its material, the view of its camera. */
import { evaluateVector } from '../../../player/curve/vector';
import { placeOf } from '../../../player/layout';
import type { CompiledClip } from '../../clip/compile';
import { mergePieces, piecesOver } from '../../clip/trace';
import type { Part } from '../../document/types';
import { parseHex } from '../../pose/hex';
import type { Source } from '../../fit/source';
import { OwnSources } from '../../tracks/own-sources';
import type { Track } from '../../tracks/track';
import { surfacesOf, followsPart, type Surface } from '../gltf/own-tracks';

const RADIANS = Math.PI / 180;

class X3dTracks extends OwnSources {
	/** sRGB, as X3D has colours. */
	private colour(surface: Surface): Track | null {
		const { compiled, part } = this;
		const at = followsPart(part, surface) ? placeOf(compiled.layout, part.id, 'colour') : -1;
		const own = at < 0 ? undefined : compiled.vectors.find(({ place }) => place === at);
		if (!own) return null;
		const values = new Float64Array(4);
		const source: Source = {
			size: 3,
			plain: true,
			start: 0,
			end: compiled.clip.length,
			pieces: piecesOver(own.channel, compiled.clip.length).map(({ t, jump }) => ({ t, jump })),
			evaluate(t, out) {
				evaluateVector(own.vector, t, values);
				for (let k = 0; k < 3; k++) out[k] = values[k];
			},
		};
		return this.track(surface, ['colour value'], source);
	}

	/** How clear a surface is: of its colour's alpha and the part's opacity. */
	private clearness(surface: Surface, hex: string): Track | null {
		const { compiled, part } = this;
		const opacity = this.trace('opacity', 'value');
		const at = followsPart(part, surface) ? placeOf(compiled.layout, part.id, 'colour') : -1;
		const colour = at < 0 ? undefined : compiled.vectors.find(({ place }) => place === at);
		if (!opacity && !colour) return null;
		const still = parseHex(hex)[3];
		const values = new Float64Array(4);
		const source = this.source([opacity], 1, (t, out) => {
			if (colour) evaluateVector(colour.vector, t, values);
			const alpha = colour ? values[3] : still;
			out[0] = 1 - alpha * (opacity ? opacity.read(t) : part.rest.opacity);
		});
		if (colour)
			source.pieces = mergePieces([
				source.pieces,
				piecesOver(colour.channel, compiled.clip.length).map(({ t, jump }) => ({ t, jump })),
			]);
		return this.track(
			surface === 'colour' ? 'transparency' : 'line transparency',
			opacity ? ['opacity value'] : [],
			source,
		);
	}

	private fieldOfView(): Track | null {
		const trace = this.part.drawing.kind === 'camera' ? this.trace('fieldOfView', 'value') : null;
		if (!trace) return null;
		const source = this.source([trace], 1, (t, out) => (out[0] = trace.read(t) * RADIANS));
		return this.track('fieldOfView', ['fieldOfView value'], source, RADIANS);
	}

	all(): Track[] {
		const surfaces = [...surfacesOf(this.part)].flatMap(([surface, hex]) => [
			this.colour(surface),
			this.clearness(surface, hex),
		]);
		return [...surfaces, this.fieldOfView()].filter((track) => track !== null);
	}
}

export function x3dTracksOf(compiled: CompiledClip, part: Part): Track[] {
	return new X3dTracks(compiled, part).all();
}
