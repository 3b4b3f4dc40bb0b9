import { NO_FILTER, type RowFilter } from './row-filter';
import { describe, expect, it, vi } from 'vitest';
import { curveOf } from '$core/clip/compile';
import { evaluateCurve } from '$player/curve/evaluate';
import { contextOf, setShape, setValue } from '$core/edits/keys';
import { partsInTree, type Doc } from '$core/document/types';
import { makeQuay } from '../../../demo/quay';
import { newFormula, putFormula } from '$core/edits/formulas';
import { turnShortWay } from '$core/edits/short-way';
import { channelOffers } from './channel-offers';
import { drawGround } from './draw-ground';
import { handlePoints } from './draw-keys';
import type { LanePicture } from './picture';
import { hitTest, keysWithin } from './hit';
import { columnTimes, layoutRows, rowsWithin, type LaneRow } from './rows';
import { frameStep, marks } from './ruler-steps';
import { snapToFrame } from '$core/time';
import { fastestOf } from '$lib/session/lane-speed';
import { updateProject } from '$core/edits/clips';
import { makeSnapper } from './snap';
import type { SnapSettings } from './snap-settings';
import { rangeOf, valuePerPixel, valueY } from './scale';

const quay = makeQuay();
const FRAME = 2400;

function layout(
	doc: Doc,
	clipId: string,
	options: {
		closed?: string[];
		showStill?: boolean;
		height?: number;
		picked?: string;
		filter?: RowFilter;
	} = {},
) {
	return layoutRows({
		tree: partsInTree(doc),
		channels: doc.channels,
		clip: doc.clips[clipId],
		closed: new Set(options.closed),
		heightOf: () => options.height ?? 56,
		showStill: options.showStill ?? false,
		stays: (part) => part === options.picked,
		filter: options.filter ?? NO_FILTER,
		formulas: doc.formulas,
	});
}

/** The lanes of a clip at ten pixels a frame. */
function picture(doc: Doc, clipId: string, height = 56): LanePicture {
	const clip = doc.clips[clipId];
	const curve = (id: string) => curveOf(doc.channels[id], clip);
	return {
		rows: layout(doc, clipId, { height }).rows,
		scrollTop: 0,
		width: 800,
		height: 600,
		x: (t) => (t / FRAME) * 10,
		ticksAt: (x) => (x / 10) * FRAME,
		clip,
		length: clip.length,
		frameRate: 30,
		unitAt: () => ' m',
		showsSpeed: () => false,
		gridLines: [],
		curve,
		tellsRange: () => false,
		range: (row) => rangeOf(curve(row.id), clip.length),
		context: (row) => contextOf(doc, row.channel),
		keys: new Map(),
		isPicked: () => false,
		pickedPart: null,
		pinned: () => undefined,
		raw: () => undefined,
		others: () => [],
		vector: () => undefined,
		formula: () => undefined,
		formulaRange: () => ({ low: 0, high: 1 }),
		palette: { hues: {} } as never,
	};
}
const laneOf = (p: LanePicture, id: string) =>
	p.rows.find((row): row is LaneRow => row.kind === 'lane' && row.id === id)!;
const SACK = 'sack-drop/mail-sack/translation/y';

describe('rows', () => {
	it('are the moving parts with their channels, parents first, in the order of the properties', () => {
		const { rows, stillParts } = layout(quay, 'sack-drop');
		expect(rows.filter((row) => row.kind === 'part').map((row) => row.id)).toEqual([
			'crane-arm',
			'rope',
			'mail-sack',
			'dust',
		]);
		expect(
			rows
				.filter((row) => row.kind !== 'part' && row.part.id === 'mail-sack')
				.map((row) => row.id.split('/').slice(2, 4).join(' ')),
		).toEqual(['translation x', 'translation y', 'rotation z', 'scale x', 'scale y']);
		expect(stillParts).toBe(Object.keys(quay.parts).length - 4);
	});

	it('lie one under the other, and a closed part hides its channels', () => {
		const { rows, height } = layout(quay, 'sack-drop', { closed: ['mail-sack'] });
		rows.forEach((row, i) => expect(row.top).toBe(i === 0 ? 0 : rows[i - 1].top + rows[i - 1].height));
		expect(height).toBe(rows.at(-1)!.top + rows.at(-1)!.height);
		expect(rows.some((row) => row.id === SACK)).toBe(false);
	});

	it('show a still part when it is picked or all are wanted', () => {
		expect(layout(quay, 'sack-drop', { picked: 'buoy' }).rows.some((row) => row.id === 'buoy')).toBe(true);
		expect(layout(quay, 'sack-drop', { showStill: true }).stillParts).toBe(0);
	});

	it('in sight are found by height', () => {
		const { rows } = layout(quay, 'sack-drop');
		const seen = rowsWithin(rows, 100, 300);
		expect(seen).toEqual(rows.filter((row) => row.top + row.height > 100 && row.top < 300));
		expect(
			columnTimes([quay.channels[SACK], quay.channels['sack-drop/mail-sack/scale/y']]).slice(0, 4),
		).toEqual([0, 4, 17, 18].map((f) => f * FRAME));
	});
});

