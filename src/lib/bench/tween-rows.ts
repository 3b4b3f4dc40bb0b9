/** The lines of the tween dialog: what each says, what stands in its way, and what pasted CSS makes of them. */
import type { Shape } from '$player/easing/shape';
import { secondsToTicks, ticksToSeconds } from '$player/time';
import { valueAt, type Tween, type TweenValue } from '$core/edits/tween';
import { numbersOf } from '$core/document/rest';
import { channelId, formulaId, kindOf, type Component, type Doc, type Property } from '$core/document/types';
import { channelLabel } from '$core/document/labels';
import { cssEasing, readCssEasing } from '$core/easing/css';
import type { CssMotion } from '$core/easing/css-declaration';
import { frameToTicks, MAX_CLIP_TICKS, ticksToFrame } from '$core/time';
import { SHAPE_SHEET } from './shapes';

export interface Row {
	part: string;
	/** `property/component`. */
	what: string;
	/** Null: what it is at the start. */
	from: TweenValue | null;
	relative: boolean;
	to: TweenValue;
	/** Frames. */
	start: number;
	delay: number;
	/** In `unit`. */
	duration: number;
	unit: 'frames' | 'seconds' | 'ms';
	easing: string;
}

export const EASINGS = SHAPE_SHEET.map(({ name, shape }) => ({ name, shape, css: cssEasing(shape) }));

export const propertyOf = ({ what }: Row) => what.split('/')[0] as Property;

/** What a line can be about: all of a part but its orientation, whose key is no number and no colour. */
export function choicesOf(doc: Doc, part: string) {
	const owner = doc.parts[part];
	return (owner ? numbersOf(owner) : [])
		.filter(({ property }) => property !== 'orientation')
		.map(({ property, component }) => ({
			value: `${property}/${component}`,
			label: channelLabel(property, component, owner),
		}));
}

/** The lines of one clip at one frame rate. */
export class TweenLines {
	constructor(
		private readonly doc: Doc,
		private readonly clip: string,
	) {}

	private get rate(): number {
		return this.doc.project.frameRate;
	}
	private ticksOf(value: number, unit: Row['unit']): number {
		if (unit === 'frames') return frameToTicks(value, this.rate);
		return secondsToTicks(unit === 'ms' ? value / 1000 : value);
	}

	addressOf({ part, what }: Pick<Row, 'part' | 'what'>) {
		const [property, component] = what.split('/') as [Property, Component];
		return { clip: this.clip, part, property, component };
	}
	private idOf(row: Row): string {
		const { clip, part, property, component } = this.addressOf(row);
		return channelId(clip, part, property, component);
	}
	startOf(row: Row): number {
		return frameToTicks(row.start + row.delay, this.rate);
	}
	endOf(row: Row): number {
		return this.startOf(row) + this.ticksOf(row.duration, row.unit);
	}
	/** What the line's number or colour is where it starts. */
	nowOf(row: Pick<Row, 'part' | 'what' | 'start'>): TweenValue {
		if (!this.doc.parts[row.part]) return 0;
		return valueAt(this.doc, this.addressOf(row), frameToTicks(row.start, this.rate));
	}

	/** A line about something else: its values are what that is now. */
	about(row: Row, part: string, what: string): Row {
		const choices = choicesOf(this.doc, part);
		const own = choices.some(({ value }) => value === what) ? what : (choices[0]?.value ?? what);
		const to = this.nowOf({ part, what: own, start: row.start });
		const isLike = kindOf(own.split('/')[0] as Property) === kindOf(propertyOf(row));
		// Of the same kind a value that was typed stays.
		return isLike
			? { ...row, part, what: own }
			: { ...row, part, what: own, from: row.from === null ? null : to, to, relative: false };
	}

	/** The duration in another unit: as long as it was. */
	inUnit({ duration, unit: old }: Row, unit: Row['unit']): Pick<Row, 'duration' | 'unit'> {
		const ticks = this.ticksOf(duration, old);
		const seconds = ticksToSeconds(ticks);
		const value =
			unit === 'frames' ? ticksToFrame(ticks, this.rate) : unit === 'ms' ? 1000 * seconds : seconds;
		return { duration: Number(value.toFixed(3)), unit };
	}

	/** The line before some other that moves the same at the same time; −1 for none. */
	private overlapped(row: Row, before: readonly Row[]): number {
		return before.findIndex(
			(other) =>
				this.idOf(other) === this.idOf(row) &&
				this.startOf(other) < this.endOf(row) &&
				this.startOf(row) < this.endOf(other),
		);
	}

	/** Another line like the last: of another component at the same time, or after it where none is free. */
	next(rows: readonly Row[]): Row {
		const last = rows.at(-1)!;
		const free = choicesOf(this.doc, last.part)
			.map(({ value }) => ({ ...last, what: value }))
			.find((row) => propertyOf(row) === propertyOf(last) && this.overlapped(row, rows) < 0);
		if (!free) return { ...last, start: ticksToFrame(this.endOf(last), this.rate), delay: 0 };
		return { ...free, to: last.relative ? last.to : this.nowOf(free) };
	}

