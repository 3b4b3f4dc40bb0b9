/** Mixes: clips played as one, at one phase, of which a parameter says how much each counts. */
import { chooseWays, crossfade } from './blend/crossfade';
import { counted, type PlayerClip } from './clips';
import type { Cue } from './cues';
import type { PoseLayout } from './layout';
import { evaluateClip, restMotion, type Motion } from './motion';

/** A clip of a mix, and where along the parameter it plays alone. */
export interface MixStop<C extends Cue = Cue> {
	/** What the clip is asked for by. */
	readonly key: string;
	readonly clip: PlayerClip<C>;
	readonly at: number;
}

/** Where a cue of a mix comes from. */
interface Origin<C extends Cue> {
	readonly stop: number;
	readonly cue: C;
}

/** Clips of which neighbours play together, at the same phase of their rounds; each goes round for ever, in its place. */
export interface Mix<C extends Cue = Cue> {
	readonly parameter: string;
	/** Along the parameter: two or more, no two at one place. */
	readonly stops: readonly MixStop<C>[];
	/** The same, ready to go round. */
	readonly motions: readonly Motion[];
	/** Ticks that each takes for a round: there and back where it goes so. */
	readonly periods: readonly number[];
	readonly origins: ReadonlyMap<Cue, Origin<C>>;
}

function periodOf({ length, loop }: Motion): number {
	return (length + (loop.mode === 'once' ? 0 : loop.pause)) * (loop.mode === 'alternate' ? 2 : 1);
}

/** Ticks of a round at which a clip passes a cue: twice where it goes there and back. */
function passes({ length, loop }: Motion, t: number): number[] {
	return loop.mode === 'alternate' ? [t, 2 * length + loop.pause - t] : [t];
}

/**
 * Clips as one that goes round for ever: a round takes what those of the clips take, mixed. Its own ticks are those of the
 * first clip; its cues are those of all, each told where its clip counts for most. What accumulates begins anew with each round.
 */
export function mixClip<C extends Cue>(
	name: string,
	layout: PoseLayout,
	parameter: string,
	unsorted: readonly MixStop<C>[],
): PlayerClip<C> {
	const stops = [...unsorted].sort((a, b) => a.at - b.at);
	const motions = stops.map(({ clip }) => counted(clip.motion, null));
	const periods = motions.map(periodOf);
	const origins = new Map<Cue, Origin<C>>();
	const cues = stops.flatMap(({ clip }, stop) =>
		clip.cues.flatMap((cue) =>
			passes(motions[stop], cue.t).map((t): C => {
				const own = { ...cue, t: ((t % periods[stop]) / periods[stop]) * periods[0] };
				origins.set(own, { stop, cue });
				return own;
			}),
		),
	);
	cues.sort((a, b) => a.t - b.t);
	const motion: Motion = {
		...restMotion(layout),
		length: periods[0],
		loop: { mode: 'repeat', count: null, pause: 0 },
	};
	return { name, motion, cues, mix: { parameter, stops, motions, periods, origins } };
}

/** A mix under way: where along its parameter it stands. */
export class Mixing {
	/** The stop before, and how far it is to the next, 0…1. */
	private before = 0;
	private share = 0;
	private readonly other: Float64Array;
	private readonly ways: Int8Array;

	constructor(
		private readonly mix: Mix,
		private readonly layout: PoseLayout,
		value: number,
	) {
		this.other = layout.rest.slice();
		this.ways = new Int8Array(layout.targets.length);
		this.set(value);
	}

	/** Before the first stop it is that one alone, behind the last that. */
	set(value: number): void {
		const { stops } = this.mix;
		this.before = 0;
		while (this.before < stops.length - 2 && stops[this.before + 1].at <= value) this.before++;
		const [a, b] = [stops[this.before].at, stops[this.before + 1].at];
		this.share = Math.min(1, Math.max(0, (value - a) / (b - a)));
	}

	/** How much a stop counts. */
	weightOf(stop: number): number {
		return stop === this.before ? 1 - this.share : stop === this.before + 1 ? this.share : 0;
	}

	/** How fast its ticks go. */
	get pace(): number {
		const { periods } = this.mix;
		const own = periods[this.before] + (periods[this.before + 1] - periods[this.before]) * this.share;
		return periods[0] / own;
	}

	/** The pose at a time in rounds. Allocates nothing. */
	write(rounds: number, out: Float64Array): void {
		const { mix, before, share, layout, other, ways } = this;
		const phase = rounds - Math.floor(rounds);
		const at = share < 1 ? before : before + 1;
		evaluateClip(mix.motions[at], phase * mix.periods[at], out);
		if (share === 0 || share === 1) return;
		evaluateClip(mix.motions[before + 1], phase * mix.periods[before + 1], other);
		chooseWays(layout, out, other, ways);
		crossfade(layout, out, other, share, ways, out);
	}
}