describe('the pointer', () => {
	const p = picture(quay, 'sack-drop');
	const lane = laneOf(p, SACK);
	const yOf = (v: number) => lane.top + valueY(v, p.range(lane), lane.height);

	it('is on a key at its head and at its stake, on the line between keys, on the ground elsewhere', () => {
		expect(hitTest(p, 271, yOf(1.15) + 2)).toMatchObject({ kind: 'key', t: 27 * FRAME });
		expect(hitTest(p, 270, yOf(0.4))).toMatchObject({ kind: 'key', t: 27 * FRAME });
		const t = 30.5;
		const fallen = 1.15 * (1 - ((t - 27) / 8) ** 2);
		expect(hitTest(p, t * 10, yOf(fallen))).toMatchObject({ kind: 'span', t: 27 * FRAME });
		expect(hitTest(p, 315, yOf(3))).toMatchObject({ kind: 'lane' });
		// A target is 24 pixels wide, and its key the nearest.
		expect(hitTest(p, 270, yOf(1.15) - 11)).toMatchObject({ kind: 'key', t: 27 * FRAME });
		expect(hitTest(p, 270, yOf(1.15) - 13)).toMatchObject({ kind: 'lane' });
		expect(hitTest(p, 173, yOf(0))).toMatchObject({ kind: 'key', t: 17 * FRAME });
		// Where keys are a pixel apart, what is over them is ground, from which keys are selected.
		const dense = { ...p, x: (t: number) => t / FRAME };
		expect(hitTest(dense, 27, yOf(1.15) - 5)).toMatchObject({ kind: 'key' });
		expect(hitTest(dense, 27, yOf(1.15) - 9)).toMatchObject({ kind: 'lane' });
		expect(hitTest(p, 700, 2000)).toEqual({ kind: 'none' });
	});

	it('is on a whole column of keys in the row of a part', () => {
		const part = p.rows.find((row) => row.kind === 'part' && row.id === 'mail-sack')!;
		expect(hitTest(p, 172, part.top + 10)).toMatchObject({ kind: 'column', t: 17 * FRAME });
		expect(hitTest(p, 225, part.top + 10)).toMatchObject({ kind: 'part' });
	});

	it('reaches the handles of selected keys in tall lanes only', () => {
		const doc = setShape(quay, new Map([[SACK, new Set([27 * FRAME])]]), { kind: 'handles' });
		const tall = { ...picture(doc, 'sack-drop', 180), keys: new Map([[SACK, new Set([27 * FRAME])]]) };
		const row = laneOf(tall, SACK);
		const index = row.channel.keys.findIndex((key) => key.t === 27 * FRAME);
		const [right] = handlePoints(row, index, tall.context(row)).filter((point) => point.side === 'right');
		const y = row.top + valueY(right.v, tall.range(row), row.height);
		expect(hitTest(tall, tall.x(right.t), y)).toMatchObject({ kind: 'handle', side: 'right', t: 27 * FRAME });
		// Between a key and its handle the nearer one counts.
		const head = row.top + valueY(row.channel.keys[index].v, tall.range(row), row.height);
		const between = (share: number) =>
			hitTest(tall, 270 + share * (tall.x(right.t) - 270), head + share * (y - head)).kind;
		const short = 11 / Math.hypot(tall.x(right.t) - 270, y - head);
		expect([between(short), between(1 - short)]).toEqual(['key', 'handle']);
		const low = { ...picture(doc, 'sack-drop', 56), keys: tall.keys };
		expect(hitTest(low, low.x(right.t), laneOf(low, SACK).top + 10).kind).not.toBe('handle');
	});

	it('picks the stakes that a rectangle touches', () => {
		const found = keysWithin(p, [lane], { left: 100, right: 360, top: lane.top + 30, bottom: lane.top + 55 });
		expect([...found.get(SACK)!].map((t) => t / FRAME)).toEqual([17, 19, 27, 35, 36]);
		expect(
			keysWithin(p, [lane], { left: 100, right: 360, top: lane.top + 500, bottom: lane.top + 600 }).size,
		).toBe(0);
	});
});

