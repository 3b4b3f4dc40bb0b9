/** Quay: the harbour side of the post office, a world project in metres. */
import type { Doc } from '../core/document/types';
import type { TriggerDeed } from '../core/document/triggers';
import { eased, fall, handles, hold, linear, ProjectBuilder, REPEAT, rise, type KeyRow } from './builder';

const STONE = '#8a7a63';
const SLATE = '#5c6b73';
const OCHRE = '#b88a2b';
const SACK = '#c9a66b';
const PAPER = '#f3ead6';
const RUST = '#b5532f';
const MOSS = '#3e6b4f';
const SEA = '#a3c1c3';
const DUST = '#cbb892';
const INK = '#34444f';

const SACK_PATH =
	'M -0.36 0 C -0.52 -0.02 -0.56 -0.42 -0.42 -0.6 C -0.34 -0.7 -0.2 -0.74 -0.13 -0.78 L -0.24 -0.98 L -0.06 -0.92 L 0 -1.02 L 0.07 -0.92 L 0.24 -0.98 L 0.13 -0.78 C 0.2 -0.74 0.34 -0.7 0.42 -0.6 C 0.56 -0.42 0.52 -0.02 0.36 0 Z';
/** Three puffs on each side of where the sack comes down. */
const DUST_PATH = [
	[-0.88, 0.09, 0.09],
	[-0.62, 0.18, 0.15],
	[-0.32, 0.13, 0.12],
	[0.34, 0.13, 0.12],
	[0.64, 0.19, 0.16],
	[0.9, 0.09, 0.08],
]
	.map(([x, y, r]) => `M ${x - r} ${-y} A ${r} ${r} 0 1 1 ${x + r} ${-y} A ${r} ${r} 0 1 1 ${x - r} ${-y} Z`)
	.join(' ');
const PELICAN_BODY =
	'M -0.62 -0.62 C -0.5 -0.5 -0.42 -0.36 -0.2 -0.3 C 0.05 -0.24 0.3 -0.3 0.4 -0.5 C 0.48 -0.68 0.42 -0.86 0.4 -1.02 C 0.38 -1.2 0.46 -1.3 0.56 -1.3 C 0.66 -1.3 0.72 -1.22 0.72 -1.14 C 0.6 -1.14 0.58 -1.08 0.58 -1.0 C 0.6 -0.84 0.64 -0.66 0.56 -0.46 C 0.46 -0.2 0.2 -0.08 -0.06 -0.1 C -0.36 -0.12 -0.56 -0.34 -0.62 -0.62 Z';
const PELICAN_BILL = 'M 0 -0.06 L 0.62 0.06 C 0.5 0.2 0.24 0.26 0.02 0.1 Z';
const PELICAN_WING =
	'M 0.16 0 C 0.1 0.16 -0.2 0.22 -0.62 0.02 C -0.4 -0.06 -0.2 -0.2 0.04 -0.18 C 0.14 -0.16 0.2 -0.1 0.16 0 Z';
const HULL_PATH =
	'M -2.1 -0.5 L 2.3 -0.62 C 2.1 -0.2 1.9 0.1 1.6 0.3 L -1.6 0.3 C -1.9 0.1 -2.1 -0.2 -2.1 -0.5 Z';

/** A paddle wheel: a rim with eight paddles. */
function wheelPath(radius: number): string {
	const points: string[] = [];
	for (let i = 0; i < 8; i++) {
		for (const [offset, r] of [
			[-0.16, radius],
			[0.16, radius],
			[0.2, radius * 0.62],
			[0.58, radius * 0.62],
		]) {
			const angle = ((i + offset) * Math.PI) / 4;
			points.push(`${(Math.cos(angle) * r).toFixed(3)} ${(Math.sin(angle) * r).toFixed(3)}`);
		}
	}
	const hub = radius * 0.2;
	return `M ${points.join(' L ')} Z M ${hub} 0 A ${hub} ${hub} 0 1 0 ${-hub} 0 A ${hub} ${hub} 0 1 0 ${hub} 0 Z`;
}

