/** Scenes of X3D: what is written is read by hand as the standard says it, and comes in again. */
import { strFromU8, strToU8 } from 'fflate';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeParcelSlip } from '../../../demo/parcel-slip';
import { makeQuay } from '../../../demo/quay';
import { hold, linear, ONCE, ProjectBuilder } from '../../../demo/builder';
import { angleBetween } from '../../../player/maths/quaternion';
import { between } from '../../../player/testing';
import { TICKS_PER_SECOND } from '../../../player/time';
import { orientationIn, vectorIn } from '../../clip/layout';
import { clipsInOrder } from '../../document/types';
import { worstShare } from '../../tracks/report';
import { shownAt } from '../../testing';
import { loadShipper, takeIn } from '../loaders';
import { formatOf, shippingFormat } from '../registry';
import { colourKeys } from './colour-keys';

const ship = async (...[doc, clips, options]: Parameters<Awaited<ReturnType<typeof loadShipper>>['ship']>) =>
	(await loadShipper(shippingFormat('x3d')!)).ship(doc, clips, options);

async function take(bytes: Uint8Array) {
	const format = formatOf(bytes, 'scene.x3d');
	expect(format?.id).toBe('x3d');
	const taken = await takeIn(format, { bytes, name: 'scene', sha256: '' });
	if (!taken.ok) throw new Error(taken.problems[0].message);
	return taken.value;
}

