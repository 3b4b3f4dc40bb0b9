/** The pool of export workers, each task with a time and a memory limit. */
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Piscina } from 'piscina';
import type { FileIn, Format, TakenIn } from '$core/formats/format';
import { takeIn } from '$core/formats/loaders';
import type { Result } from '$core/result';
import { ApiError } from '../problem';
import { MEGABYTE } from '../request';
import type { ExportOutcome, ExportResult, DraftTask, ExportTask, ImportTask } from './worker';

export const TIME_LIMIT_MS = 60_000;
export const MEMORY_LIMIT_MB = 1024;
export const WAITING_LIMIT = 16;
/** Larger files are read in a worker, whatever their format: meanwhile the server answers others. */
const HEAVY_FROM = 2 * MEGABYTE;

/** So long work goes on after the server was told to stop; a little later its lines are cut off. */
const STOP_WAIT_MS = 8000;
let stopping = new AbortController();

let pool: Piscina | null = null;

/** Lets work under way come to its end; what has not by then ends with a word to whoever waits for it. */
export function stopWork(): void {
	setTimeout(() => stopping.abort(), STOP_WAIT_MS).unref();
}

/** The built worker, found from this module's own place upwards. */
function workerFile(): string {
	for (let folder = dirname(fileURLToPath(import.meta.url)); ; folder = dirname(folder)) {
		const file = join(folder, 'build-node', 'export-worker.js');
		if (existsSync(file)) return file;
		if (folder === dirname(folder))
			throw new Error('build-node/export-worker.js is missing: run "npm run build"');
	}
}

async function run<T>(name: string, task: unknown, what: string): Promise<T> {
	pool ??= new Piscina({
		filename: workerFile(),
		maxThreads: 2,
		minThreads: 0,
		idleTimeout: 30_000,
		maxQueue: WAITING_LIMIT,
		resourceLimits: { maxOldGenerationSizeMb: MEMORY_LIMIT_MB },
	});
	const late = AbortSignal.timeout(TIME_LIMIT_MS);
	const stopped = stopping.signal;
	try {
		return (await pool.run(task, { name, signal: AbortSignal.any([late, stopped]) })) as T;
	} catch (error) {
		if (stopped.aborted)
			throw new ApiError('stopping', `The ${what} was ended with it: ask again when it is back.`);
		if (!late.aborted) throw error;
		throw new ApiError('too-slow', `The ${what} took longer than ${TIME_LIMIT_MS / 1000} s and was stopped.`);
	}
}

export async function runExport(task: ExportTask): Promise<ExportOutcome> {
	const result = await run<ExportResult>('default', task, 'export');
	if ('refused' in result) throw new ApiError('bound-not-kept', `${result.refused}. Choose a wider bound.`);
	return result;
}

/** The clip file of clips as they are now. */
export function runDraft(task: DraftTask): Promise<Uint8Array> {
	return run<Uint8Array>('draft', task, 'writing');
}

/** Reads a file of a format; what is heavy, or large, in a worker. */
export async function runImport(format: Format | null, file: FileIn): Promise<TakenIn> {
	const most = format?.takes?.mostBytes ?? Infinity;
	if (file.bytes.length > most)
		throw new ApiError('too-large', `A ${format!.name} file may have ${most / MEGABYTE} MB at most.`);
	const task = (): ImportTask => ({ ...file, format: format!.id });
	const isHeavy = format?.takes?.isHeavy || file.bytes.length > HEAVY_FROM;
	const read =
		isHeavy && format
			? await run<Result<TakenIn>>('importFile', task(), 'import')
			: await takeIn(format, file);
	if (!read.ok) throw ApiError.of(read.problems);
	return read.value;
}

export async function closePool(): Promise<void> {
	await pool?.destroy();
	pool = null;
	stopping = new AbortController();
}
