/** Layers: clips that play into one another over what lies below, and the ground under them. */
import { layOver, partsOf, type LayerMode } from './blend/layers';
import { CUT, type BlendSpec, type LayerOptions, type Names, type PlayRequest } from './clips';
import type { PoseLayout } from './layout';
import type { Tracks } from './tracks';

/** Where clips play into one another. */
export abstract class Playing<N extends Names> {
	/** `way` is 1, or −1 while clips run backwards. */
	constructor(
		protected readonly tracks: Tracks<N>,
		protected readonly wayNow: () => number,
	) {}

	/** The clips under way with their weights, the oldest first. */
	get playing(): Tracks<N>['playing'] {
		return this.tracks.playing;
	}

	/**
	 * Starts a clip now, or after its delay; what is queued is forgotten. Throws a RangeError for an unknown clip, and for
	 * times, counts and speeds that are none.
	 */
	play(request: PlayRequest<N['clip']>): void {
		this.tracks.play(request, this.wayNow());
		this.changed();
	}

	/**
	 * Plays a clip when the one under way has ended (endless ones never do) and its delay after that, behind those
	 * queued before.
	 */
	enqueue(request: PlayRequest<N['clip']>): void {
		this.tracks.enqueue(request);
	}

	/**
	 * Goes to the rest pose, or in a layer to what lies below, over the time of a blend if one is given (in layers always
	 * a crossfade); what is queued is forgotten.
	 */
	stop(blend: BlendSpec = CUT): void {
		this.tracks.stop(blend, this.wayNow());
		this.changed();
	}

	/** Lets the newest clip come to the end of the round that it is in. */
	finish(): void {
		this.tracks.finish();
	}

	/** Whether a clip is the newest one, still plays and is not asked to finish. */
	isOn(clip: N['clip']): boolean {
		return this.tracks.isOn(clip, this.wayNow());
	}

	/** Puts the newest clip at a time (seconds since its start). Cues between are not passed and do not fire. */
	seek(seconds: number): void {
		this.tracks.seek(seconds);
		this.changed();
	}

	/** The pose may be another one now. */
	protected changed(): void {}
}

/**
 * A layer over the ground: it covers what lies below as far as it is weighed, and while a clip plays in it. The first
 * one fades in where its blend takes time. What it shows comes with the player's next advance.
 */
export class PlayerLayer<N extends Names = Names> extends Playing<N> {
	mode: LayerMode = 'replace';
	/** Whether each target of the layout is one of its parts; null for all. */
	private targets!: Uint8Array | null;
	private share = 1;
	private pose!: Float64Array;
	private ways!: Int8Array;
	private parts: readonly string[] | null = null;
	/** The parameter that its weight follows. */
	parameter: N['parameter'] | null = null;
	private fade = { to: 1, left: 0 };

	/** Layers are made by their player, which lets their time pass. */
	constructor(
		private layout: PoseLayout,
		tracks: Tracks<N>,
		wayNow: () => number,
		options: LayerOptions<N>,
	) {
		super(tracks, wayNow);
		this.weight = options.weight ?? 1;
		this.lieIn(layout, options);
	}

	/** For its player: poses have this layout from now on, and the layer is for this. */
	lieIn(layout: PoseLayout, options?: LayerOptions<N>): void {
		this.layout = layout;
		if (options) {
			const { mode = 'replace', parts = null, parameter = null } = options;
			Object.assign(this, { mode, parts, parameter });
		}
		this.targets = this.parts && partsOf(layout, this.parts);
		this.pose = layout.rest.slice();
		this.ways = new Int8Array(layout.targets.length);
	}

	get weight(): number {
		return this.share;
	}
	/** Kept within 0…1. Throws a RangeError for what is no number. */
	set weight(weight: number) {
		if (Number.isNaN(weight)) throw new RangeError('a weight must be a number');
		this.share = Math.min(1, Math.max(0, weight));
		this.fade.left = 0;
	}

	/** Lets the weight go to another one in some seconds. */
	weigh(weight: number, seconds: number): void {
		if (seconds > 0) this.fade = { to: Math.min(1, Math.max(0, weight)), left: seconds };
		else this.weight = weight;
	}

	/** For its player: time passes. */
	pass(seconds: number): void {
		const { to, left } = this.fade;
		if (left <= 0) return;
		this.share += (to - this.share) * Math.min(1, seconds / left);
		this.fade.left -= seconds;
	}

	/** Lays what it shows over a pose. */
	layOver(out: Float64Array): void {
		const { layout, mode, pose, targets, tracks, ways } = this;
		const weight = this.share * tracks.presence;
		if (!tracks.isPlaying || weight === 0) return;
		tracks.compose(0, this.wayNow(), pose);
		layOver(layout, mode, pose, weight, targets, ways, out);
	}
}
