/** A document made of a file that knows nothing of this application: parts and clips by name, channels by what they move. */
import { generateKeyBetween } from 'fractional-indexing';
import type { ColourSpace } from '../../../player/maths/colour';
import type { Loop } from '../../../player/loop';
import type { Four } from '../../../player/maths/vector';
import { ticksToSeconds } from '../../../player/time';
import type { Ends } from '../../../player/curve/flat';
import type { Key } from '../../curve/types';
import { VERSION } from '../../document/migrate';
import { hasProperty, restValue } from '../../document/rest';
import {
	channelId,
	emptyDoc,
	MOST_NUMBERS,
	type Channel,
	type Clip,
	type Component,
	type Doc,
	type Drawing,
	type Part,
	type Property,
	type RestPose,
} from '../../document/types';
import { validateDocument } from '../../document/validate';
import type { Space } from '../../pose/space';
import { fail, type Result } from '../../result';
import { colourColumns, isRecording, takesOfColumns, withGaps, type RecordedColumn } from './recorded';
import { LINEAR, straightKeys } from './sampled-keys';
import { shortName } from '../../text';
import { MAX_CLIP_TICKS } from '../../time';
import type { TakenIn } from '../format';
import { MOST_KEYS } from '../project/limits';

export interface NewPart {
	parent?: string | null;
	drawing?: Drawing;
	colour?: string;
	rest?: Partial<RestPose>;
	visible?: boolean;
}

export interface NewChannel {
	clip: string;
	part: string;
	property: Property;
	component?: Component;
	keys: Key[];
	ends?: Ends;
	colourSpace?: ColourSpace;
}

const HOLDS: Ends = { before: 'hold', after: 'hold' };
const LONGEST_NAME = 120;
/** A number that rests so is not worth a channel. */
const STILL = 1e-9;
export const MOST_PARTS = 2000;
/** Of more samples than these not all that bend become keys: the take has them. */
const MOST_EXACT = 300_000;
const MOST_EXACT_EACH = 20_000;
const MANY_WITHIN = 0.005;

const nameOf = (name: string, without: string) => shortName(name, LONGEST_NAME, without);

export class Incoming {
	readonly parts = new Map<string, Part>();
	private readonly clips = new Map<string, Clip>();
	private readonly channels = new Map<string, Channel>();
	readonly leftOut: string[] = [];
	private readonly recorded: RecordedColumn[] = [];
	private order: string | null = null;
	private keys = 0;
	private samples = 0;
	private longest = 0;

	constructor(
		private readonly name: string,
		private readonly space: Space,
		private readonly frameRate: number,
	) {}

	private nextOrder(): string {
		return (this.order = generateKeyBetween(this.order, null));
	}

	/** Adds a part; two of a name are two parts. */
	addPart(name: string, { parent = null, drawing, colour, rest, visible = true }: NewPart = {}): Part {
		const id = `p${this.parts.size}`;
		const part: Part = {
			type: 'part',
			id,
			name: nameOf(name, `part ${this.parts.size + 1}`),
			parent,
			order: this.nextOrder(),
			drawing: drawing ?? { kind: 'empty', offset: [0, 0, 0] },
			colour: colour ?? '#5c6b73',
			rest: { translation: [0, 0, 0], rotation: [0, 0, 0], scale: [1, 1, 1], opacity: 1, ...rest },
			eulerOrder: 'XYZ',
			visible,
		};
		this.parts.set(id, part);
		return part;
	}

	/** The part of a name, made where there is none. */
	part(name: string, own: () => NewPart = () => ({})): Part {
		const known = [...this.parts.values()].find((part) => part.name === nameOf(name, ''));
		return known ?? this.addPart(name, own());
	}

	changePart(id: string, change: Partial<Part>): Part {
		const part = { ...this.parts.get(id)!, ...change };
		this.parts.set(id, part);
		return part;
	}

	/** A number of one's own of a part, made where there is none; null where it has as many as it may. */
	number(part: string, name: string, values: readonly number[]): Component | null {
		const own = this.parts.get(part)!;
		const numbers = own.numbers ?? [];
		const known = numbers.find((number) => number.name === name);
		if (known) return known.key;
		if (numbers.length === MOST_NUMBERS) return null;
		const key = `n${numbers.length}` as const;
		const low = values.reduce((a, b) => Math.min(a, b), 0);
		const range = { low, high: values.reduce((a, b) => Math.max(a, b), low + 1) };
		this.changePart(part, {
			numbers: [...numbers, { key, name: nameOf(name, key), unit: '', ...range, value: values[0] }],
		});
		return key;
	}

	/** The clip of a name, made where there is none; one that is there becomes no shorter. */
	clip(name: string, length: number, loop: Loop = { mode: 'once', count: null, pause: 0 }): Clip {
		const whole = Math.max(1, Math.round(length));
		this.longest = Math.max(this.longest, whole);
		const known = this.clips.get(name);
		const clip: Clip = known
			? { ...known, length: Math.max(known.length, whole) }
			: {
					type: 'clip',
					id: `c${this.clips.size}`,
					name: nameOf(name, `clip ${this.clips.size + 1}`),
					order: this.nextOrder(),
					length: whole,
					loop,
					note: '',
				};
		this.clips.set(name, clip);
		return clip;
	}

