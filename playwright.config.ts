import { defineConfig } from '@playwright/test';
import { CHROMIUM_ARGS } from './scripts/chromium-args.mjs';

export default defineConfig({
	testDir: 'e2e',
	workers: 2,
	fullyParallel: true,
	// Long enough for a machine that is three times slower than usual.
	timeout: 180_000,
	globalTimeout: 30 * 60_000,
	expect: { timeout: 30_000 },
	reporter: [['list'], ['json', { outputFile: 'test-results/e2e.json' }]],
	use: {
		browserName: 'chromium',
		viewport: { width: 1280, height: 800 },
		timezoneId: 'UTC',
		locale: 'en-GB',
		launchOptions: {
			executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
			args: CHROMIUM_ARGS,
		},
	},
});
