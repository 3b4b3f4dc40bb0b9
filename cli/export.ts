/** Writes clips of project files: one or many, here or in workers, once or whenever a file changes. */
import { Piscina } from 'piscina';
import { gzipSync } from 'fflate';
import { existsSync, mkdirSync, watch } from 'node:fs';
import { availableParallelism } from 'node:os';
import { basename, dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { loadShipper } from '../core/formats/loaders';
import { measuredOnly, tellLeftOut, worstShare, type ShipReport } from '../core/tracks/report';
import type { Shipped, Written as WrittenFile } from '../core/tracks/ship';
import { FORMULA_LOOKS } from '../core/tracks/track';
import { CliError } from './error';
import { writeOut } from './files';
import { jobsOf, type ExportOptions, type Job } from './jobs';

/** What was written, as it is told. */
interface Written {
	job: Job;
	shipped: Shipped;
	seconds: number;
}
type Ship = (job: Job) => Promise<Shipped>;

async function shipHere({ doc, clips, format, options }: Job): Promise<Shipped> {
	return (await loadShipper(format)).ship(doc, clips, options);
}

/** The built worker beside the built command line; null where it runs from its sources. */
function workerFile(): string | null {
	const file = fileURLToPath(new URL('./export-worker.js', import.meta.url));
	return existsSync(file) ? file : null;
}

/** Calls `work` with what ships, in workers where that pays. */
async function withWorkers<T>(count: number, most: number, work: (ship: Ship) => Promise<T>): Promise<T> {
	const filename = workerFile();
	const threads = Math.min(count, most);
	if (threads < 2 || filename === null) return work(shipHere);
	const pool = new Piscina({ filename, minThreads: threads, maxThreads: threads });
	try {
		return await work(async ({ doc, format, clips, options }) => {
			const task = { doc, target: format.id, clips: clips.map(({ id }) => id), ...options };
			const result = (await pool.run(task)) as { refused: string } | (WrittenFile & { report: ShipReport });
			if ('refused' in result) throw new RangeError(result.refused);
			const { report, ...written } = result;
			return { ...written, ...report };
		});
	} finally {
		await pool.destroy();
	}
}

const curvesOf = ({ clips }: Shipped) =>
	clips.flatMap((clip) => clip.tracks).reduce((sum, { bytes }) => sum + bytes, 0);

function tellNotes({ clips, plainer }: Shipped): void {
	for (const { name, leftOut } of clips)
		for (const own of leftOut) process.stderr.write(`hillock: ${name}: left out: ${tellLeftOut(own)}\n`);
	for (const note of plainer) process.stderr.write(`hillock: drawn plainer: ${note}\n`);
}

function tell({ job, shipped }: Written): void {
	tellNotes(shipped);
	const bytes = `${job.out}: ${shipped.bytes.length} bytes`;
	if (!job.format.ships.hasMotion) {
		process.stdout.write(`${bytes}\n`);
		return;
	}
	const share = (100 * worstShare(shipped)).toFixed(1);
	const isBaked = shipped.clips.some(({ tracks }) => tracks.some(({ baked }) => baked));
	process.stdout.write(
		`${bytes}, ${curvesOf(shipped)} of them curves; largest error ${share} % of its bound${isBaked ? ', which keys at a fixed rate do not keep' : ''}\n`,
	);
	for (const { name } of shipped.beside ?? []) process.stdout.write(`beside it: ${name}\n`);
	const measured = measuredOnly(shipped);
	if (measured > 0)
		process.stdout.write(
			`${measured} ${measured === 1 ? 'path' : 'paths'} of formulas: within the bound at ${FORMULA_LOOKS} places a second, not guaranteed between them\n`,
		);
}

const tellJson = ({ job, shipped, seconds }: Written) => ({
	file: job.file,
	profile: job.profile === '' ? null : job.profile,
	target: job.format.id,
	out: job.out,
	bytes: shipped.bytes.length,
	gzip: gzipSync(shipped.bytes).length,
	curves: curvesOf(shipped),
	error: job.format.ships.hasMotion ? worstShare(shipped) : null,
	leftOut: shipped.clips.flatMap(({ name, leftOut }) => leftOut.map((own) => `${name}: ${tellLeftOut(own)}`)),
	plainer: shipped.plainer,
	seconds,
});

async function runJob(job: Job, ship: Ship): Promise<Written> {
	const start = performance.now();
	const shipped = await ship(job).catch((error: unknown) => {
		throw error instanceof RangeError ? new CliError(`${job.file}: ${error.message}`, 1) : error;
	});
	const folder = dirname(job.out);
	mkdirSync(folder, { recursive: true });
	for (const { name, bytes } of shipped.beside ?? []) writeOut(join(folder, name), bytes);
	// Last: who waits for it finds what it refers to.
	writeOut(job.out, shipped.bytes);
	return { job, shipped, seconds: Number(((performance.now() - start) / 1000).toFixed(3)) };
}

/** Runs jobs, tells of each in their order, and of those that failed. Gives how many these were. */
async function runAll(jobs: readonly Job[], { json = false, jobs: most }: ExportOptions): Promise<number> {
	const done: Written[] = [];
	let failed = 0;
	await withWorkers(jobs.length, most ?? availableParallelism(), async (ship) => {
		// A folder of hundreds is not sent to the workers at once.
		const lanes = Math.min(jobs.length, 2 * (most ?? availableParallelism()));
		const told: (() => void)[] = [];
		let next = 0;
		let toTell = 0;
		const lane = async () => {
			while (next < jobs.length) {
				const at = next++;
				try {
					const written = await runJob(jobs[at], ship);
					told[at] = () => {
						done.push(written);
						if (!json) tell(written);
					};
				} catch (error) {
					if (!(error instanceof CliError) || jobs.length === 1) throw error;
					failed++;
					told[at] = () => process.stderr.write(`hillock: ${error.message}\n`);
				}
				while (told[toTell]) told[toTell++]();
			}
		};
		await Promise.all(Array.from({ length: lanes }, lane));
	});
	if (json) process.stdout.write(`${JSON.stringify(done.map(tellJson), null, '\t')}\n`);
	else if (jobs.length > 1) {
		const bytes = done.reduce((sum, { shipped }) => sum + shipped.bytes.length, 0);
		process.stdout.write(`${done.length} files, ${bytes} bytes${failed > 0 ? `; ${failed} failed` : ''}\n`);
	}
	return failed;
}

/** Files are often written in several steps. */
const SETTLES_MS = 150;

/** Writes a file's clips again whenever it changes, until the process ends. */
function watchFiles(files: readonly string[], asked: ExportOptions): Promise<never> {
	process.stderr.write(
		`hillock: watching ${files.length === 1 ? files[0] : `${files.length} files`}; Ctrl+C ends it\n`,
	);
	const waiting = new Map<string, NodeJS.Timeout>();
	let last: Promise<unknown> = Promise.resolve();
	const again = async (file: string) => {
		try {
			const jobs = jobsOf(files, asked).filter((job) => job.file === file);
			await runAll(sharded(jobs, asked), asked);
		} catch (error) {
			if (!(error instanceof CliError)) throw error;
			process.stderr.write(`hillock: ${error.message}\n`);
		}
	};
	// The folder is watched: many programs replace a file by another of its name.
	for (const file of files)
		watch(dirname(file), (_, name) => {
			if (name !== basename(file)) return;
			clearTimeout(waiting.get(file));
			waiting.set(
				file,
				setTimeout(() => (last = last.then(() => again(file))), SETTLES_MS),
			);
		});
	return new Promise(() => {});
}

function sharded(jobs: readonly Job[], { shard }: ExportOptions): Job[] {
	return jobs.filter((_, i) => !shard || i % shard.of === shard.part - 1);
}

export async function exportFiles(files: readonly string[], asked: ExportOptions): Promise<void> {
	const jobs = jobsOf(files, asked);
	if (asked.watch && jobs.some(({ file, out }) => file === out))
		throw new CliError('what is watched would be written over', 2);
	const failed = await runAll(sharded(jobs, asked), asked);
	if (failed > 0) process.exitCode = 1;
	if (asked.watch) await watchFiles([...new Set(files)], asked);
}
