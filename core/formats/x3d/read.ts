/**
 * X3D scenes as parts and clips: transforms with what they show, a clip for each time sensor, channels for what its routes
 * lead to. Source: ISO/IEC 19775-1, 4.4.8 (routes), 8 (time), 19 (interpolation).
 */
import { toEuler, type Quaternion } from '../../../player/maths/quaternion';
import type { Vec3 } from '../../../player/maths/vector';
import { TICKS_PER_SECOND } from '../../../player/time';
import type { Key } from '../../curve/types';
import { AXES, type Drawing, type Part, type Property } from '../../document/types';
import type { Sampler } from '../../fit/sampler';
import { writeHex } from '../../pose/hex';
import type { Result } from '../../result';
import type { FileIn, TakenIn } from '../format';
import { textOf } from '../head';
import { eulerKeys, vectorKeys } from '../gltf/read-keys';
import { Incoming } from '../incoming/document';
import { numbersIn, readXml, type Element } from '../xml';
import { ALL } from './write';
import { interpolatorSampler, isInterpolator, nodesOf, quaternionOf } from './interpolators';

const GROUPS = new Set([
	'Transform',
	'Group',
	'Scene',
	'X3D',
	'Anchor',
	'Collision',
	'StaticGroup',
	'Switch',
]);
/** What is read elsewhere, or says nothing of what is seen. */
const SILENT = new Set([
	'head',
	'ROUTE',
	'TimeSensor',
	'TouchSensor',
	'WorldInfo',
	'NavigationInfo',
	'Background',
	'meta',
	'component',
]);

const vector = (text: string | undefined, without: Vec3): Vec3 => {
	const all = numbersIn(text ?? '');
	return all.length === 3 ? (all as unknown as Vec3) : without;
};
const number = (text: string | undefined, without: number): number => {
	const value = Number(text ?? without);
	return Number.isFinite(value) ? value : without;
};

/** A node by its name, or the one that it says it is. */
class Scene {
	readonly named = new Map<string, Element>();
	constructor(readonly nodes: readonly Element[]) {
		for (const node of nodes) if (node.attributes.DEF) this.named.set(node.attributes.DEF, node);
	}
	of(node: Element): Element {
		return this.named.get(node.attributes.USE ?? '') ?? node;
	}
}

const within = (node: Element, tag: string) => nodesOf(node).find((own) => own.tag === tag);

/** The solid that a shape's geometry is, or a box as large. */
function drawingOf(geometry: Element, told: (what: string) => void): Drawing | null {
	const { attributes: own, tag } = geometry;
	const offset: Vec3 = [0, 0, 0];
	switch (tag) {
		case 'Box':
			return { kind: 'box', size: vector(own.size, [2, 2, 2]), offset };
		case 'Sphere': {
			const side = 2 * number(own.radius, 1);
			return { kind: 'ball', size: [side, side, side], offset };
		}
		case 'Cylinder':
		case 'Cone': {
			const side = 2 * number(tag === 'Cone' ? own.bottomRadius : own.radius, 1);
			return {
				kind: tag === 'Cone' ? 'cone' : 'cylinder',
				size: [side, number(own.height, 2), side],
				offset,
			};
		}
		case 'Text':
			return {
				kind: 'label',
				text: (own.string ?? '').replace(/^"|"$/g, '').slice(0, 200) || 'Text',
				size: [1, 0.5, 0],
				offset,
			};
		default: {
			const points = numbersIn(
				nodesOf(geometry).find((node) => node.tag === 'Coordinate')?.attributes.point ?? '',
			);
			if (points.length < 9) return null;
			const [low, high] = [[...points.slice(0, 3)], [...points.slice(0, 3)]];
			points.forEach((v, i) => {
				low[i % 3] = Math.min(low[i % 3], v);
				high[i % 3] = Math.max(high[i % 3], v);
			});
			told('its mesh is a box of the same size');
			return {
				kind: 'box',
				size: high.map((v, k) => Math.max(v - low[k], 1e-4)) as Vec3,
				offset: high.map((v, k) => (v + low[k]) / 2) as Vec3,
			};
		}
	}
}

/** What a route leads to, and what it is of. */
interface Aim {
	part: string;
	property: Property;
	isClearness?: boolean;
}

class X3dReader {
	private readonly incoming: Incoming;
	private readonly scene: Scene;
	private readonly aims = new Map<string, Aim>();