	/** Whether a clip moves a component of a part already. */
	has({ clip, part, property, component = 'value' }: Omit<NewChannel, 'keys'>): boolean {
		return this.channels.has(channelId(clip, part, property, component));
	}

	/** Adds a channel; where all its keys are what rests there is none. The first for a component counts. */
	addChannel({
		clip,
		part,
		property,
		component = 'value',
		keys,
		ends = HOLDS,
		colourSpace,
	}: NewChannel): void {
		const own = this.parts.get(part)!;
		const id = channelId(clip, part, property, component);
		if (keys.length === 0 || this.channels.has(id) || !hasProperty(own, property)) return;
		const isNumber = keys[0].vector === undefined;
		const isStill =
			isNumber && keys.every(({ v, left, right }) => v === keys[0].v && !left?.rise && !right?.rise);
		if (isStill && Math.abs(keys[0].v - restValue(own, property, component)) < STILL) return;
		this.keys += keys.length;
		this.channels.set(id, {
			type: 'channel',
			id,
			clip,
			part,
			property,
			component,
			keys: isStill ? keys.slice(0, 1) : keys,
			ends,
			accumulates: false,
			...(colourSpace ? { colourSpace } : {}),
		});
	}

	/**
	 * Adds a number by its samples: straight keys, and where they are so dense that they are a recording, a column of a take.
	 * Of very many samples the keys keep to a share of the range.
	 */
	addSamples(
		{ clip, part, property, component = 'value' }: Omit<NewChannel, 'keys'>,
		times: ArrayLike<number>,
		values: ArrayLike<number>,
	): void {
		const own = { clip, part, property, component };
		if (this.has(own)) return;
		this.samples += values.length;
		const isMany = values.length > MOST_EXACT_EACH || this.samples > MOST_EXACT;
		this.addChannel({ ...own, keys: straightKeys(times, values, isMany ? MANY_WITHIN : undefined) });
		const channel = this.channels.get(channelId(clip, part, property, component));
		if (channel && channel.keys.length > 1 && isRecording(times))
			this.recorded.push({ ...own, ...withGaps(times, values) });
	}

	/** Adds a colour by its samples: straight keys where it changes, and columns of a take where it is a recording. */
	addColours(
		{ clip, part }: { clip: string; part: string },
		times: readonly number[],
		colours: readonly Four[],
	): void {
		const differ = (a: Four, b: Four | undefined) => b !== undefined && a.some((v, k) => v !== b[k]);
		const keys = colours.flatMap((vector, i): Key[] =>
			i === 0 || differ(vector, colours[i - 1]) || differ(vector, colours[i + 1])
				? [{ t: times[i], v: 0, shape: LINEAR, vector }]
				: [],
		);
		const own = { clip, part, property: 'colour' } as const;
		if (this.has(own)) return;
		this.addChannel({ ...own, keys });
		if (this.has(own) && keys.length > 1 && isRecording(times))
			this.recorded.push(...colourColumns({ clip, part }, times, colours));
	}

	/** The same as `finish`, with the takes of what was added by its samples. */
	async finishRecorded(nothing: string): Promise<Result<TakenIn>> {
		const read = this.finish(nothing);
		if (!read.ok || this.recorded.length === 0) return read;
		const { doc, files, leftOut } = read.value;
		const made = await takesOfColumns(doc, this.recorded);
		return {
			ok: true,
			value: { doc: { ...doc, takes: made.takes }, files: [...files, ...made.files], leftOut },
		};
	}

	/** What came of it; a file in which nothing moves is refused. */
	finish(nothing: string): Result<TakenIn> {
		if (this.channels.size === 0) return fail('', nothing);
		if (this.parts.size > MOST_PARTS || this.keys > MOST_KEYS)
			return fail('', `It is too large: ${this.parts.size} parts, ${this.keys} keys.`);
		if (!(this.longest <= MAX_CLIP_TICKS))
			return fail(
				'',
				`It lasts ${Math.round(ticksToSeconds(this.longest))} s; ${ticksToSeconds(MAX_CLIP_TICKS)} s is the longest clip.`,
			);
		const { name, space, frameRate } = this;
		const byId = <E extends { id: string }>(all: Iterable<E>) =>
			Object.fromEntries([...all].map((own) => [own.id, own]));
		const doc: Doc = {
			...emptyDoc({ type: 'project', id: 'imported', name: nameOf(name, 'Imported'), space, frameRate }),
			parts: byId(this.parts.values()),
			clips: byId(this.clips.values()),
			channels: byId(this.channels.values()),
		};
		const checked = validateDocument({ format: 'hillock-project', version: VERSION, ...doc });
		if (!checked.ok) return checked;
		return { ok: true, value: { doc: checked.value, files: [], leftOut: [...new Set(this.leftOut)] } };
	}
}
