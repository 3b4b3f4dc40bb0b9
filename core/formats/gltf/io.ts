/** What reads and writes glTF, with the extensions that files of this application have. */
import { WebIO } from '@gltf-transform/core';
import { KHRMaterialsUnlit } from '@gltf-transform/extensions';
import { AnimationPointer } from './pointer';

export function newIO(): WebIO {
	return new WebIO().registerExtensions([AnimationPointer, KHRMaterialsUnlit]);
}
