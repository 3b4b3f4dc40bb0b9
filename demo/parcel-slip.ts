/** Parcel slip: the post office's app, an interface project in pixels. */
import type { Doc } from '../core/document/types';
import { eased, handles, hold, linear, ProjectBuilder, REPEAT } from './builder';
import type { Shape } from '../player/easing/shape';

const PAPER = '#fbf7ec';
const CARD = '#f1e7d0';
const INK = '#2d3b45';
const MOSS = '#3e6b4f';
const RUST = '#b5532f';
const LAKE = '#2f6f8f';
const OCHRE = '#b88a2b';
const MIST = '#c9d6d3';

const spring = (stiffness: number, damping: number, time: 'real' | 'fitted' = 'fitted'): Shape => ({
	kind: 'spring',
	mass: 1,
	stiffness,
	damping,
	velocity: 0,
	time,
});
const NEEDLE = 'M -5 8 L 0 -66 L 5 8 C 3 12 -3 12 -5 8 Z';
const DIAL_MARKS = Array.from({ length: 9 }, (_, i) => {
	const angle = Math.PI * (0.75 + (1.5 * i) / 8);
	const point = (r: number, side: number) =>
		`${(Math.cos(angle) * r - Math.sin(angle) * side).toFixed(1)} ${(Math.sin(angle) * r + Math.cos(angle) * side).toFixed(1)}`;
	return `M ${point(84, -1.5)} L ${point(84, 1.5)} L ${point(72, 1.5)} L ${point(72, -1.5)} Z`;
}).join(' ');
const STAMP_MARK = 'M -26 -26 L 26 -26 L 26 26 L -26 26 Z M -20 -20 L -20 20 L 20 20 L 20 -20 Z';

function addParts(p: ProjectBuilder): void {
	p.part('screen', { kind: 'card', size: [360, 640, 0], radius: 28 }, { at: [180, 320, 0], colour: PAPER })
		.part('top bar', { kind: 'card', size: [328, 56, 0], radius: 14 }, { at: [180, 48, 1], colour: LAKE })
		.part(
			'title',
			{ kind: 'label', text: 'Parcels today', align: 'left', size: [190, 30, 0] },
			{ parent: 'top bar', at: [-48, 0, 1], colour: PAPER },
		)
		.part(
			'badge',
			{ kind: 'ellipse', size: [34, 34, 0] },
			{ parent: 'top bar', at: [136, 0, 2], colour: RUST },
		)
		.part(
			'badge count',
			{ kind: 'label', text: '3', size: [24, 24, 0] },
			{ parent: 'badge', at: [0, 0, 1], colour: PAPER },
		);
	p.part('slip', { kind: 'card', size: [296, 188, 0], radius: 16 }, { at: [180, 196, 4], colour: CARD })
		.part(
			'slip number',
			{ kind: 'label', text: 'Parcel 4071', align: 'left', size: [150, 30, 0] },
			{ parent: 'slip', at: [-56, -62, 1], colour: INK },
		)
		.part(
			'slip line 1',
			{ kind: 'card', size: [240, 10, 0], radius: 5 },
			{ parent: 'slip', at: [-12, -22, 1], colour: MIST },
		)
		.part(
			'slip line 2',
			{ kind: 'card', size: [180, 10, 0], radius: 5 },
			{ parent: 'slip', at: [-42, 2, 1], colour: MIST },
		)
		.part(
			'slip line 3',
			{ kind: 'card', size: [210, 10, 0], radius: 5 },
			{ parent: 'slip', at: [-27, 26, 1], colour: MIST },
		)
		.part(
			'stamp mark',
			{ kind: 'path', d: STAMP_MARK, depth: 0 },
			{ parent: 'slip', at: [104, 50, 2], turn: [0, 0, -12], colour: RUST, opacity: 0 },
		)
		.part(
			'stamp ring',
			{
				kind: 'ellipse',
				size: [76, 76, 0],
				filled: false,
				stroke: { width: 3, colour: RUST, start: 0, end: 0 },
			},
			{ parent: 'slip', at: [104, 50, 2], turn: [0, 0, -90], colour: RUST },
		);
	p.part('gauge', { kind: 'ellipse', size: [188, 188, 0] }, { at: [104, 420, 2], colour: CARD })
		.part(
			'gauge marks',
			{ kind: 'path', d: DIAL_MARKS, depth: 0 },
			{ parent: 'gauge', at: [0, 0, 1], colour: INK },
		)
		.part(
			'needle',
			{ kind: 'path', d: NEEDLE, depth: 0 },
			{ parent: 'gauge', at: [0, 0, 2], turn: [0, 0, -120], colour: RUST },
		)
		.part(
			'needle hub',
			{ kind: 'ellipse', size: [18, 18, 0] },
			{ parent: 'gauge', at: [0, 0, 3], colour: INK },
		)
		.part(
			'gauge label',
			{ kind: 'label', text: 'Tide', size: [60, 26, 0] },
			{ parent: 'gauge', at: [0, 54, 1], colour: INK },
		);
	p.part(
		'stamp button',
		{ kind: 'card', size: [120, 120, 0], radius: 30 },
		{ at: [272, 420, 2], colour: MOSS },
	).part(
		'stamp label',
		{ kind: 'label', text: 'Stamp', size: [84, 32, 0] },
		{ parent: 'stamp button', at: [0, 0, 1], colour: PAPER },
	);
	p.part(
		'notice',
		{ kind: 'card', size: [304, 64, 0], radius: 16 },
		{ at: [180, 584, 6], colour: INK, opacity: 0 },
	)
		.part(
			'notice text',
			{ kind: 'label', text: 'The noon boat is early', align: 'left', size: [230, 28, 0] },
			{ parent: 'notice', at: [10, 0, 1], colour: PAPER },
		)
		.part(
			'notice dot',
			{ kind: 'ellipse', size: [14, 14, 0] },
			{ parent: 'notice', at: [-128, 0, 1], colour: OCHRE },
		);
}

