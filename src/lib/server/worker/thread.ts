// The threads beside the server's own: built into a file of its own (vite.worker.config.ts), with connections and memories of
// their own, like any second process. Lanes hand a worker one question at a time; each import has a thread to itself.
import process from 'node:process';
import { parentPort, workerData } from 'node:worker_threads';
import { closeDatabase, database } from '../database/connection';
import { importLines, ImportStopped } from '../exchange/import';
import { stopping, type ImportQuestion, type ImportSaid } from './importer';
import type { Reply, Task } from './lane';
import { answerQuestion, type Question } from './questions';
import { standBehind } from './stand-behind';

standBehind();

const say = (message: ImportSaid) => parentPort?.postMessage(message);

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

/** Answers one question of a lane. */
export default async function answer({ question, url, stop, inFlight }: Task<Question>): Promise<Reply> {
	// the private database may have come back at another port
	if (url) process.env.DATABASE_URL = url;
	const flag = new Int32Array(stop);
	const requests = inFlight && new Int32Array(inFlight);
	const stopFlag = {
		get asked() {
			return Atomics.load(flag, 0) === 1;
		},
		get busy() {
			return requests !== null && Atomics.load(requests, 0) > 0;
		}
	};
	try {
		return { answer: await answerQuestion(await database(), question, stopFlag) };
	} catch (error) {
		return { error: kindOf(error) };
	}
}

/** What is known of an error, in a form that crosses between threads: its own fields are lost there. */
function kindOf(error: unknown): Extract<Reply, { error: unknown }>['error'] {
	if (!(error instanceof Error)) return { name: 'Error', message: String(error) };
	const { name, message, code, fatal } = error as Error & { code?: unknown; fatal?: unknown };
	return {
		name,
		message,
		...(typeof code === 'string' ? { code } : {}),
		...(fatal === true ? { fatal } : {})
	};
}

if ((workerData as { import?: boolean } | null)?.import === true) {
	parentPort?.on('message', (message: unknown) => void importOnce(message as ImportQuestion));
}
