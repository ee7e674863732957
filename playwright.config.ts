import { defineConfig } from '@playwright/test';

/** Which of the halves that run at once this is. */
const half = process.env.TAVREK_JOURNEYS ?? '1';

/** The address of the application under test, started by scripts/test.mjs with a database of its own. */
export default defineConfig({
	testDir: 'tests/journeys',
	outputDir: `test-results/journeys-${half}`,
	workers: 1,
	// A guard against hanging, not a measure of speed: a slow machine must not fail what is right.
	timeout: 300_000,
	expect: { timeout: 15_000 },
	reporter: [['list'], ['json', { outputFile: `test-results/journeys-${half}.json` }]],
	use: {
		baseURL: process.env.TAVREK_ADDRESS ?? 'http://127.0.0.1:4600',
		viewport: { width: 1280, height: 800 },
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
