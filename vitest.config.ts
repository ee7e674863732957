import { svelte } from '@sveltejs/vite-plugin-svelte';
import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';
import { BaseSequencer, type TestSpecification } from 'vitest/node';
import { vectorsInPlace } from './tests/vectors-in-place';

const folder = (path: string) => fileURLToPath(new URL(path, import.meta.url));
const alias = { $lib: folder('./src/lib'), $worlds: folder('./tests/worlds') };
// a guard against hanging, not a measure of speed
const testTimeout = 60_000;

/** Whole invented worlds take longest: they begin first, so that at the end no core waits for one of them. */
class WorldsFirst extends BaseSequencer {
	override async sort(files: TestSpecification[]) {
		const isWorld = ({ moduleId }: TestSpecification) => moduleId.includes('.worlds.');
		const sorted = await super.sort(files);
		return [...sorted.filter(isWorld), ...sorted.filter((file) => !isWorld(file))];
	}
}

export default defineConfig({
	test: {
		sequence: { sequencer: WorldsFirst },
		projects: [
			{
				plugins: [vectorsInPlace],
				resolve: { alias },
				test: {
					name: 'unit',
					environment: 'node',
					setupFiles: 'tests/property-limit.ts',
					// core keeps nothing in its modules: files share what they import
					isolate: false,
					include: [
						'src/lib/core/**/*.test.ts',
						'src/lib/csv/**/*.test.ts',
						'tests/reference/**/*.test.ts',
						'tests/worlds/**/*.test.ts'
					],
					// a whole invented shop, on a slow machine with others at work
					testTimeout: 300_000
				}
			},
			{
				// state classes of components, compiled as for the browser, without one
				plugins: [svelte()],
				resolve: { alias, conditions: ['browser'] },
				test: {
					name: 'states',
					environment: './tests/states-environment.ts',
					include: ['src/lib/components/**/*.test.ts'],
					testTimeout
				}
			},
			{
				plugins: [vectorsInPlace],
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