	constructor(
		private readonly root: Element,
		name: string,
	) {
		this.incoming = new Incoming(name, 'world', 30);
		this.scene = new Scene(nodesOf(root));
	}

	private aim(node: Element, field: string, aim: Aim): void {
		if (node.attributes.DEF) this.aims.set(`${node.attributes.DEF} ${field}`, aim);
	}

	private walk(given: Element, parent: string | null): void {
		const node = this.scene.of(given);
		const { tag, attributes: own } = node;
		if (SILENT.has(tag) || /(Interpolator|Sequencer|Sensor)$/.test(tag)) return;
		if (tag === 'Shape') this.shape(node, parent);
		else if (tag === 'Viewpoint' && own.DEF === ALL) return;
		else if (tag === 'Viewpoint') this.camera(node, parent);
		else if (tag === 'Transform') {
			const part = this.transform(node, parent);
			for (const child of node.children) this.walk(child, part.id);
		} else if (GROUPS.has(tag)) {
			if (own.USE !== undefined && node === given) return;
			for (const child of node.children) this.walk(child, parent);
		} else this.incoming.leftOut.push(`<${tag}>`);
	}

	private transform(node: Element, parent: string | null): Part {
		const { attributes: own } = node;
		const turn = numbersIn(own.rotation ?? '0 0 1 0');
		const rotation = toEuler(
			quaternionOf(turn.length === 4 ? turn : [0, 0, 1, 0]) as unknown as Quaternion,
			'XYZ',
		);
		const name = own.DEF ?? 'group';
		const centre = vector(own.center, [0, 0, 0]);
		const translation = vector(own.translation, [0, 0, 0]).map((v, k) => v + centre[k]) as Vec3;
		const scale = vector(own.scale, [1, 1, 1]);
		const part = this.incoming.addPart(name, { parent, rest: { translation, rotation, scale } });
		if (centre.some((v) => v !== 0)) this.incoming.leftOut.push(`${name}: its centre`);
		this.aim(node, 'translation', { part: part.id, property: 'translation' });
		this.aim(node, 'rotation', { part: part.id, property: 'rotation' });
		this.aim(node, 'scale', { part: part.id, property: 'scale' });
		this.aim(node, 'visible', { part: part.id, property: 'visible' });
		return part;
	}

	/** A shape is what its transform shows, where that has nothing yet; else a part below it. */
	private shape(node: Element, parent: string | null): void {
		const above = parent === null ? undefined : this.incoming.parts.get(parent);
		const geometry = node.children
			.map((child) => this.scene.of(child))
			.find(({ tag }) => tag !== 'Appearance');
		const told = (what: string) => void this.incoming.leftOut.push(`${above?.name ?? 'a shape'}: ${what}`);
		const drawing = geometry ? drawingOf(geometry, told) : null;
		if (!drawing) return;
		const material =
			within(node, 'Material') ?? within(node, 'UnlitMaterial') ?? within(node, 'PhysicalMaterial');
		const own = material ? this.scene.of(material) : undefined;
		const emissive = vector(own?.attributes.emissiveColor, [0, 0, 0]);
		const plain = vector(own?.attributes.diffuseColor ?? own?.attributes.baseColor, [0.8, 0.8, 0.8]);
		const colour = writeHex([...(emissive.some((v) => v > 0) ? emissive : plain), 1]);
		const opacity = 1 - number(own?.attributes.transparency, 0);
		const isFree = above?.drawing.kind === 'empty';
		const part = isFree
			? this.incoming.changePart(above.id, { drawing, colour, rest: { ...above.rest, opacity } })
			: this.incoming.addPart(node.attributes.DEF ?? 'shape', { parent, drawing, colour, rest: { opacity } });
		if (!own) return;
		for (const field of ['diffuseColor', 'emissiveColor', 'baseColor'])
			this.aim(own, field, { part: part.id, property: 'colour' });
		this.aim(own, 'transparency', { part: part.id, property: 'opacity', isClearness: true });
	}

