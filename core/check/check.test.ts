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
import { orientationIn } from '../clip/layout';
import { shownAt } from '../testing';
import { angleBetween } from '../../player/maths/quaternion';
import { RULES } from './rules';
import { groupFindings, mendFinding, mendFindings, tellFinding } from './tell';

function clipWith(path: string, rows: KeyRow[], loop: Loop = ONCE, accumulates = false): Doc {
	return new ProjectBuilder('Check', 'world', 30)
		.part('crate', { kind: 'box', size: [1, 1, 1] })
		.startClip('clip', 30, loop)
		.keys('crate', path, rows, accumulates)
		.build();
}
const rulesOf = (doc: Doc): string[] =>
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
const CASES: [string, Doc][] = [
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
		'dense-keys',
		clipWith(
			'translation.y',
			Array.from({ length: 31 }, (_, i): KeyRow => [i, 2 * Math.sin((Math.PI * i) / 30), linear]),
		),
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
		'unlike-gravity',
		// The second arc falls four times as slowly as it rose.
		clipWith('translation.y', [
			[0, 4, fall],
			[10, 0, rise],
			[15, 1, fall],
			[25, 0],
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
	['constant-channel', clipWith('translation.x', [[0, 0, hold]])],
	[
		'spring-cut-short',
		clipWith('translation.y', [
			[0, 0, { kind: 'spring', mass: 1, stiffness: 800, damping: 20, velocity: 0, time: 'real' }],
			[6, 2],
		]),
	],
	[
		'ends-apart',
		clipWith(
			'translation.y',
			[
				[0, 0, eased(0.4, 0.4)],
				[12, 3, eased(0.4, 0.4)],
				[28, 0],
			],
			REPEAT,
		),
	],
	[
		'dead-hold',
		clipWith(
			'translation.y',
			[
				[0, 0, eased(0.4, 0.4)],
				[5, 3, eased(0.4, 0.4)],
				[15, 0],
			],
			REPEAT,
		),
	],
	[
		'long-turn',
		clipWith('rotation.z', [
			[0, 0, linear],
			[30, 270],
		]),
	],
	[
		'formula-not-finite',
		new ProjectBuilder('Check', 'world', 30)
			.part('crate', { kind: 'empty' })
			.startClip('clip', 30)
			.keys('crate', 'translation.x', [
				[0, 1, linear],
				[30, -1],
			])
			.formula('crate', 'translation.y', 'sqrt(x)', { x: 'crate/translation.x' })
			.build(),
	],
	[
		'formula-not-periodic',
		new ProjectBuilder('Check', 'world', 30)
			.part('crate', { kind: 'empty' })
			.startClip('clip', 30, REPEAT)
			.keys(
				'crate',
				'translation.x',
				[
					[0, 0, linear],
					[30, 2],
				],
				true,
			)
			.formula('crate', 'translation.y', 'x * x', { x: 'crate/translation.x' })
			.build(),
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
	[
		'trigger-fault',
		new ProjectBuilder('Check', 'world', 30)
			.part('crate', { kind: 'box', size: [1, 1, 1] })
			.startClip('drop', 30)
			.keys('crate', 'translation.y', [
				[0, 0, linear],
				[30, 1],
			])
			.trigger({ kind: 'cue', clip: 'drop', cue: 'gone' }, { kind: 'tell', name: 'landed', payload: null })
			.build(),
	],
];

/** Every mend that a rule has. */
const MENDS = RULES.flatMap(({ id, mends }) =>
	Object.keys(mends).map((mend): [string, string] => [id, mend]),
);

describe('a check', () => {
	it.each(CASES)('finds %s, with a place and a reason', (rule, doc) => {
		const clip = Object.values(doc.clips)[0];
		const finding = checkClip(doc, clip).find((f) => f.rule === rule)!;
		expect(finding).toBeDefined();
		expect(finding.t).toBeGreaterThanOrEqual(0);
		// It crosses from a worker as it is.
		expect(structuredClone(finding)).toEqual(finding);
		const { measure, why } = tellFinding(doc, finding);
		expect(measure.length).toBeGreaterThan(5);
		expect(why.length).toBeGreaterThan(20);
	});

	it.each<[string, number, Record<string, unknown>]>([
		['seam-gap', 30, { gap: 0.5 }],
		// Four a second up at the start, four down at the end.
		['seam-slope', 30, { change: 8 }],
		['last-frame-doubled', 29, { frame: 2400 }],
		['off-grid', 10.3, { count: 1, frame: 10.3 }],
		['dense-keys', 0, { keys: 31 }],
		['ends-apart', 40, { after: 1 }],
		['rebound-grows', 20, { height: 1.5, before: 1 }],
		// 2·1/(10/30)² against 2·1/(5/30)² and 2·4/(10/30)².
		['unlike-gravity', 15, { gravity: 18, other: 72 }],
		['spring-cut-short', 20, { lasts: 2 / 3 }],
		['teleport', 14, { change: 7 }],
		['constant-channel', 0, { value: 3 }],
		['cue-outside', 40, { name: 'splash', frame: 40 }],
		['long-turn', 0, { turn: 270 }],
		['dead-hold', 15, { frames: 15 }],
		['backwards-first', 0, { from: 0, to: 72_000 }],
		['overshoot', 15.4, { from: 0, to: 48_000 }],
		['two-axis-swing', 0, {}],
		// The first of 240 looks after the root of a negative number begins, at frame 15.
		['formula-not-finite', 15.125, { frame: 15.125 }],
		// x² at 0, 2 and 4.
		['formula-not-periodic', 0, { first: 4, second: 12 }],
		['scale-through-zero', 15.15625, {}],
		['blend-pop', 30, { part: 'crate', property: 'translation', value: 4, to: 'again' }],
	])('of %s tells frame %f and what it measured', (rule, frame, facts) => {
		const [, doc] = CASES.find(([own]) => own === rule)!;
		const finding = checkClip(doc, Object.values(doc.clips)[0]).find((own) => own.rule === rule)!;
		expect(finding.t / 2400).toBeCloseTo(frame, 1);
		for (const [name, value] of Object.entries(facts))
			expect(finding.facts[name]).toEqual(typeof value === 'number' ? expect.closeTo(value, 4) : value);
	});

	it('are grouped by their rule, and mended together', () => {
		const wobble: KeyRow[] = [
			[0, 0, linear],
			[10.3, 2, linear],
			[20.4, 1, linear],
			[30, 0],
		];
		const builder = new ProjectBuilder('Many', 'world', 30).startClip('clip', 30, ONCE);
		for (const name of ['a', 'b', 'c', 'd'])
			builder.part(name, { kind: 'box', size: [1, 1, 1] }).keys(name, 'translation.y', wobble);
		const doc = builder.build();
		const groups = groupFindings(doc, checkClip(doc, doc.clips.clip));
		const off = groups.find(({ title }) => title === 'A key between frames')!;
		expect([off.findings.length, off.isMany, off.mends.map(({ id }) => id)]).toEqual([4, true, ['snap']]);
		const mended = mendFindings(doc, off.findings, 'snap')!;
		expect(rulesOf(mended)).not.toContain('off-grid');
		expect(mendFindings({ ...doc, channels: {} }, off.findings, 'snap')).toBeNull();
	});

	it('has a case for every rule', () => {
		expect([...new Set(CASES.map(([rule]) => rule))].sort()).toEqual(RULES.map(({ id }) => id).sort());
	});

	it.each(MENDS)('%s is mended by "%s"', (rule, mend) => {
		const cases = CASES.filter(([own]) => own === rule);
		// The case may need one mend or another: each rule's own cases show all of its mends between them.
		const shown = cases.flatMap(([, doc]) =>
			checkClip(doc, Object.values(doc.clips)[0])
				.filter((finding) => finding.rule === rule && finding.mends.includes(mend))
				.map((finding) => ({ doc, finding })),
		);
		expect(shown.length).toBeGreaterThan(0);
		for (const { doc, finding } of shown) {
			const mended = mendFinding(doc, finding, mend)!;
			expect(mended).not.toBe(doc);
			const again = checkClip(mended, Object.values(mended.clips)[0]);
			expect(again.filter(({ rule: own, t }) => own === rule && t === finding.t)).toEqual([]);
		}
	});

	it('mends nothing where what it is about is gone', () => {
		const [, doc] = CASES[0];
		const [finding] = checkClip(doc, Object.values(doc.clips)[0]);
		expect(mendFinding({ ...doc, channels: {} }, finding, finding.mends[0])).toBe(null);
	});

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

	it('tells a jump at once after the first key, and how high a short rebound may be', () => {
		const jump = clipWith('translation.x', [
			[0, 0, linear],
			[1, 7, linear],
			[30, 8],
		]);
		expect(rulesOf(jump)).toContain('teleport');
		const rows: KeyRow[] = [
			[0, 3, fall],
			[8, 0, rise],
			[12, 1, fall],
			[16, 0, rise],
			[18, 1.5, fall],
			[20, 0],
		];
		const hurried = clipWith('translation.y', rows);
		const finding = checkClip(hurried, hurried.clips.clip).find(({ rule }) => rule === 'rebound-grows')!;
		// Half as long as the one before: a quarter as high.
		const mended = mendFinding(hurried, finding, 'lower')!;
		expect(Object.values(mended.channels)[0].keys[4].v).toBeCloseTo(0.25, 9);
	});

	it('finds nothing in the demo but a lamp that turns all the way round and a needle stopped early', () => {
		const found = [makeQuay(), makeParcelSlip()].flatMap((doc) =>
			Object.values(doc.clips).flatMap((clip) => checkClip(doc, clip).map(({ rule }) => [clip.name, rule])),
		);
		expect(found).toEqual([
			['lamp sweep', 'long-turn'],
			['gauge settles', 'spring-cut-short'],
		]);
	});
});

describe('what is meant', () => {
	const finds = (doc: Doc, rule: string) => checkClip(doc, doc.clips.clip).filter((own) => own.rule === rule);
	const squash: KeyRow[] = [
		[0, 1, eased(0.4, 0.4)],
		[5, 2, eased(0.4, 0.4)],
		[15, 1],
	];
	const part = () =>
		new ProjectBuilder('Check', 'world', 30).part('crate', { kind: 'empty' }).startClip('clip', 30, REPEAT);

	it('a squash that is over is not stuck while its part moves on; one of a still part is', () => {
		const alone = part().keys('crate', 'scale.y', squash);
		expect(finds(alone.build(), 'dead-hold')).toHaveLength(1);
		const moving = part()
			.keys('crate', 'scale.y', squash)
			.keys('crate', 'translation.x', [
				[0, 0, linear],
				[15, 3, linear],
				[30, 0],
			]);
		expect(finds(moving.build(), 'dead-hold')).toEqual([]);
	});

	it('nor is what has faded out', () => {
		const flash = part()
			.keys('crate', 'scale.y', squash)
			.keys('crate', 'opacity', [
				[0, 1, linear],
				[15, 0],
			]);
		expect(finds(flash.build(), 'dead-hold')).toEqual([]);
	});
});

describe('a swing about several axes', () => {
	const swing = (x: number, y: number, z: number) =>
		['x', 'y', 'z'].reduce(
			(builder, axis, i) =>
				builder.keys('crate', `rotation.${axis}`, [
					[0, 0, { kind: 'family', family: 'quad', way: 'in' }],
					[30, [x, y, z][i]],
				]),
			new ProjectBuilder('Check', 'world', 30).part('crate', { kind: 'empty' }).startClip('clip', 30),
		);

	it('is found where three quarter turns come to half of one', () => {
		const doc = swing(90, 90, 90).build();
		expect(checkClip(doc, doc.clips.clip).map(({ rule }) => rule)).toContain('two-axis-swing');
	});

	it('mended goes the short way between the same two poses, in the same time course', () => {
		const doc = swing(90, 60, -45).build();
		const finding = checkClip(doc, doc.clips.clip).find(({ rule }) => rule === 'two-axis-swing')!;
		const mended = mendFinding(doc, finding, 'short-way')!;
		const at = (own: Doc, t: number) => orientationIn(shownAt(own, 'clip', t).posed, own.parts.crate);
		const before = (t: number) => at(doc, t);
		const after = (t: number) => at(mended, t);
		for (const frame of [0, 30])
			expect(angleBetween(before(frame * 2400), after(frame * 2400))).toBeLessThan(1e-6);
		const whole = angleBetween(after(0), after(72_000));
		// Nothing but the one turn, at the pace of the shape: the square of the time.
		for (const share of [0.25, 0.5, 0.7]) {
			const [from, to] = [
				angleBetween(after(0), after(72_000 * share)),
				angleBetween(after(72_000 * share), after(72_000)),
			];
			expect(from + to).toBeCloseTo(whole, 4);
		}
		expect(angleBetween(after(0), after(36_000))).toBeCloseTo(whole / 4, 4);
		expect(angleBetween(after(0), after(7_200))).toBeCloseTo(0.01 * whole, 4);
		expect(Object.values(mended.channels).map(({ property }) => property)).toEqual(['orientation']);
	});
});