const WHEEL_RADIUS = 0.62;
const KELP_SEGMENTS = 5;

function addParts(p: ProjectBuilder): void {
	// Water has no edges, and goes on farther than one looks.
	const edgeless = { stroke: { width: 0, colour: SEA, start: 0, end: 1 } };
	p.part('sea', { kind: 'plane', size: [36, 3.4, 0], ...edgeless }, { at: [2.3, -2.15, 2.1], colour: SEA })
		.part(
			'sea surface',
			{ kind: 'plane', size: [36, 9, 0], ...edgeless },
			{ parent: 'sea', at: [0, 1.7, -4.5], turn: [-90, 0, 0], colour: SEA },
		)
		.part('quay wall', { kind: 'box', size: [8.4, 1.3, 3] }, { at: [-2.3, -0.65, 0], colour: STONE })
		.part(
			'bollard',
			{ kind: 'cylinder', size: [0.32, 0.5, 0.32], offset: [0, 0.25, 0] },
			{ at: [1.5, 0, 0.6], colour: INK },
		);
	p.part(
		'crane post',
		{ kind: 'box', size: [0.42, 4.3, 0.42], offset: [0, 2.15, 0] },
		{ at: [-4.4, 0, -0.3], colour: SLATE },
	)
		.part(
			'crane arm',
			{ kind: 'box', size: [3.9, 0.28, 0.3], offset: [1.6, 0, 0] },
			{ parent: 'crane post', at: [0, 4.2, 0.36], turn: [0, 0, 16], colour: OCHRE },
		)
		.part(
			'crane pin',
			{ kind: 'cylinder', size: [0.42, 0.14, 0.42] },
			{ parent: 'crane arm', at: [0, 0, 0.2], turn: [90, 0, 0], colour: PAPER },
		)
		.part(
			'rope',
			{ kind: 'box', size: [0.05, 1.1, 0.05], offset: [0, -0.55, 0] },
			{ parent: 'crane arm', at: [3.4, 0, 0], turn: [0, 0, -16], colour: INK },
		)
		.part(
			'hook',
			{ kind: 'ball', size: [0.2, 0.2, 0.2] },
			{ parent: 'rope', at: [0, -1.14, 0], colour: RUST },
		);
	p.part(
		'mail sack',
		{ kind: 'path', d: SACK_PATH, depth: 0.5 },
		{ at: [-1.1, 3.1, 0.2], colour: SACK },
	).part(
		'dust',
		{ kind: 'path', d: DUST_PATH, depth: 0, stroke: { width: 0, colour: DUST, start: 0, end: 1 } },
		{ at: [-1, 0, -0.2], colour: DUST, opacity: 0 },
	);
	p.part('pelican', { kind: 'path', d: PELICAN_BODY, depth: 0.36 }, { at: [-2.4, 0.02, 0.9], colour: PAPER })
		.part(
			'pelican bill',
			{ kind: 'path', d: PELICAN_BILL, depth: 0.2 },
			{ parent: 'pelican', at: [0.62, 1.18, 0], turn: [0, 0, -12], colour: OCHRE },
		)
		.part(
			'pelican wing',
			{ kind: 'path', d: PELICAN_WING, depth: 0.1 },
			{ parent: 'pelican', at: [0.12, 0.5, 0.24], colour: '#d9ccb0' },
		)
		.part(
			'pelican feet',
			{ kind: 'box', size: [0.3, 0.14, 0.2], offset: [0.05, 0.07, 0] },
			{ parent: 'pelican', colour: OCHRE },
		);
	p.part('ferry', { kind: 'path', d: HULL_PATH, depth: 1.2 }, { at: [3.4, -0.3, 0.4], colour: RUST })
		.part(
			'ferry cabin',
			{ kind: 'box', size: [1.7, 0.6, 0.9], offset: [0, 0.3, 0] },
			{ parent: 'ferry', at: [-0.2, 0.52, 0], colour: PAPER },
		)
		.part(
			'ferry funnel',
			{ kind: 'cylinder', size: [0.32, 0.8, 0.32], offset: [0, 0.4, 0] },
			{ parent: 'ferry cabin', at: [0.4, 0.6, 0], colour: INK },
		)
		.part(
			'paddle wheel',
			{ kind: 'path', d: wheelPath(WHEEL_RADIUS), depth: 0.22 },
			{ parent: 'ferry', at: [-0.5, 0.06, 0.75], colour: OCHRE },
		);
	p.part(
		'buoy',
		{ kind: 'cone', size: [0.62, 1.1, 0.62], offset: [0, 0.5, 0], pattern: 'quarters' },
		{ at: [6.7, -0.5, 1.2], colour: RUST },
	).part(
		'buoy light',
		{ kind: 'ball', size: [0.24, 0.24, 0.24] },
		{ parent: 'buoy', at: [0, 1.14, 0], colour: OCHRE },
	);
	p.part('island', { kind: 'ball', size: [4.6, 1.8, 2.4] }, { at: [9.2, -0.75, -1.4], colour: STONE })
		.part(
			'lighthouse',
			{ kind: 'cylinder', size: [0.9, 3.6, 0.9], offset: [0, 1.8, 0] },
			{ parent: 'island', at: [0.2, 0.8, 0], colour: PAPER },
		)
		.part(
			'gallery',
			{ kind: 'cylinder', size: [1.3, 0.16, 1.3] },
			{ parent: 'lighthouse', at: [0, 3.6, 0], colour: RUST },
		)
		.part(
			'lamp',
			{ kind: 'cylinder', size: [0.5, 0.6, 0.5] },
			{ parent: 'lighthouse', at: [0, 3.98, 0], colour: OCHRE },
		)
		.part(
			'beam',
			{ kind: 'path', d: 'M 0.2 -0.08 L 4.2 -0.62 L 4.2 0.62 L 0.2 0.08 Z', depth: 0 },
			{ parent: 'lamp', colour: '#e9d28a', opacity: 0.55 },
		)
		.part(
			'lamp roof',
			{ kind: 'cone', size: [0.9, 0.5, 0.9] },
			{ parent: 'lighthouse', at: [0, 4.5, 0], colour: RUST },
		)
		.part(
			'signal lamp',
			{ kind: 'ball', size: [0.36, 0.36, 0.36] },
			{ parent: 'crane post', at: [0, 4.66, 0], colour: RUST },
		);
	for (let i = 1; i <= KELP_SEGMENTS; i++) {
		p.part(
			`kelp ${i}`,
			{ kind: 'card', size: [0.34 - 0.04 * i, 0.5, 0.06], radius: 0.1, offset: [0, 0.22, 0] },
			i === 1
				? { at: [8.2, -0.6, 1.6], colour: MOSS }
				: { parent: `kelp ${i - 1}`, at: [0, 0.4, 0.01], colour: MOSS },
		);
	}
	p.part(
		'quay camera',
		{ kind: 'camera', fieldOfView: 34 },
		{ at: [-1.4, 2.1, 9.5], turn: [-4, -4, 0], colour: INK },
	);
}