	/** What stands in the way of a line; empty when nothing does. */
	wrongOf(row: Row, index: number, rows: readonly Row[]): string {
		if (!this.doc.parts[row.part]) return 'Choose a part.';
		const { clip, part, property, component } = this.addressOf(row);
		if (this.doc.formulas[formulaId(clip, part, property, component)]) return 'A formula computes this.';
		if (shapeOf(row) === null) return 'This easing is not known.';
		if (this.endOf(row) - this.startOf(row) < 1) return 'It must last longer.';
		if (this.endOf(row) > MAX_CLIP_TICKS) return 'It would end after 600 s.';
		const other = this.overlapped(row, rows.slice(0, index));
		return other < 0 ? '' : `Line ${other + 1} moves the same at that time.`;
	}

	tweenOf(row: Row): Tween {
		return {
			...this.addressOf(row),
			from: row.from,
			to: row.relative && typeof row.to === 'number' ? { by: row.to } : { value: row.to },
			start: this.startOf(row),
			duration: this.ticksOf(row.duration, row.unit),
			shape: shapeOf(row)!,
		};
	}

	/**
	 * Lines that CSS declarations say: transitions one a property, on the part of the first line; of animations, which name
	 * keyframes that are not here, the time and the easing of all lines. Also what could not be taken, in sentences.
	 */
	fromCss(motions: readonly CssMotion[], rows: readonly Row[]): { rows: Row[]; told: string[] } {
		const told = new Set<string>();
		const timed = (row: Row, { duration, delay, easing }: CssMotion): Row => {
			if (delay < 0) told.add('A delay below 0 is left out: the motion begins at the start.');
			const frames = ticksToFrame(secondsToTicks(Math.max(0, delay)), this.rate);
			return {
				...row,
				delay: Number(frames.toFixed(3)),
				duration: Number((1000 * duration).toFixed(3)),
				unit: 'ms',
				easing: cssEasing(easing)!,
			};
		};
		const [base] = rows;
		const choices = choicesOf(this.doc, base.part).map(({ value }) => value);
		const made = motions
			.filter(({ kind, name }) => kind === 'transition' && name !== null)
			.flatMap((motion) => {
				const whats = whatsOf(motion.name!, base).filter((what) => choices.includes(what));
				if (whats.length === 0)
					told.add(`“${motion.name}” is left out: ${this.doc.parts[base.part].name} has nothing like it.`);
				return whats.map((what) => {
					const row = this.about({ ...base, relative: false }, base.part, what);
					return timed({ ...row, to: what === base.what ? row.to : this.nowOf(row) }, motion);
				});
			});
		const animations = motions.filter(({ kind }) => kind === 'animation');
		if (animations.length > 1) told.add('Of several animations the first is taken.');
		if (animations.some(({ iterations, direction }) => iterations !== 1 || direction !== 'normal'))
			told.add('Iterations and direction belong to the clip: its loop stands on the Clip card.');
		const [animation] = animations;
		const all = made.length > 0 ? made : [...rows];
		return {
			rows: animation && made.length === 0 ? all.map((row) => timed(row, animation)) : all,
			told: [...told],
		};
	}
}

export function shapeOf({ easing }: Row): Shape | null {
	const known = EASINGS.find(({ name }) => name.toLowerCase() === easing.trim().toLowerCase());
	if (known) return known.shape;
	const read = readCssEasing(easing);
	return read.ok ? read.value : null;
}

/** What properties of CSS are here. */
const CSS_PROPERTIES: Readonly<Record<string, readonly string[]>> = {
	opacity: ['opacity/value'],
	visibility: ['visible/value'],
	translate: ['translation/x', 'translation/y'],
	left: ['translation/x'],
	top: ['translation/y'],
	rotate: ['rotation/z'],
	scale: ['scale/x', 'scale/y'],
	width: ['size/x'],
	height: ['size/y'],
	'border-radius': ['radius/value'],
	'background-color': ['colour/value'],
	background: ['colour/value'],
	color: ['colour/value'],
	fill: ['colour/value'],
	'clip-path': ['reveal/top', 'reveal/right', 'reveal/bottom', 'reveal/left'],
	'stroke-width': ['stroke/value'],
	'stroke-dashoffset': ['trim/start'],
};
const TRANSFORMS = ['translation', 'rotation', 'scale'];

/** A transform is what the line moves already, or a move; `all` is what the line is about. */
function whatsOf(name: string, base: Row): readonly string[] {
	const low = name.toLowerCase();
	if (low === 'all') return [base.what];
	if (low === 'transform') return TRANSFORMS.includes(propertyOf(base)) ? [base.what] : ['translation/x'];
	return Object.hasOwn(CSS_PROPERTIES, low) ? CSS_PROPERTIES[low] : [];
}
