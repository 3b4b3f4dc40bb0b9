/** What is chosen in Ship, and what was written last. */
import type { Profile } from '$core/document/profiles';
import { fileStem, stemOfClips } from '$core/formats/file-name';
import { toast } from 'svelte-sonner';
import { assetsOf } from '$core/document/assets';
import { inOrder, type Clip } from '$core/document/types';
import { extensionOf } from '$core/formats/format';
import { PER_CLIP } from '$core/formats/profile';
import { SHIPPING, shippingFormat, type ShippingFormat } from '$core/formats/registry';
import type { Bounds } from '$core/tracks/bounds';
import type { TrackPath } from '$core/tracks/track';
import { addresses, api, type Exported, type ExportRequest } from '$lib/api/client';
import type { Session } from '$lib/session/session.svelte';
import { writeNumber } from '$lib/ui/number-text';
import { commandLine } from './command-line';
import { FilmState } from './film/film-state.svelte';
import { PartBounds } from './part-bounds.svelte';
import { Played } from './played/played.svelte';
import { isPlayed } from './played/reader';
import { Weights } from './weights.svelte';

/** What a profile says beside its name. */
export type ProfileChoices = Omit<Profile, 'type' | 'id' | 'order' | 'name'>;

/** The same text for the same choices, in whatever order they came. */
function told({ target, clips, bounds, choices }: ProfileChoices): string {
	const sorted = (own: object): unknown[] =>
		Object.entries(own)
			.map(([key, value]) => [key, value !== null && typeof value === 'object' ? sorted(value) : value])
			.sort(([a], [b]) => (a < b ? -1 : 1));
	return JSON.stringify([target, clips && [...clips].sort(), sorted(bounds), sorted(choices)]);
}

