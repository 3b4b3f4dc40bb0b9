/** Plays the open clip's last moments over into another clip, by the blend between them, through the player that ships. */
import { blendSpec, clipSet, type DocNames } from '$core/blend/clip-set';
import type { Posed } from '$core/clip/layout';
import { playedTicks } from '$player/loop';
import type { Blend, Doc } from '$core/document/types';
import { Player } from '$player/player';
import { secondsToTicks, ticksToSeconds } from '$player/time';
import { cancelFrame, nextTick } from '$lib/ui/frames';

/** Seconds of the clip that goes, before it is left. */
const BEFORE = 1;
/** Seconds of the clip that comes, once the blend is over. */
const AFTER = 1.5;

/** One play from a clip over into another. */
export class Crossing {
	readonly player: Player<DocNames>;
	/** Seconds of the clip that goes at which it is left: its end, or the end of its first round. */
	readonly leaves: number;
	private readonly ends: number;
	/** Seconds of the clip that goes, going on after it is left. */
	now: number;

	constructor(
		doc: Doc,
		readonly blend: Blend,
	) {
		const [from, to] = [doc.clips[blend.from], doc.clips[blend.to]];
		this.player = new Player(clipSet(doc, [from, to]));
		this.leaves = ticksToSeconds(from.length);
		this.now = Math.max(0, this.leaves - BEFORE);
		const rest = from.id === to.id ? AFTER : Math.min(AFTER, ticksToSeconds(playedTicks(to)));
		this.ends = this.leaves + blend.seconds + rest;
		this.player.play({ clip: from.id, blend: { kind: 'cut', seconds: 0 } });
		this.player.seek(this.now);
	}

	/** Lets time pass; false once it is over. */
	advance(seconds: number): boolean {
		const { player, leaves, now, blend } = this;
		this.now = now + seconds;
		if (now < leaves && this.now >= leaves) {
			player.advance(leaves - now);
			player.play({ clip: blend.to, blend: blendSpec(blend) });
			player.advance(this.now - leaves);
		} else player.advance(seconds);
		return this.now < this.ends;
	}
}

export class Across {
	private crossing = $state.raw<Crossing | null>(null);
	/** Counts pictures, since the player writes into one pose. */
	private picture = $state(0);
	private lastTime = 0;

	/** The blend that is played; null where none is. */
	readonly blend: string | null = $derived.by(() => this.crossing?.blend.id ?? null);
	/** What is shown meanwhile. */
	readonly posed: Posed | null = $derived.by(() => {
		void this.picture;
		const { crossing } = this;
		return crossing && { layout: crossing.player.layout, pose: crossing.player.pose };
	});
	/** Ticks of the clip that goes, on past its end. */
	readonly ticks: number | null = $derived.by(() => {
		void this.picture;
		return this.crossing && secondsToTicks(this.crossing.now);
	});

	/** `speed` is how fast it is to be played now. */
	constructor(private readonly speed: () => number) {}

	play(doc: Doc, blend: Blend): void {
		this.stop();
		this.crossing = new Crossing(doc, blend);
		this.lastTime = performance.now();
		nextTick(this.advance);
	}

	stop(): void {
		if (!this.crossing) return;
		cancelFrame(this.advance);
		this.crossing = null;
	}

	private readonly advance = (time: number): void => {
		const { crossing } = this;
		if (!crossing) return;
		const elapsed = (Math.max(0, time - this.lastTime) / 1000) * this.speed();
		this.lastTime = time;
		if (!crossing.advance(elapsed)) return this.stop();
		this.picture++;
		nextTick(this.advance);
	};
}
