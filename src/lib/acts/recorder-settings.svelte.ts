/** How a motion is acted: what is driven, by what, and when. */
import { channelLabel } from '$core/document/labels';
import { isAngle, isLength } from '$core/document/units';
import type { Clip } from '$core/document/types';
import type { TakeColumn } from '$core/document/takes';
import { limitsOf, whyNotRecorded } from '$core/takes/put-take';
import type { Session } from '$lib/session/session.svelte';
import { keep, readKept } from '$lib/ui/kept';
import { pathColumns } from './recorded-path';

export const DEVICES = ['pointer', 'stick', 'slider', 'knob', 'keys', 'pad', 'microphone', 'sound'] as const;
export type Device = (typeof DEVICES)[number];
const SINGLE: ReadonlySet<Device> = new Set(['slider', 'knob', 'microphone', 'sound']);

/** Where a device is, −1 to 1 on each axis, up and to the right positive. */
export interface DevicePlace {
	across: number;
	up: number;
}

export type Axis = keyof DevicePlace;
export const AXES: readonly Axis[] = ['across', 'up'];

/** How far full deflection goes at first, by what is driven. */
function reachFor({ doc }: Session, { part, property, component }: TakeColumn): number {
	const [low, high] = limitsOf(doc.parts[part], property, component);
	if (high - low < Infinity) return high - low;
	const isWorld = doc.project.space === 'world';
	// On a screen y runs down, and up is up.
	const sign = !isWorld && property === 'translation' && component === 'y' ? -1 : 1;
	if (isLength(property)) return sign * (isWorld ? 2 : 200);
	return isAngle(property) ? 90 : 1;
}

const LATENCY = 'record-latency';

export class RecorderSettings {
	/** What each axis of the device drives; null drives nothing. */
	drives = $state.raw<Record<Axis, TakeColumn | null>>({ across: null, up: null });
	/** How far a device goes at most, in the units of what it drives; null as much as fits. */
	reach = $state.raw<Record<Axis, number | null>>({ across: null, up: null });
	device = $state<Device>('pointer');
	/** Clip time for real time: at a quarter one acts slowly. */
	speed = $state(1);
	/** Seconds that are counted before it begins. */
	countIn = $state(2);
	/** What is there is replaced, or added to. */
	mode = $state<'replace' | 'add'>('replace');
	/** Only while the device is held. */
	onlyHeld = $state(false);
	/** Round after round until it is stopped. */
	goesRound = $state(false);
	/** Seconds that play before the range begins. */
	leadIn = $state(0);
	/** The part stays on its path: a device says how far along it is. */
	keepsPath = $state(false);

	constructor(protected readonly session: Session) {}

	/** Whether the device has one way only. */
	get isSingle(): boolean {
		return SINGLE.has(this.device);
	}

	/** What is driven by this device. */
	get driven(): Record<Axis, TakeColumn | null> {
		const { across, up } = this.chosen;
		return { across, up: this.isSingle ? null : up };
	}

	/** What was chosen for both ways, or where the selected part is. */
	get chosen(): Record<Axis, TakeColumn | null> {
		const { drives, session } = this;
		const isThere = (own: TakeColumn | null) => own !== null && session.doc.parts[own.part] !== undefined;
		if (AXES.some((axis) => isThere(drives[axis])))
			return {
				across: isThere(drives.across) ? drives.across : null,
				up: isThere(drives.up) ? drives.up : null,
			};
		const part = session.selection.partId;
		const of = (component: 'x' | 'y'): TakeColumn | null =>
			part === null ? null : { part, property: 'translation', component };
		return { across: of('x'), up: of('y') };
	}

	/** The numbers of the path that the driven part could go along; none where it has no path. */
	get path(): TakeColumn[] {
		const { clip, doc } = this.session;
		const { across, up } = this.driven;
		const part = across?.part ?? up?.part;
		return clip && part !== undefined && doc.parts[part] ? pathColumns(doc, clip.id, part) : [];
	}

	reachOf(axis: Axis): number {
		const column = this.driven[axis];
		return this.reach[axis] ?? (column ? reachFor(this.session, column) : 1);
	}

	/** Milliseconds by which what one sees and does comes late. */
	get latency(): number {
		const kept = readKept(LATENCY);
		return typeof kept === 'number' ? Math.min(500, Math.max(0, kept)) : 0;
	}
	set latency(ms: number) {
		keep(LATENCY, ms);
	}

	/** Whether the part stays on its path: the level of a sound is read at once, and goes no way. */
	get isAlongPath(): boolean {
		return this.keepsPath && this.device !== 'sound';
	}

	/** Ticks between which it would be recorded now. */
	spanOf(clip: Clip): { from: number; to: number } {
		const { transport } = this.session;
		const at = Math.round(transport.local);
		return transport.range ?? { from: at < clip.length ? at : 0, to: clip.length };
	}

	/** Why nothing can be recorded now; null where it can. */
	get why(): string | null {
		const { session, driven } = this;
		if (!session.clip) return 'There is no clip to record into.';
		const columns = this.isAlongPath ? this.path : AXES.flatMap((axis) => driven[axis] ?? []);
		if (this.isAlongPath && columns.length === 0) return 'The part has no path to go along yet.';
		if (columns.length === 0) return 'Select a part to record, or choose what is driven.';
		for (const column of columns) {
			const why = whyNotRecorded(session.doc, session.clip.id, column);
			const part = session.doc.parts[column.part];
			if (why) return `${part?.name} ${channelLabel(column.property, column.component, part)}: ${why}.`;
		}
		const [a, b] = columns;
		if (
			b &&
			!this.isAlongPath &&
			a.part === b.part &&
			a.property === b.property &&
			a.component === b.component
		)
			return 'Both ways of the device drive the same number.';
		return null;
	}
}
