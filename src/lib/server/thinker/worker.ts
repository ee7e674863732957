// The thread beside the server's own: built into a file of its own (vite.thinker.config.ts), with connections and a
// memory of the shop of its own, like any second process.
import { parentPort } from 'node:worker_threads';
import { database } from '../database/connection';
import { think, type Question } from './think';

parentPort?.on('message', ({ id, question }: { id: number; question: Question }) => {
	void (async () => {
		try {
			parentPort?.postMessage({ id, answer: await think(await database(), question) });
		} catch (error) {
			parentPort?.postMessage({ id, error: error instanceof Error ? error.message : String(error) });
		}
	})();
});