describe('a scene of X3D', () => {
	it.each([
		['Quay', makeQuay()],
		['Parcel slip', makeParcelSlip()],
	])('of %s keeps the bound, and comes in as the same motion', async (_, doc) => {
		const clips = clipsInOrder(doc);
		const shipped = await ship(doc, clips, { bounds: { relative: 0.001 } });
		expect(worstShare(shipped)).toBeLessThanOrEqual(1);
		const { doc: back } = await take(shipped.bytes);
		const flip = doc.project.space === 'interface' ? -1 : 1;
		const unit = doc.project.space === 'interface' ? 0.01 : 1;
		let looked = 0;
		for (const clip of clips) {
			const twin = clipsInOrder(back).find(({ name }) => name === clip.name);
			if (!twin) continue;
			for (const share of [0.13, 0.41, 0.77]) {
				const ours = shownAt(doc, clip.id, share * clip.length).posed;
				const theirs = shownAt(back, twin.id, share * clip.length).posed;
				for (const part of Object.values(doc.parts)) {
					const other = Object.values(back.parts).find(({ name }) => name === part.name.replaceAll(' ', '_'));
					if (!other || (other.parent === null) !== (part.parent === null)) continue;
					const [x, y, z, w] = orientationIn(ours, part);
					expect(angleBetween([flip * x, y, flip * z, w], orientationIn(theirs, other))).toBeLessThan(0.25);
					const [was, is] = [vectorIn(ours, part, 'translation'), vectorIn(theirs, other, 'translation')];
					is.forEach((v, k) =>
						expect(
							Math.abs(v - was[k] * unit * (k === 1 ? flip : 1)),
							`${clip.name} ${part.name}`,
						).toBeLessThan(0.02),
					);
					looked++;
				}
			}
		}
		expect(looked).toBeGreaterThan(100);
	});

	it('says what loops, what a tap starts, and how clear and how coloured a part is', async () => {
		const doc = new ProjectBuilder('Lamp & "co"', 'interface', 60)
			.part('big lamp', { kind: 'ellipse', size: [40, 40, 0] }, { colour: '#804000' })
			.startClip('glow', 60, { mode: 'alternate', count: null, pause: 0 })
			.keys('big lamp', 'opacity', [
				[0, 1, linear],
				[60, 0],
			])
			.colours('big lamp', [
				[0, '#ff0000', linear],
				[30, '#00ffff', hold],
				[60, '#00ffff'],
			])
			.startClip('hop', 30, ONCE)
			.keys('big lamp', 'translation.y', [
				[0, 0, hold],
				[10, -5, hold],
				[30, 0],
			])
			.build();
		const shipped = await ship(doc, clipsInOrder(doc), {});
		const text = strFromU8(shipped.bytes);
		expect(text).toMatch(/<TimeSensor DEF='glow\.clip' description='glow' cycleInterval='2' loop='true'\/>/);
		expect(text).toMatch(
			/<TimeSensor DEF='hop\.clip' description='hop' cycleInterval='0\.5' loop='false'\/>/,
		);
		expect(text).toMatch(
			/fromNode='big_lamp\.touch' fromField='touchTime' toNode='hop\.clip' toField='startTime'/,
		);
		expect(text).toMatch(/toNode='big_lamp\.colour' toField='emissiveColor'/);
		expect(text).toMatch(/toNode='big_lamp\.colour' toField='transparency'/);
		expect(text).toMatch(/content='Lamp &amp; &quot;co&quot;'/);
		// A value that jumps has two keys a hair apart.
		const [, keys] = /DEF='hop\.clip\.big_lamp\.translation' key='([^']*)'/.exec(text)!;
		const places = keys.split(' ').map(Number);
		expect(places.some((v, i) => i > 0 && v - places[i - 1] < 1e-6 && v > places[i - 1])).toBe(true);
		expect(shipped.clips.flatMap(({ leftOut }) => leftOut)).toEqual([]);
	});

	it('has colours that come to the same whether red, green and blue or hues are mixed', () => {
		const component = between(0, 1);
		const colour = fc.tuple(component, component, component);
		fc.assert(
			fc.property(colour, colour, fc.constantFrom(0.003, 0.01), (a, b, bound) => {
				const source = {
					size: 3,
					plain: true,
					start: 0,
					end: TICKS_PER_SECOND,
					pieces: [],
					evaluate: (t: number, out: Float64Array) =>
						a.forEach((v, k) => (out[k] = v + ((b[k] - v) * t) / TICKS_PER_SECOND)),
				};
				const { times, values } = colourKeys(source, bound);
				expect(times.length).toBeLessThan(200);
				for (let i = 0; i + 1 < times.length; i++) {
					const u = 0.37;
					const at = times[i] + u * (times[i + 1] - times[i]);
					for (let k = 0; k < 3; k++) {
						const mixed = values[3 * i + k] + u * (values[3 * i + 3 + k] - values[3 * i + k]);
						expect(Math.abs(mixed - (a[k] + (b[k] - a[k]) * at))).toBeLessThan(bound);
					}
				}
			}),
			{ numRuns: 60 },
		);
	});

	it('of anybody comes in as parts, cameras and clips; what is not known is told', async () => {
		const { doc, leftOut } = await take(
			strToU8(`<X3D version='4.0'><Scene>
			<Viewpoint DEF='eye' position='0 1 8' fieldOfView='0.7'/>
			<Transform DEF='door' translation='1 0 0'><Shape><Appearance><Material diffuseColor='1 .5 0'/></Appearance><Box size='1 2 .1'/></Shape>
				<Transform DEF='knob' translation='.4 0 0'><Shape><Appearance><Material DEF='brass' diffuseColor='.8 .7 .2'/></Appearance><Sphere radius='.1'/></Shape></Transform>
			</Transform>
			<TimeSensor DEF='clock' cycleInterval='2' loop='true'/>
			<OrientationInterpolator DEF='swing' key='0 .5 1' keyValue='0 1 0 0 0 1 0 1.5708 0 1 0 0'/>
			<ScalarInterpolator DEF='fade' key='0 1' keyValue='0 .5'/>
			<CoordinateInterpolator DEF='odd' key='0 1' keyValue='0 0 0 1 1 1'/>
			<ROUTE fromNode='clock' fromField='fraction_changed' toNode='swing' toField='set_fraction'/>
			<ROUTE fromNode='swing' fromField='value_changed' toNode='door' toField='set_rotation'/>
			<ROUTE fromNode='clock' fromField='fraction_changed' toNode='fade' toField='set_fraction'/>
			<ROUTE fromNode='fade' fromField='value_changed' toNode='brass' toField='transparency'/>
			<ROUTE fromNode='clock' fromField='fraction_changed' toNode='odd' toField='set_fraction'/>
			<DirectionalLight/>
			</Scene></X3D>`),
		);
		const names = Object.values(doc.parts).map(({ name, drawing }) => `${name} ${drawing.kind}`);
		expect(names).toEqual(['eye camera', 'door box', 'knob ball']);
		const [clip] = clipsInOrder(doc);
		expect([clip.name, clip.length / TICKS_PER_SECOND, clip.loop.mode]).toEqual(['clock', 2, 'repeat']);
		const at = shownAt(doc, clip.id, clip.length / 4);
		const [door, knob] = ['door', 'knob'].map((name) =>
			Object.values(doc.parts).find((part) => part.name === name)!,
		);
		expect(at.number(door.id, 'rotation', 'y')).toBeCloseTo(45, 2);
		expect(at.number(knob.id, 'opacity')).toBeCloseTo(0.875, 6);
		expect(leftOut).toEqual(['<DirectionalLight>', 'clock: CoordinateInterpolator odd']);
	});
});
