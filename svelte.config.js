import adapter from '@sveltejs/adapter-node';
import process from 'node:process';

/** @type {import('@sveltejs/kit').Config} */
const config = {
	kit: {
		// invented worlds that tests and benches share; nothing that ships imports them
		alias: { $worlds: 'tests/worlds' },
		// A build has a folder of its own per state of the source (scripts/build.mjs), so that a
		// running server never finds its files replaced.
		adapter: adapter({ out: process.env.TAVREK_BUILD ?? 'build/latest', precompress: true }),
		// The own check in hooks.server.ts compares Origin with the Host header, which also holds where
		// the shop opens the same server as localhost, by address and by name.
		csrf: { trustedOrigins: ['*'] },
		csp: {
			mode: 'auto',
			directives: {
				'default-src': ['self'],
				'script-src': ['self'],
				'worker-src': ['self'],
				'style-src': ['self'],
				'style-src-attr': ['unsafe-inline'],
				'img-src': ['self', 'data:'],
				'font-src': ['self', 'data:'],
				'connect-src': ['self'],
				'object-src': ['none'],
				'base-uri': ['self'],
				'form-action': ['self'],
				'frame-ancestors': ['none']
			}
		}
	}
};

export default config;