/** Frames of the sack's contacts and apexes, heights by free fall: each rebound is shorter and lower. */
function sackDrop(p: ProjectBuilder): void {
	const drop = eased(0, 0.5);
	p.startClip('sack drop', 72, undefined, 'The hook lets go; three lower bounces, then still.')
		.keys('crane arm', 'rotation.z', [
			[0, 16, eased(0.5, 0.5)],
			[10, 18.5, handles],
			[24, 15, handles],
			[36, 16.6, handles],
			[50, 16],
		])
		.keys('rope', 'rotation.z', [
			[0, -16, handles],
			[8, -22, handles],
			[18, -10, handles],
			[30, -19, handles],
			[44, -15, handles],
			[60, -16],
		])
		.keys('mail sack', 'translation.y', [
			[0, 3.1, hold],
			[4, 3.1, fall],
			[17, 0, hold],
			[19, 0, rise],
			[27, 1.15, fall],
			[35, 0, hold],
			[36, 0, rise],
			[41, 0.42, fall],
			[46, 0, rise],
			[49, 0.12, fall],
			[52, 0],
		])
		.keys('mail sack', 'translation.x', [
			[0, -1.1, hold],
			[4, -1.1, linear],
			[17, -0.7, linear],
			[35, 0.05, linear],
			[46, 0.35, drop],
			[60, 0.5],
		])
		.keys('mail sack', 'scale.y', [
			[0, 1, hold],
			[4, 1, eased(0.6, 0)],
			[17, 1.12, eased(0, 0.8)],
			[18, 0.66, eased(0.4, 0.4)],
			[20, 1.06, handles],
			[27, 1, eased(0.6, 0)],
			[35, 1.04, eased(0, 0.6)],
			[36, 0.82, eased(0.4, 0.5)],
			[39, 1, eased(0.5, 0.2)],
			[46, 1, eased(0, 0.6)],
			[48, 0.92, eased(0.4, 0.6)],
			[52, 1],
		])
		.formula('mail sack', 'scale.x', '1 / sqrt(sy)', { sy: 'mail sack/scale.y' })
		.keys('mail sack', 'rotation.z', [
			[4, 0, eased(0.4, 0)],
			[17, 7, linear],
			[35, -5, linear],
			[46, 2, eased(0, 0.7)],
			[58, 0],
		])
		.keys('dust', 'opacity', [
			[0, 0, hold],
			[17, 0.95, eased(0.2, 0.3)],
			[32, 0, hold],
			[35, 0.6, eased(0.2, 0.3)],
			[45, 0],
		])
		.keys('dust', 'scale.x', [
			[17, 0.9, eased(0, 0.8)],
			[32, 1.8, hold],
			[35, 0.8, eased(0, 0.8)],
			[45, 1.3],
		])
		.keys('dust', 'scale.y', [
			[17, 0.5, eased(0, 0.8)],
			[32, 1.5, hold],
			[35, 0.4, eased(0, 0.8)],
			[45, 1],
		])
		.keys('dust', 'translation.x', [
			[0, -0.7, hold],
			[35, 0.05],
		])
		.cue('thump', 17, { loudness: 1 })
		.cue('thump', 35, { loudness: 0.4 })
		.cue('sack at rest', 58);
}

