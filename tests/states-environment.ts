import type { Environment } from 'vitest/environments';

/** Node without a page, with files compiled as for the browser: effects of state classes run as they do there. */
export default {
	name: 'states',
	viteEnvironment: 'client',
	setup: () => ({ teardown() {} })
} satisfies Environment;