describe('scales', () => {
	it('map values to heights and pixels back to values', () => {
		const range = { low: -1, high: 3 };
		const perPixel = valuePerPixel(range, 120);
		expect(valueY(-1, range, 120) - valueY(3, range, 120)).toBeCloseTo(4 / perPixel, 9);
		expect(valueY(5, { low: 5, high: 5 }, 100)).toBeGreaterThan(20);
	});

	it('put marks on whole frames, far enough apart to be read', () => {
		const step = frameStep(400, 30, 46);
		expect([(step * FRAME) / 400 >= 46, step]).toEqual([true, 10]);
		expect(marks(-500, 60 * FRAME, 15, 30)).toEqual([0, 15, 30, 45, 60].map((f) => f * FRAME));
	});
});

describe('a switch', () => {
	const address = { clip: 'sack-drop', part: 'dust', property: 'visible', component: 'value' } as const;
	const doc = [
		[10, 0],
		[20, 1],
		[40, 0],
	].reduce((next, [frame, v]) => setValue(next, address, frame * FRAME, v), quay);
	const p = picture(doc, 'sack-drop');
	const row = laneOf(p, 'sack-drop/dust/visible/value');
	const at = (frame: number) => hitTest(p, 10 * frame, row.top + 20);

	it('is taken hold of where it is on, with the keys at its ends', () => {
		expect(at(30)).toMatchObject({ kind: 'bar', t: 20 * FRAME, ends: [20 * FRAME, 40 * FRAME] });
		expect(at(15)).toMatchObject({ kind: 'lane' });
		expect(at(60)).toMatchObject({ kind: 'lane' });
	});
});

describe('what is dragged along time comes to rest', () => {
	const cue = Object.values(quay.cues).find((own) => own.clip === 'sack-drop')!;
	/** At ten pixels a frame. */
	const speeds = new Set<string>();
	function snapper({ step: snapStep, ...change }: Partial<SnapSettings> & { step?: number }, moving = {}) {
		const snap = { keys: false, cues: false, playhead: false, ...change };
		const session = {
			clip: quay.clips['sack-drop'],
			doc: updateProject(quay, { snapStep }),
			frameRate: 30,
			transport: { local: 33.4 * FRAME },
			view: { speeds },
		};
		return makeSnapper(session as never, { snap, ticksPerPixel: FRAME / 10 }, moving);
	}

	it('on frames, or on every so many; with Ctrl where it is', () => {
		expect(snapper({})(12.3 * FRAME, false)).toBe(12 * FRAME);
		expect(snapper({ step: 5 })(12.6 * FRAME, false)).toBe(15 * FRAME);
		expect(snapper({ step: 5 })(12.6 * FRAME, true)).toBe(12.6 * FRAME);
		expect(snapper({ step: 0 })(12.6 * FRAME, false)).toBe(12.6 * FRAME);
	});

	it('on a key, a cue or the playhead that is nearer than the grid, within a few pixels', () => {
		// Keys stand at 17 and 24, none between 20 and 24.
		expect(snapper({ step: 10, keys: true })(17.4 * FRAME, false)).toBe(17 * FRAME);
		expect(snapper({ step: 10, keys: true })(22.5 * FRAME, false)).toBe(20 * FRAME);
		expect(snapper({ step: 0, keys: true })(22.5 * FRAME, false)).toBe(22.5 * FRAME);
		expect(snapper({ step: 0, cues: true })(cue.t + 100, false)).toBe(cue.t);
		expect(snapper({ playhead: true })(33.5 * FRAME, false)).toBe(Math.round(33.4 * FRAME));
		// A neighbour does not draw a key off the frame that is nearer still.
		expect(snapper({ keys: true })(16.2 * FRAME, false)).toBe(16 * FRAME);
	});

	it('on the frame at which a channel is fastest, while its speed is shown', () => {
		const id = 'sack-drop/mail-sack/translation/y';
		const at = snapToFrame(fastestOf(quay.channels[id], quay.clips['sack-drop']).at, 30);
		const near = at + 0.6 * FRAME;
		expect(snapper({ step: 100 })(near, false)).not.toBe(at);
		speeds.add(id);
		expect(snapper({ step: 100 })(near, false)).toBe(at);
		speeds.clear();
	});

	it('but not on what is moving itself', () => {
		const keys = new Map(
			Object.values(quay.channels)
				.filter((channel) => channel.clip === 'sack-drop')
				.map((channel) => [channel.id, new Set(channel.keys.map((key) => key.t))]),
		);
		expect(snapper({ step: 0, keys: true }, { keys })(17.1 * FRAME, false)).toBe(Math.round(17.1 * FRAME));
		expect(snapper({ step: 0, cues: true }, { cue: cue.id })(cue.t + 10, false)).not.toBe(cue.t);
	});
});

