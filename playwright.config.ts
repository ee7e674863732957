import { defineConfig } from '@playwright/test';

/** The address of the application under test, started by scripts/test.mjs with a database of its own. */
export default defineConfig({
	testDir: 'tests/journeys',
	outputDir: 'test-results/journeys',
	workers: 1,
	// A guard against hanging, not a measure of speed: a slow machine must not fail what is right.
	timeout: 600_000,
	expect: { timeout: 30_000 },
	reporter: [['list'], ['json', { outputFile: 'test-results/journeys.json' }]],
	use: {
		baseURL: process.env.TAVREK_ADDRESS ?? 'http://127.0.0.1:4600',
		viewport: { width: 1280, height: 800 },
		// what cannot be pressed is told long before the test's own end
		actionTimeout: 90_000,
		launchOptions: {
			executablePath: process.env.CHROMIUM_PATH ?? '/usr/bin/chromium',
			args: [
				'--headless',
				'--no-sandbox',
				'--disable-gpu',
				'--disable-quic',
				'--no-first-run',
				'--disable-background-networking',
				'--disable-component-update',
				'--disable-sync'
			]
		}
	}
});
