/** How large a file would be with other bounds: weighed one after the other, once somebody looks. */
import { api, type Exported, type ExportRequest } from '$lib/api/client';

export interface Weight {
	/** The bound, in percent share of each path's range. */
	percent: number;
	bytes: number;
	gzip: number;
}

/** Bounds that are tried, in percent. */
const TRIED = [0.01, 0.03, 0.1, 0.3, 1, 3];

export class Weights {
	/** What is known, by rising bounds; the file that was written among them. */
	known = $state.raw<readonly Weight[]>([]);
	/** Bounds that cannot be kept or were not answered are left out. */
	isWeighing = $state(false);
	/** The bound of the file that was written. */
	readonly present: number;
	private readonly stopping = new AbortController();
	private isAsked = false;

	constructor(
		private readonly project: string,
		private readonly request: ExportRequest,
		{ bytes, gzip }: Pick<Exported, 'bytes' | 'gzip'>,
		/** Whether a bound makes any difference. */
		readonly isBounded: boolean,
	) {
		this.present = 100 * (request.bounds?.relative ?? 0.001);
		this.known = [{ percent: this.present, bytes, gzip }];
	}

	/** Weighs what is not known yet. Once is enough. */
	async weigh(): Promise<void> {
		if (this.isAsked || !this.isBounded) return;
		this.isAsked = true;
		this.isWeighing = true;
		for (const percent of TRIED) {
			if (Math.abs(percent - this.present) < 1e-9) continue;
			const bounds = { ...this.request.bounds, relative: percent / 100 };
			const { signal } = this.stopping;
			const answer = await api.weigh(this.project, { ...this.request, bounds }, signal);
			if (signal.aborted) break;
			if (answer.ok)
				this.known = [...this.known, { percent, ...answer.value }].sort((a, b) => a.percent - b.percent);
		}
		this.isWeighing = false;
	}

	stop(): void {
		this.stopping.abort();
	}
}
