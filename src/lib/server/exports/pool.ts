/** The pool of export workers, each task with a time and a memory limit. */
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Piscina } from 'piscina';
import { ApiError } from '../problem';
import type { ExportOutcome, ExportResult, ExportTask } from './worker';

const TIME_LIMIT_MS = 60_000;
const MEMORY_LIMIT_MB = 1024;
const WAITING_LIMIT = 16;

let pool: Piscina | null = null;

/** The built worker, found from this module's own place upwards. */
function workerFile(): string {
	for (let folder = dirname(fileURLToPath(import.meta.url)); ; folder = dirname(folder)) {
		const file = join(folder, 'build-node', 'export-worker.js');
		if (existsSync(file)) return file;
		if (folder === dirname(folder))
			throw new Error('build-node/export-worker.js is missing: run "npm run build"');
	}
}

export async function runExport(task: ExportTask): Promise<ExportOutcome> {
	pool ??= new Piscina({
		filename: workerFile(),
		maxThreads: 2,
		minThreads: 0,
		idleTimeout: 30_000,
		maxQueue: WAITING_LIMIT,
		resourceLimits: { maxOldGenerationSizeMb: MEMORY_LIMIT_MB },
	});
	const signal = AbortSignal.timeout(TIME_LIMIT_MS);
	let result: ExportResult;
	try {
		result = (await pool.run(task, { signal })) as ExportResult;
	} catch (error) {
		if (signal.aborted) {
			throw new ApiError(
				'too-slow',
				`The export took longer than ${TIME_LIMIT_MS / 1000} s and was stopped.`,
			);
		}
		throw error;
	}
	if ('refused' in result) throw new ApiError('bound-not-kept', `${result.refused}. Choose a wider bound.`);
	return result;
}

export async function closePool(): Promise<void> {
	await pool?.destroy();
	pool = null;
}
