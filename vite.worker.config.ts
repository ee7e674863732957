import { fileURLToPath } from 'node:url';
import process from 'node:process';
import { defineConfig } from 'vite';

/** The server's second thread, as one file beside the built server. */
export default defineConfig({
	resolve: { alias: { $lib: fileURLToPath(new URL('./src/lib', import.meta.url)) } },
	publicDir: false,
	build: {
		ssr: 'src/lib/server/worker/thread.ts',
		target: 'node20',
		outDir: process.env.TAVREK_BUILD ?? 'build/latest',
		emptyOutDir: false,
		rollupOptions: { output: { entryFileNames: 'worker.js' } }
	}
});
