/** A film of a clip: how it is made, how far it is, and what came of it. */
import type { Clip, Doc } from '$core/document/types';
import { fileStem } from '$core/formats/file-name';
import { frameToTicks, ticksToFrame } from '$core/time';
import type { Session } from '$lib/session/session.svelte';
import type { StageColours } from '$lib/stage/scene';
import { FILM_KINDS, type FilmKind } from './encoders';
import { frameCount, MOST_FRAMES, type FilmOptions } from './options';

/** What is behind the parts. */
export const GROUNDS = ['stage', 'white', 'black', 'clear'] as const;
export type Ground = (typeof GROUNDS)[number];

export interface Film {
	url: string;
	fileName: string;
	bytes: number;
	frames: number;
	kind: FilmKind;
}

export class FilmState {
	kind = $state.raw<FilmKind>(FILM_KINDS[0]);
	clipId = $state('');
	width = $state(480);
	height = $state(320);
	rate = $state(25);
	speed = $state(1);
	rounds = $state(1);
	/** Frames of the clip between which it is shown; null is its end. */
	from = $state(0);
	to = $state<number | null>(null);
	blur = $state(1);
	ground = $state<Ground>('stage');
	/** Share of the frames that are made; null while none are. */
	progress = $state<number | null>(null);
	film = $state.raw<Film | null>(null);
	problem = $state('');
	private stopping: AbortController | null = null;

	constructor(private readonly session: Session) {
		const { screen } = session.doc.project;
		if (!screen) return;
		// As the screen is, and no larger than a page shows well.
		const share = Math.min(1, 640 / Math.max(screen.width, screen.height));
		this.width = Math.round(screen.width * share);
		this.height = Math.round(screen.height * share);
	}

	get clip(): Clip | null {
		const { clips } = this.session.project;
		return clips.find(({ id }) => id === this.clipId) ?? clips[0] ?? null;
	}

	chooseClip(id: string): void {
		this.clipId = id;
		this.from = 0;
		this.to = null;
	}

	/** The last frame of the clip. */
	get lastFrame(): number {
		return this.clip ? ticksToFrame(this.clip.length, this.session.frameRate) : 0;
	}

	private get range(): FilmOptions['range'] {
		const { clip, from, to, session, lastFrame } = this;
		const end = Math.min(to ?? lastFrame, lastFrame);
		if (!clip || (from <= 0 && end >= lastFrame)) return null;
		const at = (frame: number) => Math.min(clip.length, frameToTicks(frame, session.frameRate));
		return { from: at(Math.min(from, end)), to: at(end) };
	}

	private optionsOver(colourOf: (ground: Ground) => string): FilmOptions {
		const { width, height, rate, speed, rounds, range, blur, ground, kind } = this;
		const own = ground === 'clear' && !kind.hasAlpha ? 'stage' : ground;
		const behind = own === 'clear' ? null : colourOf(own);
		return { width, height, rate, speed, rounds, range, blur, ground: behind };
	}

	/** How many frames the film would have. */
	readonly frames: number = $derived.by(() =>
		this.clip
			? frameCount(
					this.clip,
					this.optionsOver(() => ''),
				)
			: 0,
	);
	/** Why no film can be made as it is chosen; empty where one can. */
	readonly cannot: string = $derived.by(() => {
		if (!this.clip) return 'There is no clip yet.';
		if (this.frames > MOST_FRAMES)
			return `${this.frames} frames; ${MOST_FRAMES} is the most: take fewer a second, or less of it.`;
		return '';
	});

	/** Makes the film. `colours` are the stage's, `colourOf` those of grounds. */
	async make(colours: StageColours, colourOf: (ground: Ground) => string): Promise<void> {
		const { clip, kind, session } = this;
		if (!clip || this.cannot !== '' || this.progress !== null) return;
		const stopping = (this.stopping = new AbortController());
		this.progress = 0;
		this.problem = '';
		try {
			// What is chosen meanwhile is for the next one.
			const frames = this.frames;
			const blob = await this.encode(
				session.doc,
				clip,
				kind,
				this.optionsOver(colourOf),
				colours,
				stopping.signal,
			);
			if (blob) {
				this.forget();
				this.film = {
					url: URL.createObjectURL(blob),
					fileName: `${fileStem(clip.name)}${kind.extension}`,
					bytes: blob.size,
					frames,
					kind,
				};
			}
		} catch (error) {
			this.problem = error instanceof Error ? error.message : String(error);
		}
		this.progress = null;
	}

	/** Null when it was stopped. */
	private async encode(
		doc: Doc,
		clip: Clip,
		kind: FilmKind,
		options: FilmOptions,
		colours: StageColours,
		signal: AbortSignal,
	): Promise<Blob | null> {
		const { FrameMaker } = await import('./frames');
		const maker = new FrameMaker(doc, clip, options, colours);
		try {
			await maker.ready();
			const encoder = await kind.open(options, maker.count);
			for (let i = 0; i < maker.count; i++) {
				if (signal.aborted) {
					await encoder.cancel?.();
					return null;
				}
				maker.make(i);
				await encoder.add(maker.canvas, i);
				this.progress = (i + 1) / maker.count;
				// The page goes on meanwhile.
				await new Promise((done) => setTimeout(done));
			}
			return await encoder.finish();
		} finally {
			maker.destroy();
		}
	}

	cancel(): void {
		this.stopping?.abort();
	}

	private forget(): void {
		if (this.film) URL.revokeObjectURL(this.film.url);
		this.film = null;
	}

	/** Stops and lets go of all; call it when the room is left. */
	close(): void {
		this.cancel();
		this.forget();
	}
}
