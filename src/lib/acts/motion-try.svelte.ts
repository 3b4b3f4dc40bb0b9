/** A motion that is tried on the picked parts: it shows and plays over and over, until it is put or left. */
import type { Motion } from '$core/document/motions';
import { amountsOf, type MotionAmounts } from '$core/motions/put';
import { frameToTicks } from '$core/time';
import type { Drag } from '$lib/session/project.svelte';
import type { Session } from '$lib/session/session.svelte';
import { tellPut, withMotion } from './motions';
import { pickedParts } from './part-acts';

export class MotionTry {
	motion = $state.raw<Motion | null>(null);
	amounts = $state.raw<MotionAmounts | null>(null);
	private drag: Drag | null = null;
	/** Where the playhead was, and what was played between. */
	private before = { t: 0, range: null as { from: number; to: number } | null };

	constructor(private readonly session: Session) {}

	/** Whether the document still shows it: any other edit takes it away. */
	get isOn(): boolean {
		return this.motion !== null && this.session.project.isDragging;
	}

	begin(motion: Motion): void {
		const { transport } = this.session;
		if (this.isOn) this.drag?.cancel();
		else {
			transport.stop();
			this.before = { t: Math.round(transport.local), range: transport.range };
		}
		this.motion = motion;
		this.amounts = amountsOf(motion, frameToTicks(1, this.session.frameRate));
		this.drag = this.session.project.startDrag(`Put the motion ${motion.name}`);
		this.show();
	}

	change(amounts: Partial<MotionAmounts>): void {
		if (!this.amounts) return;
		this.amounts = { ...this.amounts, ...amounts };
		this.show();
	}

	private show(): void {
		const { motion, amounts, session } = this;
		if (!motion || !amounts) return;
		const { t } = this.before;
		this.drag?.update(withMotion(session, motion, amounts, t));
		const last = Math.max(0, pickedParts(session).length - 1) * amounts.stagger;
		const { transport } = session;
		transport.setRange(t, t + amounts.length * amounts.rounds + last);
		transport.play();
	}

	/** The keys stay: one step of undo. */
	put(): void {
		const { motion, drag } = this;
		if (!motion || !drag) return;
		const before = drag.start;
		this.rest();
		drag.commit();
		tellPut(this.session, motion, before);
	}

	cancel(): void {
		const { drag } = this;
		if (!this.motion) return;
		this.rest();
		drag?.cancel();
	}

	/** Nothing is tried any more, and the playhead is where it was. */
	private rest(): void {
		this.motion = null;
		this.amounts = null;
		this.drag = null;
		const { transport } = this.session;
		transport.stop();
		transport.range = this.before.range;
		transport.seek(this.before.t);
	}
}
