import { Worker } from 'node:worker_threads';
import { database } from '../database/connection';
import { log } from '../house/log';
import { think, type Answer, type FurtherPlan, type Question } from './think';

interface Waiting {
	resolve(answer: Answer): void;
	reject(error: Error): void;
}

let worker: Worker | null = null;
let asked = 0;
const waiting = new Map<number, Waiting>();

/** The thread that thinks; made when it is first needed, and anew after one that fell over. */
function thread(file: string): Worker {
	if (worker) return worker;
	const made = new Worker(file);
	made.unref();
	made.on('message', ({ id, answer, error }: { id: number; answer?: Answer; error?: string }) => {
		const asker = waiting.get(id);
		waiting.delete(id);
		if (error === undefined) asker?.resolve(answer ?? null);
		else asker?.reject(new Error(error));
	});
	made.on('error', (error) => log.error({ error: String(error) }, 'the thinking thread fell over'));
	made.on('exit', () => {
		if (worker === made) worker = null;
		for (const { reject } of waiting.values()) reject(new Error('the thinking thread ended'));
		waiting.clear();
	});
	worker = made;
	return made;
}

/** Asks the thread; without one (in development, where nothing is built) thinks here. */
async function ask(question: Question): Promise<Answer> {
	const file = process.env.TAVREK_THINKER;
	if (!file) return think(await database(), question);
	return new Promise((resolve, reject) => {
		const id = ++asked;
		waiting.set(id, { resolve, reject });
		thread(file).postMessage({ id, question });
	});
}

export const planFurther = (number: string): Promise<FurtherPlan | null> => ask({ kind: 'plan', number });

let keeping: Promise<void> | null = null;
let again = false;

/** Brings the predictions up to date in the background; what closes meanwhile is looked at once more after it. */
export function keepPredictionsUp(): void {
	if (keeping) {
		again = true;
		return;
	}
	keeping = ask({ kind: 'keep-predictions' })
		.then(
			() => undefined,
			(error: unknown) => log.warn({ error: String(error) }, 'predictions are behind; tried again later')
		)
		.finally(() => {
			keeping = null;
			if (again) {
				again = false;
				keepPredictionsUp();
			}
		});
}

export async function stopThinking(): Promise<void> {
	again = false;
	await worker?.terminate();
}
