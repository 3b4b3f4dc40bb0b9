/** Starts the built application, and stops it without losing what it accepted. */
import envPaths from 'env-paths';
import { existsSync } from 'node:fs';
import type { RequestListener } from 'node:http';
import type { AddressInfo } from 'node:net';
import { fileURLToPath } from 'node:url';
import { addDemo } from '../src/lib/server/demo';
import { lockFolder, openDatabase } from '../src/lib/server/db/database';
import type { Mended } from '../src/lib/api/mended';
import { mendDatabase } from '../src/lib/server/db/mend';
import { ProjectStore } from '../src/lib/server/project-store';
import { PACK_LIMIT } from '../src/lib/server/request';
import { CliError } from './error';
import { patientServer } from './patience';
import { inUrl, isOpen, namesOf, outerHosts } from './reach';

interface ServeOptions {
	port: number;
	host: string;
	token?: string;
	data?: string;
	demo: boolean;
	allowOrigin?: readonly string[];
	allowHost?: readonly string[];
}

const STOP_LIMIT_MS = 10_000;

function applicationPath(name: string): string {
	return fileURLToPath(new URL(`../${name}`, import.meta.url));
}

/** Where data are kept unless told otherwise: beside a checkout, else where this machine keeps such data. */
export function defaultDataFolder(): string {
	return existsSync(applicationPath('core'))
		? applicationPath('data')
		: envPaths('hillock', { suffix: '' }).data;
}

/** Tells how a damaged database came out. */
function tellMended({ projects, isListed, kept }: Mended): void {
	process.stderr.write(`hillock: the database was damaged; the damaged file is kept as ${kept}\n`);
	for (const { name, how, madeAt, lostFiles = 0 } of projects) {
		const files = lostFiles > 0 ? `, ${lostFiles} of its files lost` : '';
		process.stderr.write(`hillock: ${name}: ${how}${madeAt ? ` of ${madeAt}` : ''}${files}\n`);
	}
	if (!isListed)
		process.stderr.write(
			'hillock: its list of projects could not be read whole: there may have been others\n',
		);
}

/** Opens the database once before the server does: its errors are told in one line, and the demo put in. */
function prepareData(folder: string, demo: boolean): void {
	try {
		const mended = mendDatabase(folder);
		if (mended) tellMended(mended);
		const db = openDatabase(folder);
		const store = new ProjectStore(db);
		if (demo && store.isEmpty()) addDemo(store);
		db.close();
	} catch (error) {
		throw new CliError(`${folder}: ${error instanceof Error ? error.message : String(error)}`, 2);
	}
}

/** Two servers on one folder would each answer from their own memory. */
export function takeFolder(folder: string): { release: () => void } {
	let lock;
	try {
		lock = lockFolder(folder);
	} catch (error) {
		throw new CliError(`${folder}: ${error instanceof Error ? error.message : String(error)}`, 2);
	}
	if (!lock)
		throw new CliError(`${folder}: another Hillock serves this folder; choose another one with --data`, 2);
	return lock;
}

/** As browsers send it: scheme, host, and a port that is not the usual one. */
function readOrigin(text: string): string {
	const url = URL.canParse(text) ? new URL(text) : null;
	if (!url || !/^https?:$/.test(url.protocol) || url.pathname !== '/' || url.search || url.hash)
		throw new CliError(`"${text}" is no origin: write for example http://localhost:5173`, 2);
	return url.origin;
}

export async function serve(options: ServeOptions): Promise<void> {
	if (isOpen(options.host) && !options.token) {
		throw new CliError(`${options.host} can be reached by others: give an access token with --token`, 2);
	}
	const origins = (options.allowOrigin ?? []).map(readOrigin);
	const handlerFile = applicationPath('build/handler.js');
	if (!existsSync(handlerFile)) throw new CliError('not built yet: run "npm run build" first', 2);
	const folder = options.data ?? defaultDataFolder();
	const lock = takeFolder(folder);
	prepareData(folder, options.demo);
	process.env.HILLOCK_DATA = folder;
	if (origins.length > 0) process.env.HILLOCK_ORIGINS = origins.join();
	if (options.token) process.env.HILLOCK_TOKEN = options.token;
	process.env.HILLOCK_HOSTS = namesOf(options.host, options.allowHost ?? []).join();
	// What is saved as a pack can be taken in again; other routes have smaller limits of their own.
	process.env.BODY_SIZE_LIMIT ??= String(PACK_LIMIT);

	const { handler } = (await import(/* @vite-ignore */ handlerFile)) as { handler: RequestListener };
	const server = patientServer(handler);
	await new Promise<void>((resolve, reject) => {
		server.once('error', (error: NodeJS.ErrnoException) => {
			const taken = error.code === 'EADDRINUSE';
			reject(
				new CliError(taken ? `port ${options.port} is taken: choose another with --port` : error.message, 2),
			);
		});
		server.listen(options.port, options.host, resolve);
	});
	const { port } = server.address() as AddressInfo;
	const query = options.token ? `/?token=${encodeURIComponent(options.token)}` : '';
	// On all addresses it is on the local one as well.
	const host =
		isOpen(options.host) && outerHosts(options.host)[0] !== options.host ? '127.0.0.1' : options.host;
	const address = `http://${inUrl(host)}:${port}`;
	const outside = outerHosts(options.host).map((own) => `http://${inUrl(own)}:${port}${query}`);
	process.env.HILLOCK_OUTSIDE = outside.join(' ');
	process.stdout.write(`Hillock is ready: ${address}${query}\n`);
	for (const own of outside)
		if (!own.startsWith(address)) process.stdout.write(`From other devices: ${own}\n`);
	if (options.demo) process.stdout.write(`A game that plays and follows its clips: ${address}/game/\n`);

	const stop = (): void => {
		process.emit('hillock:stop' as never);
		// Requests under way are answered; then the database closes.
		server.close(() => {
			process.emit('sveltekit:shutdown' as never);
			lock.release();
		});
		// A line that is kept open is idle once its last answer is out.
		setInterval(() => server.closeIdleConnections(), 50).unref();
		setTimeout(() => server.closeAllConnections(), STOP_LIMIT_MS).unref();
	};
	process.once('SIGTERM', stop);
	process.once('SIGINT', stop);
}
