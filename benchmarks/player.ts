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

/** Bytes of the player as one minified module, gzipped. */
async function weight(): Promise<number> {
	const built = (await build({
		configFile: false,
		logLevel: 'silent',
		publicDir: false,
		build: {
			write: false,
			minify: true,
			rollupOptions: {
				input: 'player/player.ts',
				preserveEntrySignatures: 'strict',
				output: { format: 'es' },
			},
		},
	})) as Rolldown.RolldownOutput;
	return gzipSync(built.output[0].code).length;
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
	const bytes = await weight();
	const figures = [
		figure(
			'the player alone, minified, gzip',
			`${(bytes / 1024).toFixed(2)} KiB`,
			'at most 8 KiB',
			bytes <= 8192,
		),
	];
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
