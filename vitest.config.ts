import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

const alias = { $lib: fileURLToPath(new URL('./src/lib', import.meta.url)) };

export default defineConfig({
	test: {
		projects: [
			{
				resolve: { alias },
				test: {
					name: 'unit',
					environment: 'node',
					include: ['src/lib/core/**/*.test.ts', 'src/lib/csv/**/*.test.ts', 'tests/reference/**/*.test.ts'],
					// a guard against hanging, not a measure of speed
					testTimeout: 60_000
				}
			},
			{
				resolve: { alias },
				test: {
					name: 'database',
					environment: 'node',
					include: ['tests/server/**/*.test.ts'],
					globalSetup: 'tests/server/global-setup.ts',
					env: { TAVREK_KEY: 'a key for tests only' },
					fileParallelism: false,
					testTimeout: 120_000,
					hookTimeout: 120_000
				}
			}
		]
	}
});
