/** Takes of what a file says by samples so dense that nobody set them as keys. */
import { CLEANING, MOST_TAKE_COLUMNS, type Cleaning, type Take, type TakeColumn } from '../../document/takes';
import type { Doc } from '../../document/types';
import { MOST_TAKE_SAMPLES, writeTakeFile } from '../../takes/samples-file';
import { shortName } from '../../text';
import { TICKS_PER_SECOND } from '../../../player/time';
import type { TakenIn } from '../format';

export interface RecordedColumn extends TakeColumn {
	clip: string;
	/** Whole ticks, rising. */
	times: ArrayLike<number>;
	values: ArrayLike<number>;
}

/** Fewer samples, or fewer a second, are keys. */
const LEAST_SAMPLES = 24;
const LEAST_RATE = 12;
const MOST_FILE_BYTES = 30_000_000;

export function isRecording(times: ArrayLike<number>): boolean {
	const last = times.length - 1;
	const rate = (last * TICKS_PER_SECOND) / (times[last] - times[0]);
	return times.length >= LEAST_SAMPLES && times.length <= MOST_TAKE_SAMPLES && rate >= LEAST_RATE;
}

/** What comes from a file has been cleaned by somebody, or is to stay as it is until somebody cleans it. */
const FILE_CLEANING: Cleaning = { ...CLEANING, spikes: false, smoothing: 'none', tolerance: 0.005 };

/** As many as the project keeps in one file. */
const mostColumns = (samples: number) =>
	Math.min(MOST_TAKE_COLUMNS, Math.max(1, Math.floor(MOST_FILE_BYTES / 4 / samples) - 1));

const isSame = (a: ArrayLike<number>, b: ArrayLike<number>) =>
	a === b || (a.length === b.length && Array.prototype.every.call(a, (t: number, i: number) => t === b[i]));

async function sha256(content: Uint8Array<ArrayBuffer>): Promise<string> {
	const digest = new Uint8Array(await globalThis.crypto.subtle.digest('SHA-256', content));
	return [...digest].map((byte) => byte.toString(16).padStart(2, '0')).join('');
}

/** A take for each clip and each list of times, with the file of its samples. */
export async function takesOfColumns(
	doc: Doc,
	columns: readonly RecordedColumn[],
): Promise<{ takes: Doc['takes']; files: TakenIn['files'] }> {
	const groups: RecordedColumn[][] = [];
	for (const column of columns) {
		const known = groups.findLast(([{ clip, times }]) => clip === column.clip && isSame(times, column.times));
		if (known && known.length < mostColumns(column.times.length)) known.push(column);
		else groups.push([column]);
	}
	const takes: Record<string, Take> = {};
	const files: { id: string; name: string; content: Uint8Array }[] = [];
	for (const [i, group] of groups.entries()) {
		const { clip, times } = group[0];
		const content = writeTakeFile({
			times: Uint32Array.from(times),
			columns: group.map(({ values }) => Float32Array.from(values)),
		});
		const id = `k${i}`;
		const asset = await sha256(content);
		files.push({ id: asset, name: `${doc.clips[clip].name}.take`, content });
		takes[id] = {
			type: 'take',
			id,
			name: shortName(groups.length > 1 ? `take ${i + 1}` : doc.clips[clip].name, 120, 'take'),
			order: doc.clips[clip].order,
			clip,
			asset,
			samples: times.length,
			from: times[0],
			to: times[times.length - 1],
			columns: group.map(({ part, property, component }) => ({ part, property, component })),
			cleaning: FILE_CLEANING,
		};
	}
	return { takes, files };
}
