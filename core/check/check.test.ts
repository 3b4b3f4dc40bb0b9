import { describe, expect, it } from 'vitest';
import { makeParcelSlip } from '../../demo/parcel-slip';
import { makeQuay } from '../../demo/quay';
import {
	eased,
	fall,
	handles,
	hold,
	linear,
	ONCE,
	ProjectBuilder,
	REPEAT,
	rise,
	type KeyRow,
} from '../../demo/builder';
import { setSide } from '../edits/keys';
import type { BlendKind, Doc } from '../document/types';
import type { Loop } from '../../player/loop';
import { checkClip } from './check';
import type { Rule } from './finding';

function clipWith(path: string, rows: KeyRow[], loop: Loop = ONCE, accumulates = false): Doc {
	return new ProjectBuilder('Check', 'world', 30)
		.part('crate', { kind: 'box', size: [1, 1, 1] })
		.startClip('clip', 30, loop)
		.keys('crate', path, rows, accumulates)
		.build();
}
const rulesOf = (doc: Doc): Rule[] =>
	checkClip(doc, Object.values(doc.clips)[0]).map((finding) => finding.rule);
const bent = (rise: number): Doc =>
	setSide(
		clipWith('translation.y', [
			[0, 0, handles],
			[20, 4, handles],
			[30, 5],
		]),
		'clip/crate/translation/y',
		20 * 2400,
		'left',
		{ mode: 'split', reach: 0.5, rise },
	);

/** A clip that ends at 4, and one that begins at 0. */
const apart = (kind: BlendKind): Doc =>
	new ProjectBuilder('Check', 'world', 30)
		.part('crate', { kind: 'box', size: [1, 1, 1] })
		.startClip('up', 30)
		.keys('crate', 'translation.y', [
			[0, 0, linear],
			[30, 4],
		])
		.startClip('again', 30)
		.keys('crate', 'translation.y', [
			[0, 0, linear],
			[30, 4],
		])
		.blend('up', 'again', kind, 0.3)
		.build();

/** What each rule finds, in a clip that is otherwise in order. */
const CASES: [Rule, Doc][] = [
	['overshoot', bent(3)],
	['blend-pop', apart('cut')],
	[
		'backwards-first',
		setSide(
			clipWith('translation.y', [
				[0, 0, handles],
				[30, 4],
			]),
			'clip/crate/translation/y',
			0,
			'right',
			{ mode: 'split', reach: 0.4, rise: -3 },
		),
	],
	[
		'seam-gap',
		clipWith(
			'translation.y',
			[
				[0, 0, eased(0.4, 0.4)],
				[15, 2, eased(0.4, 0.4)],
				[30, 0.5],
			],
			REPEAT,
		),
	],
	[
		'seam-slope',
		clipWith(
			'translation.y',
			[
				[0, 0, linear],
				[15, 2, linear],
				[30, 0],
			],
			REPEAT,
		),
	],
	[
		'last-frame-doubled',
		clipWith(
			'translation.y',
			[
				[0, 0, handles],
				[15, 2, handles],
				[29, 0, handles],
			],
			REPEAT,
		),
	],
	[
		'off-grid',
		clipWith('translation.y', [
			[0, 0, eased(0.4, 0.4)],
			[10.3, 2, eased(0.4, 0.4)],
			[30, 0],
		]),
	],
	[
		'ends-apart',
		clipWith('translation.y', [
			[0, 0, eased(0.4, 0.4)],
			[40, 2],
		]),
	],
	[
		'rebound-grows',
		clipWith('translation.y', [
			[0, 3, fall],
			[8, 0, rise],
			[12, 1, fall],
			[16, 0, rise],
			[20, 1.5, fall],
			[24, 0],
		]),
	],
	[
		'spring-cut-short',
		clipWith('translation.y', [
			[0, 0, { kind: 'spring', mass: 1, stiffness: 50, damping: 3, velocity: 0, time: 'real' }],
			[20, 2],
		]),
	],
	[
		'scale-through-zero',
		clipWith('scale.y', [
			[0, 1, eased(0.4, 0.4)],
			[30, -1],
		]),
	],
	[
		'teleport',
		clipWith('translation.x', [
			[0, 0, eased(0.4, 0.4)],
			[14, 1, linear],
			[15, 8, eased(0.4, 0.4)],
			[30, 9],
		]),
	],
	[
		'constant-channel',
		clipWith('translation.x', [
			[0, 3, linear],
			[30, 3],
		]),
	],
	[
		'cue-outside',
		new ProjectBuilder('Check', 'world', 30)
			.part('crate', { kind: 'empty' })
			.startClip('clip', 30)
			.cue('splash', 40)
			.build(),
	],
	[
		'two-axis-swing',
		new ProjectBuilder('Check', 'world', 30)
			.part('crate', { kind: 'empty' })
			.startClip('clip', 30)
			.keys('crate', 'rotation.x', [
				[0, 0, linear],
				[30, 150],
			])
			.keys('crate', 'rotation.y', [
				[0, 0, linear],
				[30, 150],
			])
			.build(),
	],
];

describe('a check', () => {
	it.each(CASES)('finds %s, with a place and a reason', (rule, doc) => {
		const clip = Object.values(doc.clips)[0];
		const finding = checkClip(doc, clip).find((f) => f.rule === rule)!;
		expect(finding).toBeDefined();
		expect(finding.t).toBeGreaterThanOrEqual(0);
		expect(finding.measure.length).toBeGreaterThan(5);
		expect(finding.why.length).toBeGreaterThan(20);
	});

	it.each(CASES.filter(([, doc]) => checkClip(doc, Object.values(doc.clips)[0])[0].mends.length > 0))(
		'has a mend for %s that mends it',
		(rule, doc) => {
			const finding = checkClip(doc, Object.values(doc.clips)[0]).find((f) => f.rule === rule)!;
			expect(rulesOf(finding.mends[0].edit(doc))).not.toContain(rule);
		},
	);

	it('lets a crossfade and an inertial blend pass where a cut jumps', () => {
		expect(rulesOf(apart('crossfade'))).toEqual([]);
		expect(rulesOf(apart('inertial'))).toEqual([]);
	});

	it('leaves alone what is in order: whole turns, travel that adds up, holds, springs that overshoot', () => {
		expect(
			rulesOf(
				clipWith(
					'rotation.y',
					[
						[0, 0, linear],
						[30, 360],
					],
					REPEAT,
				),
			),
			// A turn is kept, but whoever copies its two keys should know.
		).toEqual(['long-turn']);
		expect(
			rulesOf(
				clipWith(
					'translation.x',
					[
						[0, 0, linear],
						[30, 2],
					],
					REPEAT,
					true,
				),
			),
		).toEqual([]);
		expect(
			rulesOf(
				clipWith(
					'opacity',
					[
						[0, 1, hold],
						[15, 0, hold],
					],
					REPEAT,
				),
			),
		).toEqual([]);
		expect(
			rulesOf(
				clipWith('scale.x', [
					[0, 1, { kind: 'spring', mass: 1, stiffness: 200, damping: 9, velocity: 0, time: 'fitted' }],
					[30, 2],
				]),
			),
		).toEqual([]);
	});

	it('finds no error in the demo', () => {
		for (const doc of [makeQuay(), makeParcelSlip()])
			for (const clip of Object.values(doc.clips)) {
				const errors = checkClip(doc, clip).filter((finding) => finding.severity === 'error');
				expect(errors.map((finding) => [clip.name, finding.rule, finding.channel])).toEqual([]);
			}
	});
});
