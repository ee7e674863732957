// The thread beside the server's own: built into a file of its own (vite.thinker.config.ts), with connections and a
// memory of the shop of its own, like any second process. One of them thinks; each import has one to itself.
import process from 'node:process';
import { parentPort, workerData } from 'node:worker_threads';
import { closeDatabase, database } from '../database/connection';
import { importLines, ImportStopped } from '../exchange/import';
import { stopping, type ImportQuestion, type ImportSaid } from './importer';
import { think, type Question } from './think';

const say = (said: ImportSaid) => parentPort?.postMessage(said);

async function importOnce({ bytes, actor, now, mode, stop }: ImportQuestion): Promise<void> {
	try {
		const watch = stopping(new Int32Array(stop), (progress) => say({ progress }));
		say({ answer: await importLines(await database(), actor, now, bytes, mode, watch) });
	} catch (error) {
		const { message, code } = error as Error & { code?: string };
		say({ error: { message, code, stopped: error instanceof ImportStopped } });
	} finally {
		await closeDatabase();
	}
}

async function thinkOnce({
	id,
	question,
	url
}: {
	id: number;
	question: Question;
	url?: string;
}): Promise<void> {
	try {
		// the private database may have come back at another port
		if (url) process.env.DATABASE_URL = url;
		parentPort?.postMessage({ id, answer: await think(await database(), question) });
	} catch (error) {
		parentPort?.postMessage({ id, error: error instanceof Error ? error.message : String(error) });
	}
}

const imports = (workerData as { import?: boolean } | null)?.import === true;
parentPort?.on('message', (message: unknown) => {
	if (imports) void importOnce(message as ImportQuestion);
	else void thinkOnce(message as Parameters<typeof thinkOnce>[0]);
});
