import { defineConfig } from '@playwright/test';

export default defineConfig({
	testDir: 'e2e',
	workers: 2,
	fullyParallel: true,
	timeout: 120_000,
	globalTimeout: 20 * 60_000,
	expect: { timeout: 10_000 },
	reporter: [['list'], ['json', { outputFile: 'test-results/e2e.json' }]],
	use: {
		browserName: 'chromium',
		viewport: { width: 1280, height: 800 },
		timezoneId: 'UTC',
		locale: 'en-GB',
		launchOptions: {
			executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
			args: [
				'--no-sandbox',
				'--disable-quic',
				'--no-first-run',
				'--disable-background-networking',
				'--disable-component-update',
				'--disable-sync',
			],
		},
	},
});
