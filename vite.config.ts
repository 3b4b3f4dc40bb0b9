import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vitest/config';

export default defineConfig({
	plugins: [tailwindcss(), sveltekit()],
	worker: { format: 'es' },
	server: { host: '127.0.0.1' },
	build: { chunkSizeWarningLimit: 1200 },
	test: {
		include: ['core/**/*.test.ts', 'src/**/*.test.ts', 'cli/**/*.test.ts', 'demo/**/*.test.ts'],
		testTimeout: 60_000,
	},
});
