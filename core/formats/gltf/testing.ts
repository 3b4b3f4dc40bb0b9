/** For tests and benchmarks: clips as glTF, and what of them a file must say. */
import { compileClip } from '../../clip/compile';
import type { Clip, Doc } from '../../document/types';
import { shipClips, type Shipped, type ShipOptions, type Switches } from '../../tracks/ship';
import { tracksOf, type Track } from '../../tracks/track';
import { gltfShipping } from './shipping';

export function shipGltf(doc: Doc, clips: readonly Clip[], options?: ShipOptions): Promise<Shipped> {
	return shipClips(gltfShipping, doc, clips, options);
}

/** Everything that glTF can say of a clip, with these switches. */
export function gltfTracks(doc: Doc, clip: Clip, switches: Switches = {}): Track[] {
	return tracksOf(doc, compileClip(doc, clip), gltfShipping.terms(doc, { switches })).tracks;
}
