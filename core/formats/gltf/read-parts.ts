/** The nodes of a glTF file as parts. */
import type { Document, Node as GltfNode } from '@gltf-transform/core';
import type { Visibility } from '@gltf-transform/extensions';
import { generateKeyBetween } from 'fractional-indexing';
import { srgbFromLinear } from '../../../player/maths/colour';
import { toEuler, type Quaternion } from '../../../player/maths/quaternion';
import type { Vec3 } from '../../../player/maths/vector';
import { MOST_WEIGHTS, type Part } from '../../document/types';
import { writeHex } from '../../pose/hex';
import { shortName } from '../../text';

/** What is known of a file while its nodes are read. */
export interface Reading {
	document: Document;
	/** Where the project keeps the file; null where it does not. */
	asset: string | null;
	ids: Map<GltfNode, string>;
	leftOut: string[];
}

/** A part a node, in the order of the scene; what a node has and a part cannot is told. */
export function partsOf(reading: Reading): Record<string, Part> {
	const { document, ids, leftOut } = reading;
	const parts: Record<string, Part> = {};
	let order: string | null = null;
	const visit = (node: GltfNode, parent: string | null): void => {
		const id = `n${ids.size}`;
		ids.set(node, id);
		order = generateKeyBetween(order, null);
		parts[id] = {
			type: 'part',
			id,
			name: shortName(node.getName(), 120, `node ${ids.size}`),
			parent,
			order,
			drawing: drawingOf(node, reading),
			colour: reading.asset && node.getMesh() ? '#ffffff' : colourOf(node),
			rest: {
				translation: [...node.getTranslation()] as Vec3,
				rotation: toEuler(node.getRotation() as Quaternion, 'XYZ'),
				scale: restScale(node),
				opacity: 1,
			},
			eulerOrder: 'XYZ',
			visible: node.getExtension<Visibility>('KHR_node_visibility')?.getVisible() ?? true,
		};
		if (node.getSkin()) leftOut.push(`${parts[id].name}: its skin`);
		for (const child of node.listChildren()) visit(child, id);
	};
	const scene = document.getRoot().getDefaultScene() ?? document.getRoot().listScenes()[0];
	for (const node of scene?.listChildren() ?? []) visit(node, null);
	return parts;
}

/** The scale of a node; one of 0 that hides what a switch hides too says nothing. */
function restScale(node: GltfNode): Vec3 {
	const scale = node.getScale();
	return node.getExtension('KHR_node_visibility') && scale.every((v) => v === 0) ? [1, 1, 1] : [...scale];
}

/** The node's mesh, or a box as large where the file is not kept; a camera where it is one. */
function drawingOf(node: GltfNode, { document, asset, leftOut }: Reading): Part['drawing'] {
	const mesh = node.getMesh();
	const camera = node.getCamera();
	if (camera && !mesh) {
		const yfov = camera.getType() === 'perspective' ? camera.getYFov() : null;
		if (yfov === null) leftOut.push(`${node.getName()}: its camera sees in parallel, here in perspective`);
		const degrees = yfov === null ? 40 : (yfov * 180) / Math.PI;
		return { kind: 'camera', fieldOfView: Math.min(170, Math.max(1, degrees)), offset: [0, 0, 0] };
	}
	if (camera) leftOut.push(`${node.getName()}: its camera, beside a mesh`);
	const low = [Infinity, Infinity, Infinity];
	const high = [-Infinity, -Infinity, -Infinity];
	for (const primitive of mesh?.listPrimitives() ?? []) {
		const position = primitive.getAttribute('POSITION');
		position?.getMin([]).forEach((v, i) => (low[i] = Math.min(low[i], v)));
		position?.getMax([]).forEach((v, i) => (high[i] = Math.max(high[i], v)));
	}
	if (!mesh || low[0] === Infinity) return { kind: 'empty', offset: [0, 0, 0] };
	const size = high.map((h, i) => h - low[i]) as Vec3;
	const offset = high.map((h, i) => (h + low[i]) / 2) as Vec3;
	if (asset === null) {
		leftOut.push(`${node.getName()}: its mesh is drawn as a box of the same size`);
		return { kind: 'box', size, offset };
	}
	const all = mesh.listPrimitives()[0]?.listTargets() ?? [];
	if (all.length > MOST_WEIGHTS)
		leftOut.push(`${node.getName()}: morph targets after the first ${MOST_WEIGHTS} of ${all.length}`);
	const targets = all.slice(0, MOST_WEIGHTS);
	const given = node.getWeights().length > 0 ? node.getWeights() : mesh.getWeights();
	return {
		kind: 'model',
		asset,
		mesh: document.getRoot().listMeshes().indexOf(mesh),
		size,
		weights: targets.map((_, i) => given[i] ?? 0),
		// A target without a name gets its number.
		targets: targets
			.map((target) => target.getName())
			.map((own, i) => (own === `${i}` ? '' : shortName(own, 120))),
		offset,
	};
}

function colourOf(node: GltfNode): string {
	const factor = node.getMesh()?.listPrimitives()[0]?.getMaterial()?.getBaseColorFactor() ?? [
		0.1, 0.14, 0.17, 1,
	];
	return writeHex(factor.map(srgbFromLinear));
}
