/** Parts and clips as a scene of X3D, XML encoding. Source: ISO/IEC 19775-1 and 19776-1, version 4.0. */
import { strToU8 } from 'fflate';
import { ticksToSeconds } from '../../../player/time';
import { fromEuler } from '../../../player/maths/quaternion';
import { restBox } from '../../drawing/rest-box';
import type { Part } from '../../document/types';
import { meshOf, strokeMeshOf } from '../../drawing/mesh';
import type { Mesh } from '../../drawing/triangles';
import type { Sampler } from '../../fit/sampler';
import { parseHex } from '../../pose/hex';
import { rotationFactors, translationFactors } from '../../pose/space';
import type { Prepared, PreparedClip, Written } from '../../tracks/ship';
import { hidingOf, type Track } from '../../tracks/track';
import { shortest } from '../gltf/compact';
import { meshWithin, welded } from '../gltf/meshes';
import { surfacesOf, type Surface } from '../gltf/own-tracks';
import { colourKeys } from './colour-keys';
import { defsOf, type Defs } from './defs';

const escaped = (text: string) =>
	text.replace(
		/[&<>"']/g,
		(sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&apos;' })[sign]!,
	);
const list = (values: ArrayLike<number>) => Array.from(values, (v) => shortest(v) + 0).join(' ');
/** Enough that two keys a hair apart stay two. */
const fraction = (v: number) => Number(v.toFixed(10));

/** An axis and an angle in radians. */
export function turnOf([x, y, z, w]: readonly number[]): number[] {
	const sine = Math.hypot(x, y, z);
	if (sine < 1e-12) return [0, 0, 1, 0];
	return [x / sine, y / sine, z / sine, 2 * Math.atan2(sine, w)];
}

/** What an interpolator of a track is, and which field it drives. */
export function driven({ path }: Pick<Track, 'path'>): { node: string; field: string } {
	switch (path) {
		case 'rotation':
			return { node: 'OrientationInterpolator', field: 'rotation' };
		case 'translation':
		case 'scale':
			return { node: 'PositionInterpolator', field: path };
		case 'colour':
		case 'stroke':
			return { node: 'ColorInterpolator', field: 'diffuseColor' };
		case 'fieldOfView':
			return { node: 'ScalarInterpolator', field: 'fieldOfView' };
		default:
			return { node: 'ScalarInterpolator', field: 'transparency' };
	}
}

/** What holds until the next key has a key a hair before that. */
function straightened(sampler: Sampler): Sampler {
	if (sampler.interpolation !== 'STEP') return sampler;
	const { size, times, values } = sampler;
	const all = Array.from(times).flatMap((t, i) => {
		const own = [...values.subarray(i * size, (i + 1) * size)];
		const before = [...values.subarray((i - 1) * size, i * size)];
		const hair = Math.fround(t) - Math.max(2 ** -24, t * 2 ** -23);
		const isNew = i > 0 && own.some((v, k) => v !== before[k]) && hair > times[i - 1];
		return [...(isNew ? [{ t: hair, v: before }] : []), { t, v: own }];
	});
	return {
		...sampler,
		interpolation: 'LINEAR',
		times: Float32Array.from(all, ({ t }) => t),
		values: Float32Array.from(all.flatMap(({ v }) => v)),
	};
}

/** The view of all, which is none of the project's. */
export const ALL = 'view.all';
const VIEW_ANGLE = Math.PI / 4;
const VIEW_MARGIN = 1.15;

class X3dWriter {
	private readonly defs: Defs;
	private readonly lines: string[] = [];
	private readonly children = new Map<string | null, Part[]>();

	constructor(private readonly prepared: Prepared) {
		this.defs = defsOf(prepared);
		for (const part of prepared.parts)
			this.children.set(part.parent, [...(this.children.get(part.parent) ?? []), part]);
	}

	private line(depth: number, text: string): void {
		this.lines.push('\t'.repeat(depth) + text);
	}

	/** A surface of a part; of one that is never seen its material alone, which clips may lead to. */
	private shape(part: Part, mesh: Mesh | null, surface: Surface, hex: string, depth: number): void {
		const { space } = this.prepared.doc.project;
		const [r, g, b, alpha] = parseHex(hex);
		// What stands on a screen has its own colours, whatever light falls on it.
		const isUnlit = space === 'interface';
		const rgb = list([r, g, b]);
		const colour = isUnlit ? `diffuseColor='0 0 0' emissiveColor='${rgb}'` : `diffuseColor='${rgb}'`;
		const clear = 1 - alpha * part.rest.opacity;
		const transparency = clear > 0 ? ` transparency='${list([clear])}'` : '';
		const def = this.defs.material(part.id, surface);
		this.line(depth, '<Shape>');
		this.line(
			depth + 1,
			`<Appearance><Material DEF='${def}' ${colour} specularColor='0 0 0' ambientIntensity='${isUnlit ? 0 : 0.4}'${transparency}/></Appearance>`,
		);
		if (mesh) {
			const { positions, normals, indices } = welded(meshWithin(mesh, translationFactors(space)));
			this.line(depth + 1, `<IndexedTriangleSet solid='false' index='${indices.join(' ')}'>`);
			this.line(depth + 2, `<Coordinate point='${list(positions)}'/><Normal vector='${list(normals)}'/>`);
			this.line(depth + 1, '</IndexedTriangleSet>');
		}
		this.line(depth, '</Shape>');
	}

	/** The opening of a part's transform. */
	private transform({ id, rest, eulerOrder, visible }: Part, isSwitched: boolean): string {
		const { space } = this.prepared.doc.project;
		const [factors, turns] = [translationFactors(space), rotationFactors(space)];
		const euler = rest.rotation.map((angle, k) => angle * turns[k]) as [number, number, number];
		const fields = [
			['translation', list(rest.translation.map((v, k) => v * factors[k])), '0 0 0'],
			['rotation', list(turnOf(fromEuler(euler, eulerOrder))), '0 0 1 0'],
			['scale', list(visible || !isSwitched ? rest.scale : [0, 0, 0]), '1 1 1'],
		];
		const told = fields
			.filter(([, value, without]) => value !== without)
			.map(([name, value]) => ` ${name}='${value}'`);
		return `<Transform DEF='${this.defs.part(id)}'${told.join('')}>`;
	}

	private part(part: Part, depth: number, isHidden: boolean): void {
		const { doc, clips, terms } = this.prepared;
		const { space } = doc.project;
		const { id, visible, drawing } = part;
		const isSwitched = clips.some(({ compiled }) => hidingOf(compiled, part, terms) !== null);
		const hidden = isHidden || (!visible && !isSwitched);
		this.line(depth, this.transform(part, isSwitched));
		const tap = this.tapOf(id);
		if (tap) this.line(depth + 1, `<TouchSensor DEF='${tap}' description='${escaped(part.name)}'/>`);
		const meshes = { colour: meshOf(drawing, space), stroke: strokeMeshOf(drawing, space) };
		for (const [surface, hex] of surfacesOf(part))
			this.shape(part, hidden ? null : meshes[surface], surface, hex, depth + 1);
		if (drawing.kind === 'camera') {
			const angle = (drawing.fieldOfView * Math.PI) / 180;
			this.line(
				depth + 1,
				`<Viewpoint DEF='${this.defs.camera(id)}' description='${escaped(part.name)}' position='0 0 0' fieldOfView='${list([angle])}'/>`,
			);
		}
		for (const child of this.children.get(id) ?? []) this.part(child, depth + 1, hidden);
		this.line(depth, '</Transform>');
	}

	/** The sensor of a part that starts clips when it is touched; null where none does. */
	private tapOf(part: string): string | null {
		return this.taps().some(([own]) => own === part) ? this.defs.tap(part) : null;
	}

	/** Parts that start clips: those that triggers say; clips that play once, by what they move first. */
	private taps(): [part: string, clip: PreparedClip][] {
		const { doc, clips } = this.prepared;
		const said = Object.values(doc.triggers).flatMap(({ when, then }): [string, PreparedClip][] => {
			const clip = then.kind === 'play' ? clips.find((own) => own.clip.id === then.clip) : undefined;
			return when.kind === 'tap' && clip ? [[when.part, clip]] : [];
		});
		const once = clips.filter(({ clip, encoded }) => clip.loop.mode === 'once' && encoded.length > 0);
		const others = once.filter((own) => !said.some(([, clip]) => clip === own));
		return [...said, ...others.map((own): [string, PreparedClip] => [own.encoded[0].track.part.id, own])];
	}

	private clip(own: PreparedClip, isFirst: boolean): void {
		const { clip, encoded, name, end } = own;
		if (encoded.length === 0) return;
		const loops = clip.loop.mode !== 'once' && clip.loop.count === null;
		const period = ticksToSeconds(end + (loops ? clip.loop.pause : 0));
		const timer = this.defs.clip(clip.id);
		this.line(2, `<!-- ${name.replaceAll('--', '- -')} -->`);
		this.line(
			2,
			`<TimeSensor DEF='${timer}' description='${escaped(name)}' cycleInterval='${Number(period.toFixed(7))}' loop='${loops}'${loops && !isFirst ? " enabled='false'" : ''}/>`,
		);
		for (const { track, sampler: fitted, bound } of encoded) {
			const isColour = track.path === 'colour' || track.path === 'stroke';
			const sampler = straightened(isColour ? colourKeys(track.source, bound) : fitted);
			const { node, field } = driven(track);
			const { size, times, values } = sampler;
			const rows = Array.from(times, (_, i) => values.subarray(i * size, (i + 1) * size));
			const text = rows.map((row) => list(size === 4 ? turnOf([...row]) : row)).join(' ');
			const def = this.defs.track(track.id);
			const target = this.defs.target(track);
			const isUnlit = isColour && this.prepared.doc.project.space === 'interface';
			const keys = Array.from(times, (t) => fraction(Math.min(1, t / period))).join(' ');
			this.line(2, `<${node} DEF='${def}' key='${keys}' keyValue='${text}'/>`);
			this.line(
				2,
				`<ROUTE fromNode='${timer}' fromField='fraction_changed' toNode='${def}' toField='set_fraction'/>`,
			);
			this.line(
				2,
				`<ROUTE fromNode='${def}' fromField='value_changed' toNode='${target}' toField='${isUnlit ? 'emissiveColor' : field}'/>`,
			);
		}
	}

	/** What is behind it all, and where all of it is seen from: first, unless the project has a camera. */
	private view(): string[] {
		const { doc, parts } = this.prepared;
		const { space } = doc.project;
		const lines = [`\t\t<Background skyColor='0.9 0.93 0.92'/>`];
		const box = restBox(parts, space);
		if (!box || parts.some(({ drawing }) => drawing.kind === 'camera')) return lines;
		const factors = translationFactors(space);
		const middle = box.low.map((v, k) => ((v + box.high[k]) / 2) * factors[k]);
		const half = box.low.map((v, k) => (Math.abs(box.high[k] - v) / 2) * Math.abs(factors[k]));
		const away = half[2] + (VIEW_MARGIN * Math.max(half[0], half[1], 0.1)) / Math.tan(VIEW_ANGLE / 2);
		const at = list([middle[0], middle[1], middle[2] + away]);
		const about = `centerOfRotation='${list(middle)}' fieldOfView='${list([VIEW_ANGLE])}'`;
		return [...lines, `\t\t<Viewpoint DEF='${ALL}' description='all' position='${at}' ${about}/>`];
	}

	text(): string {
		const { doc, clips } = this.prepared;
		this.lines.push(
			'<?xml version="1.0" encoding="UTF-8"?>',
			'<!DOCTYPE X3D PUBLIC "ISO//Web3D//DTD X3D 4.0//EN" "https://www.web3d.org/specifications/x3d-4.0.dtd">',
			"<X3D profile='Interchange' version='4.0'>",
			`\t<head><component name='Grouping' level='1'/><component name='PointingDeviceSensor' level='1'/><meta name='generator' content='Hillock'/><meta name='title' content='${escaped(doc.project.name)}'/></head>`,
			'\t<Scene>',
		);
		this.lines.push(...this.view());
		for (const part of this.children.get(null) ?? []) this.part(part, 2, false);
		const first = clips.find(({ encoded }) => encoded.length > 0);
		for (const own of clips) this.clip(own, own === first);
		for (const [part, { clip, encoded }] of this.taps())
			if (encoded.length > 0)
				this.line(
					2,
					`<ROUTE fromNode='${this.defs.tap(part)}' fromField='touchTime' toNode='${this.defs.clip(clip.id)}' toField='startTime'/>`,
				);
		this.lines.push('\t</Scene>', '</X3D>', '');
		return this.lines.join('\n');
	}
}

/** What of the parts themselves is drawn plainer. */
function plainerIn(parts: readonly Part[]): string[] {
	return parts.flatMap(({ name, drawing }) => {
		const kinds = ['model', 'image', 'label'];
		return [
			...(kinds.includes(drawing.kind)
				? [`${name}: its ${drawing.kind} is a plain ${drawing.kind === 'model' ? 'box' : 'card'}`]
				: []),
			...(drawing.pattern ? [`${name}: its quarters have one colour`] : []),
			...(drawing.reveal ? [`${name}: it is revealed in part, here whole`] : []),
		];
	});
}

export async function writeX3d(prepared: Prepared): Promise<Written & { plainer: string[] }> {
	return { bytes: strToU8(new X3dWriter(prepared).text()), plainer: plainerIn(prepared.parts) };
}