function ferryCrossing(p: ProjectBuilder): void {
	const travel = 5.2;
	const shape = eased(0.45, 0.6);
	p.startClip(
		'ferry crossing',
		150,
		{ mode: 'alternate', count: null, pause: 7200 },
		'The wheel turns as far as the ferry travels.',
	)
		.keys('ferry', 'translation.x', [
			[0, 3.4, shape],
			[150, 3.4 + travel],
		])
		.formula('paddle wheel', 'rotation.z', '(start - x) / radius * 180 / pi', {
			x: 'ferry/translation.x',
			start: 3.4,
			radius: WHEEL_RADIUS,
		})
		.keys('ferry', 'translation.y', [
			[0, -0.3, handles],
			[38, -0.24, handles],
			[75, -0.31, handles],
			[112, -0.25, handles],
			[150, -0.3],
		])
		.keys('ferry', 'rotation.z', [
			[0, 0, handles],
			[24, 1.6, handles],
			[75, -0.6, handles],
			[124, -1.8, handles],
			[150, 0],
		])
		.cue('whistle', 6)
		.cue('landed', 148);
}

function kelpSway(p: ProjectBuilder): void {
	p.startClip('kelp sway', 90, REPEAT, 'One sway, each segment a little later than the one below.');
	for (let i = 1; i <= KELP_SEGMENTS; i++) {
		const delay = 4 * (i - 1);
		const swing = 5 + 2.4 * i;
		const at = (frame: number) =>
			Math.round(1000 * swing * Math.sin((2 * Math.PI * (frame - delay)) / 90)) / 1000;
		// Keys at the two turning points, and at the seam, so that first and last are alike at any delay.
		const rows: KeyRow[] = [0, delay + 22, delay + 67, 90].map((frame) => [frame, at(frame), handles]);
		p.keys(`kelp ${i}`, 'rotation.z', rows);
	}
}

