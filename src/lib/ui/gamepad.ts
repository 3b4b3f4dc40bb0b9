/** A real pad, where the browser has one: what changed since it was looked at last. */

export interface PadChange {
	/** Buttons that went down. */
	pressed: number[];
	/** The stick, −1 to 1, up is positive; null where it has not moved. */
	stick: { x: number; y: number } | null;
}

/** A stick that rests is rarely at 0. */
const DEAD = 0.08;

export class PadWatch {
	private down: readonly boolean[] = [];
	private stick = { x: 0, y: 0 };

	look(pad: Pick<Gamepad, 'buttons' | 'axes'>): PadChange {
		const down = pad.buttons.map(({ pressed }) => pressed);
		const pressed = down.flatMap((isDown, i) => (isDown && !this.down[i] ? i : []));
		this.down = down;
		const calm = (v: number | undefined) => (v !== undefined && Math.abs(v) > DEAD ? v : 0);
		const stick = { x: calm(pad.axes[0]), y: -calm(pad.axes[1]) || 0 };
		const moved = stick.x !== this.stick.x || stick.y !== this.stick.y;
		this.stick = stick;
		return { pressed, stick: moved ? stick : null };
	}
}
