/** The findings on the open clip, worked out in a worker a moment after the last edit. */
import { wrap, type Remote } from 'comlink';
import type { Doc } from '$core/document/types';
import type { Checks } from './checks.worker';
import type { Finding } from '$core/check/finding';
import { Mirrored } from './mirror';

/** Milliseconds of rest before it is looked; more where a look takes long, so that it does not go on all the time. */
const QUIET = 300;
const QUIET_SHARE = 4;
const LONGEST_QUIET = 8000;

export class BackgroundChecks {
	findings = $state.raw<readonly Finding[]>([]);
	/** Not before the first look: until then the room itself opens. */
	private worker: Worker | null = null;
	private mirrored: Mirrored<Remote<Checks>> | null = null;
	private timer: ReturnType<typeof setTimeout> | undefined;
	private turn = 0;
	private lastTook = 0;

	/** `document` gives what to look at, or null while it is being dragged about. */
	constructor(private readonly document: () => Doc | null) {}

	/** Looks at a clip soon; a later call comes before an earlier answer. */
	lookSoon(clip: string | null): void {
		clearTimeout(this.timer);
		const quiet = Math.min(LONGEST_QUIET, Math.max(QUIET, QUIET_SHARE * this.lastTook));
		this.timer = setTimeout(() => void this.look(clip), quiet);
	}

	private async look(clip: string | null): Promise<void> {
		const doc = this.document();
		if (!doc) {
			this.lookSoon(clip);
			return;
		}
		const turn = ++this.turn;
		if (clip === null) {
			this.findings = [];
			return;
		}
		const began = performance.now();
		const found = await this.ask(doc, clip);
		this.lastTook = performance.now() - began;
		if (turn === this.turn) this.findings = found;
	}

	private start(): Mirrored<Remote<Checks>> {
		this.worker = new Worker(new URL('./checks.worker.ts', import.meta.url), { type: 'module' });
		return new Mirrored(wrap<Checks>(this.worker));
	}

	private async ask(doc: Doc, clip: string): Promise<Finding[]> {
		this.mirrored ??= this.start();
		return (await this.mirrored.ask(doc, (remote, change) => remote.check(change, clip))) ?? [];
	}

	destroy(): void {
		clearTimeout(this.timer);
		this.turn++;
		this.worker?.terminate();
	}
}