export function makeQuay(): Doc {
	const p = new ProjectBuilder('Quay', 'world', 30);
	addParts(p);
	sackDrop(p);
	p.startClip('crane swing', 90, undefined, 'Up, over and still; the rope, empty, swings on after the arm.')
		.keys('mail sack', 'visible', [[0, 0, hold]])
		.keys('crane arm', 'rotation.z', [
			[0, 16, eased(0.35, 0.55)],
			[34, 44, hold],
			[46, 44, eased(0.4, 0.6)],
			[76, 16],
		])
		.keys('rope', 'rotation.z', [
			[0, -16, handles],
			[10, -20, handles],
			[34, -54, handles],
			[44, -38, handles],
			[54, -46, handles],
			[76, -8, handles],
			[84, -19, handles],
			[90, -16],
		])
		.keys('crane post', 'rotation.y', [
			[0, 0, eased(0.5, 0.5)],
			[34, 28, hold],
			[46, 28, eased(0.5, 0.5)],
			[76, 0],
		])
		.cue('load up', 34)
		.cue('load down', 76);
	p.startClip('pelican hop', 30, REPEAT, 'Travels on: translation x adds up round after round.')
		.keys('pelican', 'translation.y', [
			[0, 0.02, hold],
			[6, 0.02, rise],
			[14, 0.95, fall],
			[22, 0.02],
		])
		.keys(
			'pelican',
			'translation.x',
			[
				[0, -2.4, hold],
				[6, -2.4, linear],
				[22, -1.3],
			],
			true,
		)
		.keys('pelican', 'rotation.z', [
			[0, 0, handles],
			[6, 10, handles],
			[14, 0, handles],
			[22, -8, handles],
			[30, 0],
		])
		.keys('pelican', 'scale.y', [
			[0, 1, eased(0.5, 0.5)],
			[4, 0.84, eased(0.2, 0.4)],
			[8, 1.08, eased(0.4, 0.4)],
			[20, 1.02, eased(0.3, 0.2)],
			[24, 0.86, eased(0.3, 0.6)],
			[30, 1],
		])
		.keys('pelican wing', 'rotation.z', [
			[0, 0, eased(0.4, 0.3)],
			[6, 24, eased(0.2, 0.4)],
			[10, -42, eased(0.4, 0.4)],
			[14, 18, eased(0.4, 0.4)],
			[18, -34, eased(0.4, 0.6)],
			[24, 6, eased(0.4, 0.4)],
			[30, 0],
		])
		.cue('hop', 6)
		.cue('land', 22);
	p.startClip('buoy bob', 90, REPEAT, 'Two rises a round, the lean half a beat behind.')
		.keys('buoy', 'translation.y', [
			[0, -0.5, handles],
			[22, -0.34, handles],
			[45, -0.52, handles],
			[68, -0.4, handles],
			[90, -0.5, handles],
		])
		.keys('buoy', 'rotation.z', [
			[0, 4, handles],
			[28, -6, handles],
			[52, 5, handles],
			[74, -3, handles],
			[90, 4, handles],
		]);
	p.startClip('buoy tossed', 44, REPEAT, 'The same rises in a wind, quicker and twice as high.')
		.keys('buoy', 'translation.y', [
			[0, -0.62, handles],
			[11, -0.2, handles],
			[22, -0.66, handles],
			[33, -0.28, handles],
			[44, -0.62, handles],
		])
		.keys('buoy', 'rotation.z', [
			[0, 14, handles],
			[14, -20, handles],
			[25, 16, handles],
			[36, -12, handles],
			[44, 14, handles],
		]);
	p.startClip('lamp sweep', 120, REPEAT, 'One full turn a round, at a steady rate.').keys(
		'lamp',
		'rotation.y',
		[
			[0, 0, linear],
			[120, -360],
		],
	);
	ferryCrossing(p);
	kelpSway(p);
	p.startClip('signal blink', 60, REPEAT, 'Two short, one long.').keys('signal lamp', 'opacity', [
		[0, 1, hold],
		[6, 0.15, hold],
		[12, 1, hold],
		[18, 0.15, hold],
		[24, 1, hold],
		[42, 0.15, hold],
	]);
	p.colours('signal lamp', [
		[0, '#e3b341', hold],
		[24, '#c8452c', eased(0, 0.5)],
		[42, '#e3b341', hold],
	]);
	p.blend('crane swing', 'sack drop', 'crossfade', 0.4).blend('sack drop', 'crane swing', 'inertial', 0.5);
	return rehearsed(p).build();
}