describe('a loop goes on in pale after its clip', () => {
	/** The places that lines in pale go through when a lane is drawn. */
	function paleLine(doc: Doc, clip: string, id: string): { x: number; y: number }[] {
		const now = picture(doc, clip);
		const line: { x: number; y: number }[] = [];
		const c = {
			globalAlpha: 1,
			lineTo(x: number, y: number) {
				if (this.globalAlpha < 1) line.push({ x, y });
			},
			...Object.fromEntries(
				['beginPath', 'moveTo', 'stroke', 'fill', 'setLineDash'].map((name) => [name, () => {}]),
			),
		};
		vi.stubGlobal(
			'Path2D',
			class {
				moveTo() {}
				lineTo() {}
			},
		);
		drawGround(c as unknown as CanvasRenderingContext2D, laneOf(now, id), 0, now);
		vi.unstubAllGlobals();
		return line;
	}
	const HOP = 'pelican-hop/pelican/translation/';
	const valueOf = (id: string, frame: number) =>
		evaluateCurve(curveOf(quay.channels[id], quay.clips[quay.channels[id].clip]), frame * FRAME);
	const yOf = (clip: string, id: string, value: number) => {
		const now = picture(quay, clip);
		return valueY(value, now.range(laneOf(now, id)), 56);
	};

	it('again from its start, or farther by what a round gains', () => {
		// Ten pixels a frame: the second round of 30 frames is at 300 to 600.
		const height = paleLine(quay, 'pelican-hop', `${HOP}y`).find(({ x }) => x === 440)!;
		expect(height.y).toBeCloseTo(yOf('pelican-hop', `${HOP}y`, valueOf(`${HOP}y`, 14)), 6);
		const way = paleLine(quay, 'pelican-hop', `${HOP}x`);
		const gain = valueOf(`${HOP}x`, 30) - valueOf(`${HOP}x`, 0);
		expect(way.find(({ x }) => x === 440)!.y).toBeCloseTo(
			yOf('pelican-hop', `${HOP}x`, valueOf(`${HOP}x`, 14) + gain),
			6,
		);
		expect([way[0].x, way.at(-1)!.x]).toEqual([300, 800]);
	});

	it('back again where it alternates, as often as it plays, and not at all where it plays once', () => {
		const looping = (mode: 'once' | 'alternate', count: number | null): Doc => {
			const clip = { ...quay.clips['pelican-hop'], loop: { mode, count, pause: 0 } };
			return { ...quay, clips: { ...quay.clips, 'pelican-hop': clip } };
		};
		const back = paleLine(looping('alternate', 2), 'pelican-hop', `${HOP}y`);
		expect(back.find(({ x }) => x === 500)!.y).toBeCloseTo(
			yOf('pelican-hop', `${HOP}y`, valueOf(`${HOP}y`, 10)),
			6,
		);
		expect(back.at(-1)!.x).toBe(600);
		expect(paleLine(looping('once', null), 'pelican-hop', `${HOP}y`)).toEqual([]);
	});
});

describe('channels that a part can be given', () => {
	const doc = makeQuay();
	const told = (of: Doc, part: string) =>
		channelOffers(of, 'sack-drop', of.parts[part])
			.filter(({ property }) => property === 'orientation' || property === 'rotation')
			.map(({ label, why, replaces }) => `${label}${why && `: ${why}`}${replaces ? ', instead' : ''}`);

	it('are all that it has not yet; by angles or by an orientation, with a word where one is in the way', () => {
		expect(told(doc, 'pelican')).toEqual(['rotation x', 'rotation y', 'rotation z', 'orientation']);
		expect(told(doc, 'mail-sack')).toEqual(['rotation x', 'rotation y', 'orientation, instead']);
		expect(told(turnShortWay(doc, 'sack-drop', 'mail-sack'), 'mail-sack')).toEqual(
			['x', 'y', 'z'].map((axis) => `rotation ${axis}: an orientation turns it here`),
		);
		const formula = newFormula('sack-drop', 'mail-sack', 'rotation', 'x');
		expect(told(putFormula(doc, formula), 'mail-sack')).toEqual([
			'rotation y',
			'orientation: its rotation is by a formula, or accumulates',
		]);
		const labels = channelOffers(doc, 'sack-drop', doc.parts['mail-sack']).map(({ label }) => label);
		expect(labels).not.toContain('translation y');
		expect(labels).toContain('visible');
	});
});
