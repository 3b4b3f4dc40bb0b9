/** What is picked: keys, and the part and the channel in hand. A matter of the window, never of the document. */
import type { Channel, Doc, Formula, Part } from '$core/document/types';
import { countKeys, type KeySelection } from '$core/edits/keys';

export const NO_KEYS: KeySelection = new Map();
const NONE: ReadonlySet<string> = new Set();

/** What is picked then; what is absent stays as it is. */
export interface Picks {
	keys?: KeySelection;
	part?: string | null;
	channel?: string | null;
}

/** Selected keys with the first of their channels in hand. */
export function pickedKeys(keys: KeySelection): Picks {
	const [first] = keys.keys();
	return first === undefined ? { keys } : { keys, channel: first };
}

export class Selection {
	keys = $state.raw<KeySelection>(NO_KEYS);
	/** Part picked on the stage or in the lanes. */
	partId = $state<string | null>(null);
	/** Channel, or formula, whose lane is picked. */
	channelId = $state<string | null>(null);

	/** Channels picked along with the one in hand. */
	private also = $state.raw(NONE);
	/** Parts picked along with the one in hand. */
	private alsoParts = $state.raw(NONE);

	readonly part: Part | null = $derived.by(() =>
		this.partId === null ? null : (this.docNow().parts[this.partId] ?? null),
	);
	readonly channel: Channel | null = $derived.by(() =>
		this.channelId === null ? null : (this.docNow().channels[this.channelId] ?? null),
	);
	readonly formula: Formula | null = $derived.by(() =>
		this.channelId === null ? null : (this.docNow().formulas[this.channelId] ?? null),
	);
	/** All channels that are picked: by their names, or those of the selected keys; the one in hand first. */
	readonly channels: readonly Channel[] = $derived.by(() => {
		const own = this.channelId === null ? [] : [this.channelId];
		const ids = new Set([...own, ...(this.also.size > 0 ? this.also : this.keys.keys())]);
		return [...ids].flatMap((id) => this.docNow().channels[id] ?? []);
	});
	readonly count: number = $derived(countKeys(this.keys));
	/** Parts that the selected keys move. */
	readonly parts: ReadonlySet<string> = $derived.by(
		() => new Set([...this.keys.keys()].flatMap((id) => this.docNow().channels[id]?.part ?? [])),
	);
	/** Parts besides the one in hand that are picked, by themselves or by their keys or lanes. */
	readonly otherParts: readonly string[] = $derived.by(() =>
		[...new Set([...this.alsoParts, ...this.parts, ...this.channels.map((channel) => channel.part)])].filter(
			(part) => part !== this.partId && this.docNow().parts[part],
		),
	);

	constructor(private readonly docNow: () => Doc) {}

	pickKeys(keys: KeySelection): void {
		this.keys = keys;
		this.alsoParts = NONE;
		const [first] = keys.keys();
		if (first !== undefined && this.docNow().channels[first]) this.takeInHand(first);
	}

	/** A part itself is picked: none of its lanes is in hand any more. */
	pickPart(id: string | null): void {
		this.partId = id;
		this.channelId = null;
		this.also = NONE;
		this.alsoParts = NONE;
		this.keys = NO_KEYS;
	}

	/** Picks parts along with the one in hand. */
	alsoPick(parts: readonly string[]): void {
		this.alsoParts = new Set(parts);
	}

	/** Picks a part beside those that are picked, or takes it away from them. */
	togglePart(id: string): void {
		const parts = new Set([...(this.partId === null ? [] : [this.partId]), ...this.otherParts]);
		if (!parts.delete(id)) parts.add(id);
		const [first = null] = [...parts].reverse();
		this.pickPart(first);
		this.alsoPick([...parts]);
	}

	pickChannel(id: string): void {
		this.takeInHand(id);
		this.alsoParts = NONE;
		this.keys = NO_KEYS;
	}

	/** Picks a channel beside those that are picked, or takes it away from them. */
	toggleChannel(id: string): void {
		const ids = new Set(this.channels.map((channel) => channel.id));
		if (!ids.delete(id)) ids.add(id);
		const [first] = ids.has(this.channelId ?? '') ? [this.channelId!] : [...ids];
		if (first === undefined) this.clear();
		else this.pickChannels(first, [...ids]);
	}

	/** Picks several channels, one of them in hand. */
	pickChannels(inHand: string, ids: readonly string[]): void {
		this.pickChannel(inHand);
		this.also = new Set(ids.filter((id) => id !== inHand));
	}

	isChannelPicked(id: string): boolean {
		return this.channelId === id || this.also.has(id);
	}

	/** A channel and its part are in hand; selected keys stay picked. */
	takeInHand(id: string): void {
		const doc = this.docNow();
		this.channelId = id;
		this.also = NONE;
		this.partId = (doc.channels[id] ?? doc.formulas[id])?.part ?? this.partId;
	}

	clear(): void {
		this.keys = NO_KEYS;
		this.also = this.alsoParts = NONE;
		this.channelId = null;
		this.partId = null;
	}

	/** What an edit leaves picked. */
	take({ keys, part, channel }: Picks): void {
		if (part !== undefined) this.pickPart(part);
		if (channel !== undefined) {
			if (channel === null) this.channelId = null;
			else if (keys === undefined) this.pickChannel(channel);
			else this.takeInHand(channel);
		}
		if (keys !== undefined) this.keys = keys;
	}

	get picks(): Required<Picks> {
		return { keys: this.keys, part: this.partId, channel: this.channelId };
	}

	/** Puts picks back as they were. */
	restore({ keys, part, channel }: Required<Picks>): void {
		this.keys = keys;
		this.partId = part;
		this.channelId = channel;
	}

	/** Lets go of what a document does not have. Where it has it all, nothing new is picked. */
	prune(doc: Doc): void {
		if (this.partId !== null && !doc.parts[this.partId]) this.partId = null;
		const { channelId } = this;
		if (channelId !== null && !doc.channels[channelId] && !doc.formulas[channelId]) this.channelId = null;
		const pruned = new Map<string, Set<number>>();
		let count = 0;
		for (const [id, times] of this.keys) {
			const there = new Set(doc.channels[id]?.keys.map((key) => key.t));
			const kept = new Set([...times].filter((t) => there.has(t)));
			if (kept.size > 0) pruned.set(id, kept);
			count += kept.size;
		}
		if (count < this.count) this.keys = pruned;
	}
}
