import { Worker } from 'node:worker_threads';
import { database } from '../database/connection';
import { keepLearnt } from './ask';
import { importLines, ImportStopped, type ImportAnswer, type Watch } from '../exchange/import';

/** An import as the thread is asked for it. */
export interface ImportQuestion {
	bytes: Uint8Array;
	actor: string;
	now: number;
	mode: 'strict' | 'lenient';
	/** one number, set to 1 by who wants it stopped */
	stop: SharedArrayBuffer;
}

/** So little is read faster than a thread is made. */
const AT_ONCE = 128 * 1024;

export type ImportSaid =
	| { progress: Parameters<Watch>[0] }
	| { answer: ImportAnswer }
	| { error: { message: string; code?: string | undefined; stopped: boolean } };

/**
 * Runs an import in a thread of its own, with connections of its own: nothing that others ask waits for it.
 * @param watch hears how far it is
 * @param signal stops it: then nothing of it has happened
 */
export async function runImport(
	request: Omit<ImportQuestion, 'stop'>,
	watch: Watch,
	signal: AbortSignal
): Promise<ImportAnswer> {
	const file = process.env.TAVREK_WORKER;
	const stop = new SharedArrayBuffer(4);
	const flag = new Int32Array(stop);
	signal.addEventListener('abort', () => Atomics.store(flag, 0, 1), { once: true });
	if (signal.aborted) Atomics.store(flag, 0, 1);
	if (!file || request.bytes.byteLength <= AT_ONCE) {
		const { bytes, actor, now, mode } = request;
		return importLines(await database(), actor, now, bytes, mode, stopping(flag, watch));
	}
	// all tickets of the input are kept to its end: with little room for what is new they would be copied time and again
	const resourceLimits = { maxYoungGenerationSizeMb: 192 };
	const worker = new Worker(file, { workerData: { import: true }, resourceLimits });
	try {
		const answer = await new Promise<ImportAnswer>((resolve, reject) => {
			worker.on('message', (message: ImportSaid) => {
				if ('progress' in message) watch(message.progress);
				else if ('answer' in message) resolve(message.answer);
				else reject(errorOf(message.error));
			});
			worker.on('error', reject);
			worker.on('exit', () => reject(new Error('the importing thread ended')));
			const bytes = request.bytes.byteOffset === 0 ? request.bytes : request.bytes.slice();
			worker.postMessage({ ...request, bytes, stop } satisfies ImportQuestion, [bytes.buffer as ArrayBuffer]);
		});
		// much came in: it is learnt, and kept for the next start, before somebody has to wait for it
		void keepLearnt();
		return answer;
	} finally {
		void worker.terminate();
	}
}

/** Throws where somebody asked to stop, at the next word of progress. */
export function stopping(flag: Int32Array, watch: Watch): Watch {
	return (progress) => {
		if (Atomics.load(flag, 0) === 1)
			throw new ImportStopped('the import was stopped; nothing of it was kept');
		watch(progress);
	};
}

function errorOf({ message, code, stopped }: Extract<ImportSaid, { error: unknown }>['error']): Error {
	return stopped ? new ImportStopped(message) : Object.assign(new Error(message), code ? { code } : {});
}