export class ShipState {
	format = $state.raw<ShippingFormat>(SHIPPING[0]);
	/** A film instead of a file of any format. */
	readonly film: FilmState;
	isFilm = $state(false);
	/** Clips that are not chosen. */
	left = $state.raw<ReadonlySet<string>>(new Set());
	/** The bound, in percent share of each path's range. */
	percent = $state(0.1);
	/** Bounds in the paths' own units; 0 leaves it to the share. */
	own = $state.raw<Readonly<Record<TrackPath, number>>>({ translation: 0, rotation: 0, scale: 0 });
	/** Bounds of single parts and of their paths. */
	readonly parts = new PartBounds();
	switches = $state.raw<Readonly<Record<string, boolean>>>({});
	/** Whether each clip has a file of its own. */
	perClip = $state(false);
	/** Numbers of formats that are chosen, by their ids. */
	numbers = $state.raw<Readonly<Record<string, number>>>({});
	isWorking = $state(false);
	result = $state.raw<Exported | null>(null);
	/** What the result was written as. */
	writtenAs = $state.raw<ShippingFormat>(SHIPPING[0]);
	/** The result as its readers show it; null for formats that nothing plays here. */
	played = $state.raw<Played | null>(null);
	/** How large the result would be with other bounds. */
	weights = $state.raw<Weights | null>(null);
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
			profile: this.profile?.name ?? null,
			clips:
				chosen.length === 0 || chosen.length === session.project.clips.length
					? ['all']
					: chosen.map(({ name }) => name),
			target: format.id,
			out: this.perClip
				? `${stemOfClips(session.doc, chosen)}/`
				: `${stemOfClips(session.doc, chosen)}${extensionOf(format, this.switches)}`,
			perClip: this.perClip,
			relative: format.ships.hasMotion ? this.percent / 100 : null,
			own: format.ships.hasMotion ? this.own : {},
			parts: format.ships.hasMotion ? this.parts.said(session.doc) : [],
			flags: format.ships.switches.filter(({ id }) => this.switches[id]).map(({ flag }) => flag),
			numbers: Object.fromEntries(
				(format.ships.numbers ?? []).flatMap(({ id, flag }) =>
					id in this.numbers ? [[flag, this.numbers[id]]] : [],
				),
			),
		});
	});

	/** The profile that says what is chosen now. */
	readonly profile: Profile | null = $derived.by(() => {
		const now = told(this.choices);
		return inOrder(this.session.doc.profiles).find((own) => told(own) === now) ?? null;
	});

	constructor(private readonly session: Session) {
		this.film = new FilmState(session);
	}

	chooseFormat(format: ShippingFormat): void {
		this.format = format;
		this.isFilm = false;
	}

	/** What is chosen now, as a profile keeps it. */
	get choices(): ProfileChoices {
		const { format, chosen, session } = this;
		const { switches, numbers = [] } = format.ships;
		return {
			target: format.id,
			clips: chosen.length === session.project.clips.length ? null : chosen.map(({ id }) => id),
			bounds: this.bounds,
			choices: Object.fromEntries([
				...(this.perClip ? [[PER_CLIP, true]] : []),
				...switches.filter(({ id }) => this.switches[id]).map(({ id }) => [id, true]),
				...numbers.filter(({ id }) => id in this.numbers).map(({ id }) => [id, this.numbers[id]]),
			]),
		};
	}

	/** Chooses what a profile says; a format that is not known here is left. */
	take({ target, clips, bounds, choices }: Profile): void {
		this.chooseFormat(shippingFormat(target) ?? this.format);
		this.left = new Set(
			clips === null
				? []
				: this.session.project.clips.filter(({ id }) => !clips.includes(id)).map(({ id }) => id),
		);
		this.percent = Number((100 * bounds.relative).toPrecision(9));
		this.own = {
			translation: bounds.translation ?? 0,
			rotation: bounds.rotation ?? 0,
			scale: bounds.scale ?? 0,
		};
		this.parts.set = bounds.parts ?? {};
		const of = <T extends boolean | number>(is: (value: boolean | number) => value is T) =>
			Object.fromEntries(
				Object.entries(choices).flatMap(([id, value]): [string, T][] => (is(value) ? [[id, value]] : [])),
			);
		this.perClip = choices[PER_CLIP] === true;
		this.switches = of((value) => typeof value === 'boolean');
		this.numbers = of((value) => typeof value === 'number');
	}

	private get bounds(): Bounds {
		return {
			relative: Number((this.percent / 100).toPrecision(12)),
			...Object.fromEntries(Object.entries(this.own).filter(([, value]) => value > 0)),
			...this.parts.within(this.session.doc),
		};
	}

	/** Chooses a number of the format; what it would be anyway is not chosen. */
	setNumber(id: string, value: number): void {
		const own = this.format.ships.numbers?.find((number) => number.id === id);
		const next: Record<string, number> = { ...this.numbers, [id]: value };
		if (own?.initial(this.session.doc) === value) delete next[id];
		this.numbers = next;
	}

	toggle(clip: string): void {
		const next = new Set(this.left);
		if (!next.delete(clip)) next.add(clip);
		this.left = next;
	}

	/** What is chosen now, as the server is asked for it. */
	get request(): ExportRequest {
		const { switches, numbers = [] } = this.format.ships;
		return {
			clips: this.chosen.map((clip) => clip.id),
			target: this.format.id,
			bounds: this.bounds,
			perClip: this.perClip,
			...Object.fromEntries(switches.map(({ id }) => [id, this.switches[id] ?? false])),
			...Object.fromEntries(numbers.map(({ id }) => [id, this.numbers[id] ?? null])),
		};
	}

	async write(): Promise<void> {
		const { session, format } = this;
		if (!this.canWrite) return;
		this.isWorking = true;
		await session.saver.flushed();
		const from = session.doc;
		const request = this.request;
		const answer = await api.export(session.project.id, request);
		this.isWorking = false;
		if (!answer.ok) {
			toast.error(answer.problem.title, { description: answer.problem.detail, duration: 10_000 });
			return;
		}
		this.weights?.stop();
		this.result = answer.value;
		this.writtenAs = format;
		session.exported++;
		this.madeFrom = from;
		this.weights = new Weights(session.project.id, request, answer.value, format.ships.hasMotion);
		this.played?.close();
		const { switches, numbers } = this;
		this.played = isPlayed(format.id, this.perClip)
			? new Played(from, answer.value, format.id, { switches, numbers })
			: null;
	}

	/** Lets go of what plays; call it when the room is left. */
	close(): void {
		this.played?.close();
		this.weights?.stop();
		this.film.close();
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
