/** What the player weighs by itself, and what it allocates while it plays and blends. */
import { gzipSync } from 'node:zlib';
import { build, type Rolldown } from 'vite';
import { clipSet } from '../core/blend/clip-set';
import { makeQuay } from '../demo/quay';
import { Player, type BlendSpec } from '../player/player';
import { figure, type Figure } from './figure';

const FRAME = 1 / 60;
const FRAMES = 3000;
const RUNS = 24;

/** What people take along, and how many KiB each may have. */
const ENTRIES = [
	['the player with the reader of clip files', 'player/index.ts', 8],
	['what shows poses on elements', 'player/bind/dom.ts', 1.5],
	['what shows poses on objects', 'player/bind/three.ts', 1.5],
] as const;

/** KiB of an entry as one minified module, gzipped. */
async function weight(entry: string): Promise<number> {
	const built = (await build({
		configFile: false,
		logLevel: 'silent',
		publicDir: false,
		build: {
			write: false,
			minify: true,
			rollupOptions: {
				input: entry,
				preserveEntrySignatures: 'strict',
				output: { format: 'es' },
			},
		},
	})) as Rolldown.RolldownOutput;
	return gzipSync(built.output[0].code).length / 1024;
}

/** Bytes that a frame allocates while two clips without cues blend for as long as is measured. */
function allocated(blend: BlendSpec): number {
	const doc = { ...makeQuay(), cues: {} };
	const player = new Player(clipSet(doc));
	const start = () => {
		player.play({ clip: 'kelp-sway', blend: { kind: 'cut', seconds: 0 } });
		player.advance(FRAME);
		player.play({ clip: 'crane-swing', blend });
	};
	const play = () => {
		for (let i = 0; i < FRAMES; i++) player.advance(FRAME / 1000);
	};
	// What is not compiled yet allocates each number: the least of several runs is what the code itself does.
	let least = Infinity;
	for (let run = 0; run < RUNS; run++) {
		start();
		const before = process.memoryUsage().heapUsed;
		play();
		// A collection in between would make it less than it is.
		const grown = process.memoryUsage().heapUsed - before;
		if (grown >= 0) least = Math.min(least, grown / FRAMES);
	}
	return least;
}

export async function playerFigures(): Promise<Figure[]> {
	const figures: Figure[] = [];
	for (const [what, entry, most] of ENTRIES) {
		const size = await weight(entry);
		figures.push(
			figure(`${what}, minified, gzip`, `${size.toFixed(2)} KiB`, `at most ${most} KiB`, size <= most),
		);
	}
	for (const kind of ['cut', 'crossfade', 'inertial'] as const) {
		const each = allocated({ kind, seconds: 60 });
		figures.push(
			kind === 'cut'
				? figure('bytes allocated a frame, playing one clip', each.toFixed(1), '0 (below 1)', each < 1)
				: figure(`the same, all through a blend: ${kind}`, each.toFixed(1)),
		);
	}
	return figures;
}