export function makeParcelSlip(): Doc {
	const p = new ProjectBuilder('Parcel slip', 'interface', 60);
	addParts(p);
	p.startClip('slip arrives', 48, undefined, 'Up from below, a little over, then still.')
		.keys('slip', 'translation.y', [
			[0, 560, spring(170, 18)],
			[42, 196],
		])
		.keys('slip', 'opacity', [
			[0, 0, eased(0, 0.5)],
			[14, 1],
		])
		.keys('slip', 'rotation.z', [
			[0, 5, { kind: 'family', family: 'back', way: 'out', overshoot: 2.4 }],
			[40, 0],
		])
		.keys('slip line 1', 'scale.x', [
			[0, 0, hold],
			[10, 0, eased(0, 0.8)],
			[30, 1],
		])
		.keys('slip line 2', 'scale.x', [
			[0, 0, hold],
			[14, 0, eased(0, 0.8)],
			[34, 1],
		])
		.keys('slip line 3', 'scale.x', [
			[0, 0, hold],
			[18, 0, eased(0, 0.8)],
			[38, 1],
		])
		.cue('slip in place', 42, { parcel: 4071 });
	p.startClip('stamp press', 54, undefined, 'Pressed, let go, and the mark is on the slip.')
		.keys('stamp button', 'scale.x', [
			[0, 1, eased(0, 0.6)],
			[6, 0.86, spring(320, 14)],
			[46, 1],
		])
		.keys('stamp button', 'scale.y', [
			[0, 1, eased(0, 0.6)],
			[6, 0.86, spring(320, 14)],
			[46, 1],
		])
		.keys('stamp mark', 'opacity', [
			[0, 0, hold],
			[6, 0, eased(0, 0.4)],
			[10, 0.9],
		])
		.keys('stamp mark', 'scale.x', [
			[6, 1.7, { kind: 'family', family: 'back', way: 'out' }],
			[18, 1],
		])
		.keys('stamp mark', 'scale.y', [
			[6, 1.7, { kind: 'family', family: 'back', way: 'out' }],
			[18, 1],
		])
		.keys('stamp ring', 'trim.end', [
			[12, 0, eased(0.2, 0.7)],
			[30, 1],
		])
		.cue('stamped', 10, { sound: 'stamp' });
	p.startClip('gauge settles', 120, undefined, 'The needle swings to the tide of the hour.')
		.keys('needle', 'rotation.z', [
			[0, -120, hold],
			[10, -120, spring(60, 5, 'real')],
			[118, 38],
		])
		.keys('needle hub', 'scale.x', [
			[0, 1, hold],
			[10, 1, eased(0, 0.6)],
			[16, 1.2, eased(0.4, 0.6)],
			[30, 1],
		])
		.keys('needle hub', 'scale.y', [
			[0, 1, hold],
			[10, 1, eased(0, 0.6)],
			[16, 1.2, eased(0.4, 0.6)],
			[30, 1],
		])
		.cue('tide read', 118, { metres: 1.4 });
	p.startClip('badge pulse', 60, { ...REPEAT, pause: 18_000 }, 'Two beats, then a rest.')
		.keys('badge', 'scale.x', [
			[0, 1, handles],
			[8, 1.22, handles],
			[18, 0.98, handles],
			[26, 1.12, handles],
			[42, 1, linear],
			[60, 1, handles],
		])
		.keys('badge', 'scale.y', [
			[0, 1, handles],
			[8, 1.22, handles],
			[18, 0.98, handles],
			[26, 1.12, handles],
			[42, 1, linear],
			[60, 1, handles],
		]);
	p.startClip('notice comes and goes', 180, undefined, 'In, read, out.')
		.keys('notice', 'translation.y', [
			[0, 690, { kind: 'family', family: 'back', way: 'out' }],
			[28, 584, hold],
			[144, 584, { kind: 'family', family: 'cubic', way: 'in' }],
			[172, 690],
		])
		.keys('notice', 'opacity', [
			[0, 0, eased(0, 0.5)],
			[16, 1, hold],
			[150, 1, eased(0.5, 0)],
			[172, 0],
		])
		.keys('notice dot', 'scale.x', [
			[28, 1, { kind: 'bounce', restitution: 0.55, count: 4 }],
			[100, 0.4, eased(0.4, 0.4)],
			[130, 1],
		])
		.keys('notice dot', 'scale.y', [
			[28, 1, { kind: 'bounce', restitution: 0.55, count: 4 }],
			[100, 0.4, eased(0.4, 0.4)],
			[130, 1],
		])
		.cue('read aloud', 30, { text: 'The noon boat is early' });
	return p
		.blend('slip arrives', 'stamp press', 'inertial', 0.25)
		.blend('stamp press', 'slip arrives', 'crossfade', 0.3)
		.layer('gauge', ['gauge', 'needle'])
		.layer('notice', ['notice', 'notice text', 'notice dot'])
		.trigger({ kind: 'start' }, { kind: 'play', clip: 'slip-arrives', layer: null })
		.trigger({ kind: 'start' }, { kind: 'play', clip: 'gauge-settles', layer: 'layer-gauge' }, 0.4)
		.trigger({ kind: 'tap', part: 'stamp-button' }, { kind: 'play', clip: 'stamp-press', layer: null })
		.trigger({ kind: 'key', key: 'Enter' }, { kind: 'play', clip: 'stamp-press', layer: null })
		.trigger(
			{ kind: 'cue', clip: 'stamp-press', cue: 'stamped' },
			{ kind: 'tell', name: 'sound', payload: { file: 'stamp', volume: 0.7 } },
		)
		.trigger({ kind: 'end', clip: 'stamp-press' }, { kind: 'play', clip: 'slip-arrives', layer: null }, 0.5)
		.trigger(
			{ kind: 'call', name: 'early boat' },
			{ kind: 'play', clip: 'notice-comes-and-goes', layer: 'layer-notice' },
		)
		.rehearsal(
			'one slip',
			4,
			[
				{ t: 1.2, what: { kind: 'tap', part: 'stamp-button' } },
				{ t: 2, what: { kind: 'call', name: 'early boat' } },
			],
			{
				cues: [
					{ t: 0.7, clip: 'slip-arrives', cue: 'slip in place' },
					{ t: 1.367, clip: 'stamp-press', cue: 'stamped' },
					{ t: 2.367, clip: 'gauge-settles', cue: 'tide read' },
					{ t: 2.5, clip: 'notice-comes-and-goes', cue: 'read aloud' },
					{ t: 3.3, clip: 'slip-arrives', cue: 'slip in place' },
				],
			},
		)
		.build();
}
