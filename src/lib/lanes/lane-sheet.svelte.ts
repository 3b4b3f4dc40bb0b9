/** What the lanes show now: which rows are in sight, and all that is needed to draw them. */
import { curveOf, vectorOf } from '$core/clip/compile';
import { traceOf } from '$core/clip/trace';
import { evaluateVector } from '$player/curve/vector';
import { contextOf } from '$core/edits/keys';
import { isVector } from '$core/document/types';
import { channelLabel } from '$core/document/labels';
import { unitAt } from '$core/document/units';
import { takeWorkOf } from '$lib/acts/take-work.svelte';
import type { Session } from '$lib/session/session.svelte';
import { handlePoints, showsHandles } from './draw-keys';
import type { LaneView } from './lane-view.svelte';
import type { LaidOver, LanePicture, Palette } from './picture';
import { layoutRows, rowsWithin, type LaneRow } from './rows';
import { frameStep, marks } from './ruler-steps';
import { rangeOf, type ValueRange } from './scale';

/** Places at which the range of a formula is looked for. */
const FORMULA_SAMPLES = 97;

function spanned(a: ValueRange, b: ValueRange): ValueRange {
	return { low: Math.min(a.low, b.low), high: Math.max(a.high, b.high) };
}

export class LaneSheet {
	scrollTop = $state(0);
	height = $state(400);
	palette = $state.raw<Palette | null>(null);
	/** The lane that the pointer is on. */
	pointed = $state<string | null>(null);
	/** Ranges stay as they were while a drag goes on, so that the ground does not move under the pointer. */
	private frozen: Map<string, ValueRange> | null = null;

	constructor(
		private readonly session: Session,
		private readonly view: LaneView,
	) {}

	readonly layout = $derived.by(() => {
		const { session, view } = this;
		const { clip } = session;
		return clip
			? layoutRows({
					tree: session.project.tree,
					channels: session.doc.channels,
					formulas: session.doc.formulas,
					clip,
					closed: view.closed,
					heightOf: (id) => view.heightOf(id),
					showStill: view.showStill,
					stays: (part) => part === session.selection.partId || session.view.isNew(part),
					filter: view.filter,
				})
			: { rows: [], height: 0, stillParts: 0 };
	});
	readonly visible = $derived.by(() =>
		rowsWithin(this.layout.rows, this.scrollTop, this.scrollTop + this.height),
	);

	/** Formulas in sight: what they give over time, and their range. */
	private readonly formulas = $derived.by(() => {
		const { compiled } = this.session;
		const found = new Map<string, { read: (t: number, round?: number) => number; range: ValueRange }>();
		if (!compiled) return found;
		for (const row of this.visible) {
			const own = compiled.formulas.order.find(({ formula }) => formula.id === row.id);
			if (!own) continue;
			const { read } = traceOf(compiled, own.place);
			const { length } = compiled.clip;
			const values = Array.from({ length: FORMULA_SAMPLES }, (_, i) =>
				read((length * i) / (FORMULA_SAMPLES - 1)),
			);
			found.set(row.id, { read, range: { low: Math.min(...values), high: Math.max(...values) } });
		}
		return found;
	});

	/** Curves of the pinned version, where they differ from what is there now. */
	private readonly pinnedCurves = $derived.by(
		() =>
			new Map(
				this.session.pinnedClip?.channels
					.filter(({ channel }) => this.session.doc.channels[channel.id] !== channel)
					.map(({ channel, curve }) => [channel.id, curve]),
			),
	);

	readonly picture = $derived.by((): LanePicture | null => {
		const { session, view, palette, formulas, pinnedCurves } = this;
		const { clip, doc } = session;
		if (!clip || !palette) return null;
		// Read once: a picture asks for them at every key.
		const { from, ticksPerPixel } = view;
		const step = frameStep(ticksPerPixel, session.frameRate, 46);
		// Read here, since what is drawn later is not watched.
		const { values, together } = view;
		const { speeds } = session.view;
		const { pointed } = this;
		const { tellsRanges } = view;
		const { raw } = takeWorkOf(session);
		return {
			rows: this.visible,
			scrollTop: this.scrollTop,
			width: view.width,
			height: this.height,
			x: (t) => (t - from) / ticksPerPixel,
			ticksAt: (x) => from + x * ticksPerPixel,
			clip,
			length: clip.length,
			frameRate: session.frameRate,
			unitAt: (place) => unitAt(doc, place),
			showsSpeed: (id) => speeds.has(id),
			gridLines: marks(view.from, view.ticksAt(view.width), step, session.frameRate),
			curve: (id) => (doc.channels[id] ? curveOf(doc.channels[id], clip) : undefined),
			pinned: (id) => pinnedCurves.get(id),
			raw: (id) => raw.get(id),
			others: (id) => this.laidOver(id, together),
			vector: (id, t, out) => evaluateVector(vectorOf(doc.channels[id], clip), t, out),
			formula: (id) => formulas.get(id)?.read,
			formulaRange: (row) => formulas.get(row.id)?.range ?? { low: 0, high: 0 },
			tellsRange: (id) => tellsRanges || id === pointed,
			range: (row) => values[row.id] ?? this.rangeOf(row),
			context: (row) => contextOf(doc, row.channel),
			keys: session.selection.keys,
			isPicked: (id) => session.selection.isChannelPicked(id),
			pickedPart: session.selection.partId,
			palette,
		};
	});

	/** The range of a lane, with the handles of its selected keys where the lane is tall enough to show them. */
	private rangeOf(row: LaneRow): ValueRange {
		const { session, view } = this;
		const { doc } = session;
		const clip = session.clip!;
		// Keys of colours and orientations have no height.
		if (isVector(row.channel.property)) return { low: 0, high: 0 };
		let range = rangeOf(curveOf(row.channel, clip), clip.length);
		const before = this.pinnedCurves.get(row.id);
		if (before) range = spanned(range, rangeOf(before, clip.length));
		const picked = showsHandles(row) ? session.selection.keys.get(row.id) : undefined;
		if (picked) {
			const context = contextOf(doc, row.channel);
			row.channel.keys.forEach((key, index) => {
				if (!picked.has(key.t)) return;
				for (const { v } of handlePoints(row, index, context)) range = spanned(range, { low: v, high: v });
			});
		}
		if (view.together.includes(row.id))
			for (const id of view.together) {
				const other = doc.channels[id];
				if (other) range = spanned(range, rangeOf(curveOf(other, clip), clip.length));
			}
		const kept = this.frozen?.get(row.id);
		return kept ? spanned(kept, range) : range;
	}

	/** What else is drawn in a lane, when it is laid over others. */
	private laidOver(id: string, together: readonly string[]): LaidOver[] {
		const { clip, doc } = this.session;
		if (!clip || !together.includes(id)) return [];
		return together.flatMap((other) => {
			const channel = doc.channels[other];
			if (other === id || !channel) return [];
			const part = doc.parts[channel.part];
			const name = `${part?.name ?? ''} ${channelLabel(channel.property, channel.component, part)}`;
			return [{ name, property: channel.property, curve: curveOf(channel, clip) }];
		});
	}

	freeze(): void {
		this.frozen = new Map();
		for (const row of this.layout.rows) if (row.kind === 'lane') this.frozen.set(row.id, this.rangeOf(row));
	}
	thaw(): void {
		this.frozen = null;
	}
}