	private camera(node: Element, parent: string | null): void {
		const { attributes: own } = node;
		const degrees = (number(own.fieldOfView, Math.PI / 4) * 180) / Math.PI;
		const above = parent === null ? undefined : this.incoming.parts.get(parent);
		const drawing: Drawing = {
			kind: 'camera',
			fieldOfView: Math.min(170, Math.max(1, degrees)),
			offset: [0, 0, 0],
		};
		const isFree =
			above?.drawing.kind === 'empty' && own.position === '0 0 0' && own.orientation === undefined;
		const turn = numbersIn(own.orientation ?? '0 0 1 0');
		const part = isFree
			? this.incoming.changePart(above.id, { drawing })
			: this.incoming.addPart(own.description || own.DEF || 'view', {
					parent,
					drawing,
					rest: {
						translation: vector(own.position, [0, 0, 10]),
						rotation: toEuler(quaternionOf(turn) as unknown as Quaternion, 'XYZ'),
					},
				});
		this.aim(node, 'fieldOfView', { part: part.id, property: 'fieldOfView' });
		this.aim(node, 'position', { part: part.id, property: 'translation' });
		this.aim(node, 'orientation', { part: part.id, property: 'rotation' });
	}

	/** The clips of time sensors, by the routes that lead on from them. */
	private clips(): void {
		const routes = this.scene.nodes.filter(({ tag }) => tag === 'ROUTE').map(({ attributes }) => attributes);
		const plain = (field: string | undefined) => (field ?? '').replace(/^set_|_changed$/g, '');
		for (const sensor of this.scene.nodes.filter(({ tag }) => tag === 'TimeSensor')) {
			const { DEF = '', cycleInterval, loop, description } = sensor.attributes;
			const seconds = Math.max(1e-4, number(cycleInterval, 1));
			const name = description || DEF || 'clip';
			const mode = loop === 'true' || loop === 'TRUE' ? 'repeat' : 'once';
			const driven = routes
				.filter(({ fromNode }) => fromNode === DEF && DEF !== '')
				.flatMap(({ toNode }) => this.scene.named.get(toNode) ?? []);
			const moving = driven.filter((node) => {
				if (isInterpolator(node)) return true;
				this.incoming.leftOut.push(`${name}: ${node.tag} ${node.attributes.DEF}`);
				return false;
			});
			if (moving.length === 0) continue;
			const clip = this.incoming.clip(name, seconds * TICKS_PER_SECOND, { mode, count: null, pause: 0 }).id;
			for (const node of moving)
				for (const route of routes.filter(({ fromNode }) => fromNode === node.attributes.DEF)) {
					const aim = this.aims.get(`${route.toNode} ${plain(route.toField)}`);
					if (aim) this.channels(clip, aim, interpolatorSampler(node, seconds));
					else this.incoming.leftOut.push(`${name}: ${route.toNode}.${route.toField}`);
				}
		}
	}

	private channels(clip: string, { part, property, isClearness }: Aim, sampler: Sampler): void {
		const add = (component: string, keys: Key[]) =>
			this.incoming.addChannel({ clip, part, property, component: component as never, keys });
		if (sampler.times.length === 0) return;
		if (property === 'rotation' && sampler.size === 4)
			eulerKeys(sampler).forEach((keys, k) => add(AXES[k], keys));
		else if (property === 'colour' && sampler.size === 3) {
			const all = [0, 1, 2].map((k) => vectorKeys(sampler, k));
			const keys = all[0].map((key, i): Key => ({
				t: key.t,
				v: 0,
				shape: key.shape,
				vector: [key.v, all[1][i]?.v ?? 0, all[2][i]?.v ?? 0, 1],
			}));
			this.incoming.addChannel({ clip, part, property, keys, colourSpace: 'srgb' });
		} else if (sampler.size === 1) {
			const values = sampler.values.map((v) =>
				isClearness ? 1 - v : property === 'fieldOfView' ? (v * 180) / Math.PI : v,
			);
			add('value', vectorKeys({ ...sampler, values }, 0));
		} else if (sampler.size === 3) AXES.forEach((axis, k) => add(axis, vectorKeys(sampler, k)));
	}

	read(): Result<TakenIn> {
		this.walk(this.root, null);
		this.clips();
		return this.incoming.finish('No time sensor in this scene moves anything that is known.');
	}
}

export async function takeX3d({ bytes, name }: FileIn): Promise<Result<TakenIn>> {
	const text = textOf(bytes);
	if (!text.ok) return text;
	const root = readXml(text.value, 'X3D');
	return root.ok ? new X3dReader(root.value, name).read() : root;
}
