/** Triggers: what happens when something is tapped, called, passed or ended. */
import type { Names } from './clips';

/** When a trigger is due. */
export type Moment<N extends Names = Names> =
	| { kind: 'start' }
	| { kind: 'call'; name: N['trigger'] }
	| { kind: 'tap' | 'enter' | 'leave'; part: N['part'] }
	/** As the browser calls it: `a`, `ArrowLeft`; the space bar is `Space`. */
	| { kind: 'key'; key: string }
	/** Of a pad, from 0. */
	| { kind: 'button'; button: number }
	/** A parameter goes above a value, or below it. */
	| { kind: 'parameter'; name: N['parameter']; way: 'above' | 'below'; value: number }
	| { kind: 'cue'; clip: N['clip']; cue: string }
	| { kind: 'end'; clip: N['clip'] };

/** Where no layer is named it happens on the ground. */
export type Deed<N extends Names = Names> =
	/** Queued, a clip waits for the end of what plays. */
	| { kind: 'play'; clip: N['clip']; layer?: string; count?: number | null; queued?: boolean }
	/** The clip, or while it plays the other one; without one it ends with its round. */
	| { kind: 'toggle'; clip: N['clip']; other?: N['clip']; layer?: string }
	| { kind: 'stop'; layer?: string; seconds?: number; withRound?: boolean }
	| { kind: 'weigh'; layer: string; weight: number; seconds?: number }
	| ({ kind: 'tell' } & N['message']);

export interface PlayerTrigger<N extends Names = Names> {
	when: Moment<N>;
	then: Deed<N>;
	/** Seconds between the two. */
	delay?: number;
}

/** Waits for moments, and does what is bound to them after their delays. */
export class Reactions<N extends Names> {
	private waiting: { trigger: PlayerTrigger<N>; left: number }[] = [];
	private readonly values = new Map<string, number>();

	constructor(
		public triggers: readonly PlayerTrigger<N>[],
		private readonly act: (trigger: PlayerTrigger<N>) => void,
	) {}

	/** Whether any trigger waits for what clips do. */
	get listens(): boolean {
		return this.triggers.some(({ when: { kind } }) => kind === 'cue' || kind === 'end');
	}

	/** Something happens: false where nothing is bound to it. */
	happen(moment: Moment<N>): boolean {
		const told = Object.entries(moment);
		return this.start(({ when }) => told.every(([name, value]) => when[name as keyof Moment<N>] === value));
	}

	/** Of a parameter: 0 before it is set. */
	valueOf(parameter: string): number {
		return this.values.get(parameter) ?? 0;
	}

	/** A parameter has another value. */
	set(parameter: string, value: number): void {
		const before = this.valueOf(parameter);
		this.values.set(parameter, value);
		this.start(({ when }) => {
			if (when.kind !== 'parameter' || when.name !== parameter) return false;
			const isPast = (v: number) => (when.way === 'above' ? v > when.value : v < when.value);
			return isPast(value) && !isPast(before);
		});
	}

	private start(isMeant: (trigger: PlayerTrigger<N>) => boolean): boolean {
		const meant = this.triggers.filter(isMeant);
		for (const trigger of meant)
			if (trigger.delay && trigger.delay > 0) this.waiting.push({ trigger, left: trigger.delay });
			else this.act(trigger);
		return meant.length > 0;
	}

	/** Seconds until a delay is over. */
	untilNext(): number {
		let next = Infinity;
		for (let i = 0; i < this.waiting.length; i++) next = Math.min(next, this.waiting[i].left);
		return next;
	}

	/** Lets time pass, and does what is due then. */
	pass(seconds: number): void {
		if (this.waiting.length === 0) return;
		for (const own of this.waiting) own.left -= seconds;
		const due = this.waiting.filter(({ left }) => left <= 1e-9);
		this.waiting = this.waiting.filter(({ left }) => left > 1e-9);
		for (const { trigger } of due) this.act(trigger);
	}
}