/** What goes on by itself, and what is done by tap, key and stick. */
function rehearsed(p: ProjectBuilder): ProjectBuilder {
	const weed = Object.values(p.build().parts).flatMap(({ name }) => (name.startsWith('kelp') ? name : []));
	const play = (clip: string, layer: string | null = null): TriggerDeed => ({ kind: 'play', clip, layer });
	const tell = (name: string, payload: unknown = null): TriggerDeed => ({ kind: 'tell', name, payload });
	return p
		.mix('swell', 'wind', [
			['buoy bob', 0],
			['buoy tossed', 1],
		])
		.layer('weed', weed)
		.layer('buoy', ['buoy'])
		.layer('light', ['lamp', 'beam'])
		.layer('pelican', ['pelican', 'pelican bill', 'pelican wing', 'pelican feet'])
		.layer('fog signal', ['signal lamp'], { weight: 0, parameter: 'fog' })
		.trigger({ kind: 'start' }, play('kelp-sway', 'layer-weed'))
		.trigger({ kind: 'start' }, play('mix-swell', 'layer-buoy'))
		.trigger({ kind: 'start' }, play('lamp-sweep', 'layer-light'))
		.trigger({ kind: 'start' }, play('signal-blink', 'layer-fog-signal'))
		.trigger(
			{ kind: 'tap', part: 'pelican' },
			{ kind: 'toggle', clip: 'pelican-hop', other: null, layer: 'layer-pelican' },
		)
		.trigger({ kind: 'tap', part: 'crane-arm' }, play('crane-swing'))
		.trigger({ kind: 'cue', clip: 'crane-swing', cue: 'load down' }, play('sack-drop'), 0.1)
		.trigger({ kind: 'cue', clip: 'sack-drop', cue: 'thump' }, tell('thud', { volume: 0.8 }))
		.trigger({ kind: 'key', key: 'ArrowRight' }, play('ferry-crossing'))
		.trigger({ kind: 'call', name: 'all still' }, { kind: 'stop', layer: null, seconds: 0.6 })
		.trigger({ kind: 'parameter', name: 'fog', way: 'above', value: 0.5 }, tell('horn'))
		.rehearsal(
			'sack ashore',
			7,
			[
				{ t: 0.5, what: { kind: 'tap', part: 'crane-arm' } },
				{ t: 1, what: { kind: 'tap', part: 'pelican' } },
				{ t: 2.2, what: { kind: 'set', name: 'fog', value: 0.7 } },
				{ t: 2.5, what: { kind: 'tap', part: 'pelican' } },
			],
			{
				jump: 0.02,
				cues: [
					{ t: 1.2, clip: 'pelican-hop', cue: 'hop' },
					{ t: 1.633, clip: 'crane-swing', cue: 'load up' },
					{ t: 1.733, clip: 'pelican-hop', cue: 'land' },
					{ t: 2.2, clip: 'pelican-hop', cue: 'hop' },
					{ t: 2.733, clip: 'pelican-hop', cue: 'land' },
					{ t: 3.033, clip: 'crane-swing', cue: 'load down' },
					{ t: 3.7, clip: 'sack-drop', cue: 'thump' },
					{ t: 4.3, clip: 'sack-drop', cue: 'thump' },
					{ t: 5.067, clip: 'sack-drop', cue: 'sack at rest' },
				],
			},
		);
}
