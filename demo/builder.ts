/** A short way to write a project in code: parts by name, keys by frame. */
import type { HandleSide, Key } from '../core/curve/types';
import type { Shape } from '../player/easing/shape';
import { putLayer, putMix, putRehearsal, putTrigger } from '../core/edits/triggers';
import type { RehearsalInput, RehearsalLimits } from '../core/document/rehearsals';
import type { Layer, TriggerDeed, TriggerMoment } from '../core/document/triggers';
import { putBlend } from '../core/edits/clips';
import { HOLD_ENDS, setShape, setVector } from '../core/edits/keys';
import { REST } from '../core/edits/parts';
import {
	channelId,
	emptyDoc,
	type BlendKind,
	type Component,
	type Doc,
	formulaId,
	type Drawing,
	type Formula,
	type Property,
	type RestPose,
} from '../core/document/types';
import type { Loop } from '../player/loop';
import type { Space } from '../core/pose/space';
import type { Vec3 } from '../player/maths/vector';
import { parseHex } from '../core/pose/hex';
import { frameToTicks } from '../core/time';

export const ONCE: Loop = { mode: 'once', count: null, pause: 0 };
export const REPEAT: Loop = { mode: 'repeat', count: null, pause: 0 };

export const hold: Shape = { kind: 'hold' };
export const linear: Shape = { kind: 'linear' };
export const fall: Shape = { kind: 'fall' };
export const rise: Shape = { kind: 'rise' };
export const handles: Shape = { kind: 'handles' };
export const eased = (start: number, finish: number): Shape => ({ kind: 'eased', start, finish });

const SMOOTH: HandleSide = { mode: 'smooth' };

/** [frame, value, shape of the span that follows] */
export type KeyRow = [frame: number, value: number, shape?: Shape];

export interface PartOptions {
	parent?: string;
	colour?: string;
	at?: Vec3;
	turn?: Vec3;
	scale?: Vec3;
	opacity?: number;
}

type DrawingInput = Drawing extends infer D
	? D extends Drawing
		? Omit<D, 'offset'> & { offset?: Vec3 }
		: never
	: never;

/** Builds a document. Ids come from names, so the same code makes the same file. */
export class ProjectBuilder {
	private doc: Doc;
	private clip = '';
	private count = 0;

	constructor(
		name: string,
		space: Space,
		private readonly frameRate: number,
	) {
		const project = { type: 'project' as const, id: slug(name), name, space, frameRate };
		this.doc = emptyDoc(project);
	}

	private order(): string {
		// Fractional indices in a row: a0, a1, … aZ, then b00 …
		const n = this.count++;
		const digits = '0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz';
		return n < 62 ? `a${digits[n]}` : `b${digits[Math.floor((n - 62) / 62)]}${digits[(n - 62) % 62]}`;
	}

	part(name: string, drawing: DrawingInput, options: PartOptions = {}): this {
		const rest: RestPose = {
			translation: options.at ?? REST.translation,
			rotation: options.turn ?? REST.rotation,
			scale: options.scale ?? REST.scale,
			opacity: options.opacity ?? 1,
		};
		const id = slug(name);
		const part = {
			type: 'part' as const,
			id,
			name,
			parent: options.parent ? slug(options.parent) : null,
			order: this.order(),
			drawing: { offset: [0, 0, 0], ...drawing } as Drawing,
			colour: options.colour ?? '#5c6b73',
			rest,
			eulerOrder: 'XYZ' as const,
			visible: true,
		};
		this.doc = { ...this.doc, parts: { ...this.doc.parts, [id]: part } };
		return this;
	}

	startClip(name: string, frames: number, loop: Loop = ONCE, note = ''): this {
		this.clip = slug(name);
		const clip = {
			type: 'clip' as const,
			id: this.clip,
			name,
			order: this.order(),
			length: frameToTicks(frames, this.frameRate),
			loop,
			note,
		};
		this.doc = { ...this.doc, clips: { ...this.doc.clips, [clip.id]: clip } };
		return this;
	}

	/** Keys of `part · property · component`, e.g. `keys('mail sack', 'translation.y', [0, 3], [9, 0])`. */
	keys(part: string, path: string, rows: readonly KeyRow[], accumulates = false): this {
		const [property, component = 'value'] = path.split('.') as [Property, Component];
		const id = channelId(this.clip, slug(part), property, component);
		const keys = rows.map(([frame, v, shape = linear]): Key => {
			// Adding 0 turns −0 into 0, which is what JSON has.
			const key: Key = { t: frameToTicks(frame, this.frameRate), v: v + 0, shape };
			return shape.kind === 'handles' ? { ...key, left: SMOOTH, right: SMOOTH } : key;
		});
		const channel = {
			type: 'channel' as const,
			id,
			clip: this.clip,
			part: slug(part),
			property,
			component,
			keys,
			ends: HOLD_ENDS,
			accumulates,
		};
		this.doc = { ...this.doc, channels: { ...this.doc.channels, [id]: channel } };
		return this;
	}

