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
					include: ['src/lib/core/**/*.test.ts', 'tests/reference/**/*.test.ts']
				}
			},
			{
				resolve: { alias },
				test: {
					name: 'database',
					environment: 'node',
					include: ['src/lib/server/**/*.test.ts', 'tests/server/**/*.test.ts'],
					fileParallelism: false,
					testTimeout: 120_000,
					hookTimeout: 120_000
				}
			}
		]
	}
});
