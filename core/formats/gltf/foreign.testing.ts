/** For tests: files as readers see them that know nothing of this application. */
import { Logger, NodeIO } from '@gltf-transform/core';
import { NumberKeyframeTrack, QuaternionKeyframeTrack, VectorKeyframeTrack } from 'three';
import { sampleAt } from '../../fit/sampler';

export interface GltfJson {
	animations: {
		name: string;
		extras?: { hillock: { loop: { mode: string } } };
		channels: {
			sampler: number;
			target: { node?: number; path: string; extensions?: Record<string, { pointer: string }> };
		}[];
	}[];
	extensionsUsed?: string[];
	extensionsRequired?: string[];
	nodes: {
		name: string;
		children?: number[];
		mesh?: number;
		rotation?: number[];
		translation?: number[];
		extensions?: Record<string, unknown>;
	}[];
	scenes: { nodes: number[] }[];
}
export function jsonOf(glb: Uint8Array): GltfJson {
	const view = new DataView(glb.buffer, glb.byteOffset);
	return JSON.parse(new TextDecoder().decode(glb.subarray(20, 20 + view.getUint32(12, true)))) as GltfJson;
}
/** Knows no extension, and says nothing of it. */
const foreign = new NodeIO().setLogger(new Logger(Logger.Verbosity.SILENT));

/** What a pointer of RFC 6901 leads to. */
function resolve(json: unknown, pointer: string): unknown {
	return pointer
		.split('/')
		.slice(1)
		.reduce((at, key) => (at as Record<string, unknown>)[key], json);
}

/** Reads an animation's channels: where each leads, and its value at a time. */
export async function readChannels(glb: Uint8Array) {
	const json = jsonOf(glb);
	const animations = (await foreign.readBinary(glb)).getRoot().listAnimations();
	return json.animations.flatMap((own, i) =>
		own.channels.map(({ target }, j) => {
			const sampler = animations[i].listChannels()[j].getSampler()!;
			const times = sampler.getInput()!.getArray() as Float32Array;
			const values = sampler.getOutput()!.getArray() as Float32Array;
			const interpolation = sampler.getInterpolation();
			const size = values.length / times.length / (interpolation === 'CUBICSPLINE' ? 3 : 1);
			const turns = target.path === 'rotation';
			const Track = turns ? QuaternionKeyframeTrack : size === 1 ? NumberKeyframeTrack : VectorKeyframeTrack;
			const track = interpolation === 'CUBICSPLINE' ? null : new Track('any', [...times], [...values]);
			const straight =
				interpolation === 'STEP'
					? track?.InterpolantFactoryMethodDiscrete()
					: track?.InterpolantFactoryMethodLinear();
			const at = (seconds: number): number[] => {
				if (straight) return Array.from(straight.evaluate(seconds) as ArrayLike<number>);
				const out = new Float32Array(size);
				sampleAt({ interpolation, size, plain: !turns, times, values } as never, seconds, out);
				return [...out];
			};
			const pointer = target.extensions?.KHR_animation_pointer?.pointer ?? null;
			return {
				to: pointer ?? `${json.nodes[target.node!].name}/${target.path}`,
				there: pointer ? resolve(json, pointer) : null,
				at,
				interpolation,
				times: [...times],
			};
		}),
	);
}