	/** Computes `part · property · component` from inputs: other channels by `part · path`, or constants. */
	formula(part: string, path: string, text: string, inputs: Readonly<Record<string, string | number>>): this {
		const addressOf = (name: string, of: string) => {
			const [property, component = 'value'] = of.split('.') as [Property, Component];
			return { part: slug(name), property, component };
		};
		const own = addressOf(part, path);
		const id = formulaId(this.clip, own.part, own.property, own.component);
		const formula: Formula = {
			type: 'formula',
			id,
			clip: this.clip,
			...own,
			text,
			inputs: Object.fromEntries(
				Object.entries(inputs).map(([name, input]) => {
					if (typeof input === 'number') return [name, { value: input }];
					const [of, from] = input.split('/');
					return [name, addressOf(of, from)];
				}),
			),
		};
		this.doc = { ...this.doc, formulas: { ...this.doc.formulas, [id]: formula } };
		return this;
	}

	/** Colours of a part by frame, as `#rrggbb`. */
	colours(part: string, rows: readonly [frame: number, colour: string, shape?: Shape][]): this {
		const address = { clip: this.clip, part: slug(part), property: 'colour', component: 'value' } as const;
		for (const [frame, colour, shape = linear] of rows) {
			const t = frameToTicks(frame, this.frameRate);
			this.doc = setVector(this.doc, address, t, parseHex(colour));
			const id = channelId(this.clip, address.part, 'colour', 'value');
			this.doc = setShape(this.doc, new Map([[id, new Set([t])]]), shape);
		}
		return this;
	}

	cue(name: string, frame: number, payload: unknown = null): this {
		const id = `${this.clip}-${slug(name)}-${frame}`;
		const cue = {
			type: 'cue' as const,
			id,
			clip: this.clip,
			name,
			t: frameToTicks(frame, this.frameRate),
			payload,
		};
		this.doc = { ...this.doc, cues: { ...this.doc.cues, [id]: cue } };
		return this;
	}

	blend(from: string, to: string, kind: BlendKind, seconds: number, shape: Shape = eased(0.4, 0.4)): this {
		const ends = { from: slug(from), to: slug(to) };
		this.doc = putBlend(this.doc, { ...ends, kind, seconds, start: 'start', shape });
		return this;
	}

	/** A layer for some parts, or for all; its id is its name behind `layer-`. */
	layer(name: string, parts: readonly string[] | null, own: Partial<Layer> = {}): this {
		const layer: Layer = {
			type: 'layer',
			id: `layer-${slug(name)}`,
			order: this.order(),
			name,
			mode: 'replace',
			weight: 1,
			parts: parts && parts.map(slug),
			parameter: null,
			...own,
		};
		this.doc = putLayer(this.doc, layer);
		return this;
	}

	/** A trigger whose clips, parts and layers are told by their ids. */
	trigger(when: TriggerMoment, then: TriggerDeed, delay = 0): this {
		const order = this.order();
		this.doc = putTrigger(this.doc, { type: 'trigger', id: `trigger-${order}`, order, when, then, delay });
		return this;
	}

	/** Clips by their names, from where to where along a parameter each plays. */
	mix(name: string, parameter: string, stops: readonly (readonly [clip: string, at: number])[]): this {
		this.doc = putMix(this.doc, {
			type: 'mix',
			id: `mix-${slug(name)}`,
			order: this.order(),
			name,
			parameter,
			seconds: 0.3,
			stops: stops.map(([clip, at]) => ({ clip: slug(clip), at })),
		});
		return this;
	}

	/** What is done in a rehearsal, and what has to come of it. */
	rehearsal(
		name: string,
		seconds: number,
		inputs: readonly RehearsalInput[],
		limits: Partial<RehearsalLimits> = {},
	): this {
		this.doc = putRehearsal(this.doc, {
			type: 'rehearsal',
			id: `rehearsal-${slug(name)}`,
			order: this.order(),
			name,
			seconds,
			inputs,
			limits: { jump: null, kink: null, cues: null, tolerance: 0.05, ...limits },
		});
		return this;
	}

	build(): Doc {
		return this.doc;
	}
}

export function slug(name: string): string {
	return name
		.toLowerCase()
		.replace(/[^a-z0-9]+/g, '-')
		.replace(/^-|-$/g, '');
}
