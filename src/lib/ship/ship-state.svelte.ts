/** What is chosen in Ship, and what was written last. */
import { fileStem, stemOfClips } from '$core/formats/file-name';
import { toast } from 'svelte-sonner';
import { assetsOf } from '$core/document/assets';
import type { Clip } from '$core/document/types';
import { SHIPPING, type ShippingFormat } from '$core/formats/registry';
import type { TrackPath } from '$core/tracks/track';
import { addresses, api, type Exported } from '$lib/api/client';
import type { Session } from '$lib/session/session.svelte';
import { writeNumber } from '$lib/ui/number-text';
import { commandLine } from './command-line';
import { Played } from './played/played.svelte';
import { isPlayed } from './played/reader';

export class ShipState {
	format = $state.raw<ShippingFormat>(SHIPPING[0]);
	/** Clips that are not chosen. */
	left = $state.raw<ReadonlySet<string>>(new Set());
	/** The bound, in percent share of each path's range. */
	percent = $state(0.1);
	/** Bounds in the paths' own units; 0 leaves it to the share. */
	own = $state.raw<Readonly<Record<TrackPath, number>>>({ translation: 0, rotation: 0, scale: 0 });
	switches = $state.raw<Readonly<Record<string, boolean>>>({});
	/** Numbers of formats that are chosen, by their ids. */
	numbers = $state.raw<Readonly<Record<string, number>>>({});
	isWorking = $state(false);
	result = $state.raw<Exported | null>(null);
	/** What the result was written as. */
	writtenAs = $state.raw<ShippingFormat>(SHIPPING[0]);
	/** The result as its readers show it; null for formats that nothing plays here. */
	played = $state.raw<Played | null>(null);
	/** The document that the result was made from: a later edit makes it old. */
	private madeFrom = $state.raw<unknown>(null);

	readonly chosen: Clip[] = $derived.by(() =>
		this.session.project.clips.filter((clip) => !this.left.has(clip.id)),
	);
	readonly canWrite: boolean = $derived.by(() => !this.isWorking && this.chosen.length > 0);
	readonly isStale: boolean = $derived.by(() => this.result !== null && this.madeFrom !== this.session.doc);
	/** The project as a file; with pictures or models in it, it comes as a zip. */
	private readonly projectFile: string = $derived.by(() => {
		const { doc } = this.session;
		return `${fileStem(doc.project.name)}.hillock.${assetsOf(doc).size > 0 ? 'zip' : 'json'}`;
	});
	/** The command that writes the same in a build. */
	readonly command: string = $derived.by(() => {
		const { chosen, session, format } = this;
		return commandLine({
			address: location.origin + addresses.file(session.project.id),
			file: this.projectFile,
			clips:
				chosen.length === 0 || chosen.length === session.project.clips.length
					? ['all']
					: chosen.map(({ name }) => name),
			target: format.id,
			out: `${stemOfClips(session.doc, chosen)}${format.extensions[0]}`,
			relative: format.ships.hasMotion ? this.percent / 100 : null,
			own: format.ships.hasMotion ? this.own : {},
			flags: format.ships.switches.filter(({ id }) => this.switches[id]).map(({ flag }) => flag),
			numbers: Object.fromEntries(
				(format.ships.numbers ?? []).flatMap(({ id, flag }) =>
					id in this.numbers ? [[flag, this.numbers[id]]] : [],
				),
			),
		});
	});

	constructor(private readonly session: Session) {}

	toggle(clip: string): void {
		const next = new Set(this.left);
		if (!next.delete(clip)) next.add(clip);
		this.left = next;
	}

	async write(): Promise<void> {
		const { session, format } = this;
		if (!this.canWrite) return;
		this.isWorking = true;
		await session.saver.flushed();
		const from = session.doc;
		const answer = await api.export(session.project.id, {
			clips: this.chosen.map((clip) => clip.id),
			target: format.id,
			bounds: {
				relative: this.percent / 100,
				...Object.fromEntries(Object.entries(this.own).filter(([, value]) => value > 0)),
			},
			...Object.fromEntries(format.ships.switches.map(({ id }) => [id, this.switches[id] ?? false])),
			...Object.fromEntries((format.ships.numbers ?? []).map(({ id }) => [id, this.numbers[id] ?? null])),
		});
		this.isWorking = false;
		if (!answer.ok) {
			toast.error(answer.problem.title, { description: answer.problem.detail, duration: 10_000 });
			return;
		}
		this.result = answer.value;
		this.writtenAs = format;
		session.exported++;
		this.madeFrom = from;
		this.played?.close();
		this.played = isPlayed(format.id) ? new Played(from, answer.value, format.id) : null;
	}

	/** Lets go of what plays; call it when the room is left. */
	close(): void {
		this.played?.close();
	}

	/** The unit of a path, with its space. */
	unitOf(path: string): string {
		if (path === 'rotation') return '°';
		if (path !== 'translation' && path !== 'size' && path !== 'radius') return '';
		return this.session.doc.project.space === 'world' ? ' m' : ' px';
	}
}

/** An error as it is told: small ones by their exponent. */
export function errorText(value: number): string {
	return value === 0 ? '0' : value < 0.001 ? value.toExponential(1) : writeNumber(value, 4);
}
