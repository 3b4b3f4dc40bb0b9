/** The materials of drawings: shared where nothing changes them, their own where a clip does. */
import type { Document, Material, Texture } from '@gltf-transform/core';
import { KHRMaterialsUnlit } from '@gltf-transform/extensions';
import { linearFromSrgb } from '../../../player/maths/colour';
import type { Part } from '../../document/types';
import { parseHex } from '../../pose/hex';
import type { Space } from '../../pose/space';
import { surfacesOf, type Surface } from './own-tracks';

/** A colour as glTF counts it: linear light, with an alpha. */
export function colourFactor(colour: string, opacity: number): [number, number, number, number] {
	const [r, g, b] = parseHex(colour).map(linearFromSrgb);
	return [r, g, b, opacity];
}

export class Materials {
	/** Of surfaces that change, by `part surface`: a model may have several. */
	readonly own = new Map<string, readonly Material[]>();
	private readonly shared = new Map<string, Material>();

	constructor(
		private readonly document: Document,
		private readonly space: Space,
	) {}

	/** Materials of the surfaces of a part that some clip changes: nobody shares them. */
	addOwn(part: Part, isMoved: (surface: Surface) => boolean, nameOf: (surface: Surface) => string): void {
		for (const [surface, colour] of surfacesOf(part)) {
			if (!isMoved(surface)) continue;
			const material = this.create(nameOf(surface), colour, part.rest.opacity).setAlphaMode('BLEND');
			this.own.set(`${part.id} ${surface}`, [material]);
		}
	}

	of({ id, rest: { opacity } }: Part, surface: Surface, colour: string): Material {
		const key = `${colour}/${opacity}`;
		const known = this.own.get(`${id} ${surface}`)?.[0] ?? this.shared.get(key);
		if (known) return known;
		const material = this.create(colour, colour, opacity);
		if (opacity < 1) material.setAlphaMode('BLEND');
		this.shared.set(key, material);
		return material;
	}

	/** One that shows a picture, tinted by its part. */
	pictured(part: Part, name: string, texture: Texture): Material {
		const own = this.own.get(`${part.id} colour`)?.[0];
		const material = own ?? this.create(name, part.colour, part.rest.opacity);
		return material.setBaseColorTexture(texture).setAlphaMode('BLEND');
	}

	private create(name: string, colour: string, opacity: number): Material {
		const material = this.document
			.createMaterial(name)
			.setBaseColorFactor(colourFactor(colour, opacity))
			.setMetallicFactor(0)
			.setRoughnessFactor(0.9)
			.setDoubleSided(true);
		// What stands on a screen has its own colours, whatever light falls on it.
		if (this.space === 'interface')
			material.setExtension(
				'KHR_materials_unlit',
				this.document.createExtension(KHRMaterialsUnlit).createUnlit(),
			);
		return material;
	}
}
