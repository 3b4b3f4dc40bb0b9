/** A blend that plays over and over: a little of the clip that goes, the blend, a little of the one that comes. */
import { Player, type BlendSpec } from '$player/player';
import { ticksToSeconds } from '$player/time';
import type { ReadClips } from '$player/file/read';

/** The pair of clips of a blend that plays over and over. */
export interface Loop {
	from: string;
	to: string;
	/** Where the one that goes is left, as a share of its round. */
	phase: number;
}
/** Seconds before the switch and after the blend that are shown. */
const BEFORE = 0.6;
const AFTER = 0.9;

export class BlendLoop {
	readonly player: Player;
	/** Seconds since the round began. */
	private age = Infinity;

	constructor(
		private set: ReadClips,
		readonly pair: Loop,
	) {
		this.player = new Player(set);
		this.advance(0);
	}

	exchange(set: ReadClips): void {
		this.set = set;
		this.player.exchange(set);
	}

	advance(seconds: number): void {
		const { pair, player, set, age } = this;
		const blend: BlendSpec = set.blendOf?.(pair.from, pair.to) ?? { kind: 'cut', seconds: 0 };
		this.age += seconds;
		if (this.age > BEFORE + blend.seconds + AFTER) {
			const length = ticksToSeconds(set.clips.get(pair.from)?.motion.length ?? 0);
			player.play({ clip: pair.from, blend: { kind: 'cut', seconds: 0 } });
			player.seek(Math.max(0, pair.phase * length - BEFORE));
			this.age = 0;
		} else if (age < BEFORE && this.age >= BEFORE) {
			player.advance(BEFORE - age);
			player.play({ clip: pair.to });
			player.advance(this.age - BEFORE);
		} else player.advance(seconds);
	}
}
