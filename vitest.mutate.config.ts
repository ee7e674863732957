import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';
import { vectorsInPlace } from './tests/vectors-in-place';

/** The unit tests alone, for the mutation score of a room (`npm run mutate -- ROOM`). */
export default defineConfig({
	plugins: [vectorsInPlace],
	resolve: {
		alias: {
			$lib: fileURLToPath(new URL('./src/lib', import.meta.url)),
			$worlds: fileURLToPath(new URL('./tests/worlds', import.meta.url))
		}
	},
	test: {
		environment: 'node',
		include: (process.env.MUTATE_TESTS ?? 'src/lib/core/**/*.test.ts').split(','),
		// whole invented worlds and huge logs take seconds each: what they alone would notice counts as a survivor
		exclude: ['**/*.{worlds,large}.test.ts', '**/node_modules/**'],
		setupFiles: ['scripts/mutate-setup.ts'],
		testTimeout: 60_000
	}
});
