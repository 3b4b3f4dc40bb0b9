/** KHR_animation_pointer: channels that move what no node has. Source: Khronos, the extension's specification. */
import {
	Extension,
	type AnimationChannel,
	type Camera,
	type Material,
	type Node,
	type ReaderContext,
	type WriterContext,
} from '@gltf-transform/core';

const NAME = 'KHR_animation_pointer';

/** What a pointer leads to. */
export type Pointed = { material: Material } | { camera: Camera } | { node: Node };

interface ChannelJson {
	target: { path: string; node?: number; extensions?: Record<string, { pointer?: string }> };
}

const FACTOR = /^\/materials\/(\d+)\/pbrMetallicRoughness\/baseColorFactor$/;
const FIELD = /^\/cameras\/(\d+)\/perspective\/yfov$/;
const VISIBLE = /^\/nodes\/(\d+)\/extensions\/KHR_node_visibility\/visible$/;

function pointerOf(to: Pointed, context: WriterContext): string {
	if ('material' in to)
		return `/materials/${context.materialIndexMap.get(to.material)}/pbrMetallicRoughness/baseColorFactor`;
	if ('camera' in to) return `/cameras/${context.cameraIndexMap.get(to.camera)}/perspective/yfov`;
	return `/nodes/${context.nodeIndexMap.get(to.node)}/extensions/KHR_node_visibility/visible`;
}

export class AnimationPointer extends Extension {
	static override readonly EXTENSION_NAME = NAME;
	override readonly extensionName = NAME;
	private readonly pointed = new Map<AnimationChannel, Pointed>();

	/** Leads a channel to the colour of a material, the field of view of a camera, or whether a node is to be seen. */
	lead(channel: AnimationChannel, to: Pointed): void {
		// The library knows the paths of nodes only.
		channel.setTargetPath('pointer' as never);
		this.pointed.set(channel, to);
	}

	leadOf(channel: AnimationChannel): Pointed | null {
		return this.pointed.get(channel) ?? null;
	}

	write(context: WriterContext): this {
		const { animations = [] } = context.jsonDoc.json;
		for (const animation of this.document.getRoot().listAnimations()) {
			const json = animations[context.animationIndexMap.get(animation)!];
			animation.listChannels().forEach((channel, i) => {
				const to = this.pointed.get(channel);
				if (!to) return;
				(json.channels[i] as ChannelJson).target.extensions = {
					[NAME]: { pointer: pointerOf(to, context) },
				};
			});
		}
		// A pointer leads to what is there: factors are written out, those that are 1, too.
		for (const to of this.pointed.values())
			if ('material' in to) {
				const json = context.jsonDoc.json.materials![context.materialIndexMap.get(to.material)!];
				json.pbrMetallicRoughness = {
					...json.pbrMetallicRoughness,
					baseColorFactor: to.material.getBaseColorFactor(),
				};
			}
		return this;
	}

	read(context: ReaderContext): this {
		const root = this.document.getRoot();
		(context.jsonDoc.json.animations ?? []).forEach((json, i) => {
			const channels = root.listAnimations()[i].listChannels();
			json.channels.forEach((channel, j) => {
				const pointer = (channel as ChannelJson).target.extensions?.[NAME]?.pointer ?? '';
				const material = root.listMaterials()[Number(FACTOR.exec(pointer)?.[1] ?? -1)];
				const camera = root.listCameras()[Number(FIELD.exec(pointer)?.[1] ?? -1)];
				const node = root.listNodes()[Number(VISIBLE.exec(pointer)?.[1] ?? -1)];
				if (material) this.pointed.set(channels[j], { material });
				else if (camera) this.pointed.set(channels[j], { camera });
				else if (node) this.pointed.set(channels[j], { node });
			});
		});
		return this;
	}
}
