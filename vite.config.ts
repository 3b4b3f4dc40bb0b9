import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { availableParallelism } from 'node:os';
import { defineConfig } from 'vitest/config';

export default defineConfig({
	plugins: [tailwindcss(), sveltekit()],
	worker: { format: 'es' },
	server: { host: '127.0.0.1' },
	build: { chunkSizeWarningLimit: 1200 },
	test: {
		include: ['core', 'player', 'src', 'cli', 'demo'].map((folder) => `${folder}/**/*.test.ts`),
		testTimeout: 60_000,
		// One fewer than there are cores by itself: on two that is one.
		maxWorkers: Math.max(2, availableParallelism() - 1),
	},
});
