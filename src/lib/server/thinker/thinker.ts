import { Worker } from 'node:worker_threads';
import { database, type Database } from '../database/connection';
import { readCounters, type Counters } from '../database/counters';
import type { Ticket } from '$lib/core/tickets/ticket-record';
import type { Advice, AdviceRequest } from '../diagnosis/advice';
import type { Schedule, ScheduleRequest } from '$lib/core/bench/schedule/problem';
import type { CounterWord } from '../floor/promise';
import type { FloorView } from '../floor/queries';
import { log } from '../house/log';
import type { Comebacks, ComebacksBy } from '../returns/comebacks';
import type { ReturnsAsked, ReturnsView } from '../returns/view';
import {
	think,
	type Answer,
	type Answers,
	type FurtherPlan,
	type Question,
	type StartTree,
	type Steps,
	type TraceAnswer
} from './think';

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
async function ask<Asked extends Question>(question: Asked): Promise<Answers[Asked['kind']]> {
	const file = process.env.TAVREK_THINKER;
	type Answered = Answers[Asked['kind']];
	if (!file) return think(await database(), question);
	return new Promise((resolve, reject) => {
		const id = ++asked;
		waiting.set(id, { resolve: (answer) => resolve(answer as Answered), reject });
		thread(file).postMessage({ id, question, url: process.env.DATABASE_URL });
	});
}

export const planFurther = (number: string): Promise<FurtherPlan | null> => ask({ kind: 'plan', number });
export const startTree = (model: string, signs: Readonly<Record<string, boolean>>): Promise<StartTree> =>
	ask({ kind: 'tree', model, signs });

/** So many pieces of evidence take longer to weigh than others should wait. */
const MUCH = 120;
const pieces = ({ attempts, observations, readings, signs }: Ticket) =>
	attempts.length + observations.length + readings.length / 10 + Object.keys(signs).length;

/** Advice on evidence that keeps nothing: here where it is little, in the thread where it is much. */
export async function adviseAside(
	ticket: Ticket,
	request: AdviceRequest,
	asOf: number | null,
	here: () => Advice
): Promise<Advice> {
	return pieces(ticket) < MUCH ? here() : ask({ kind: 'advice', ticket, request, asOf });
}

/** Odds and next steps, likewise. */
export async function stepsAside(
	ticket: Ticket,
	asked: { asOf: number | null; lossMinor: number | undefined },
	here: () => Steps
): Promise<Steps> {
	return pieces(ticket) < MUCH ? here() : ask({ kind: 'steps', ticket, ...asked });
}

export const readTrace = (bytes: Uint8Array, healthyAmps: number | null): Promise<TraceAnswer> =>
	ask({ kind: 'trace', bytes, healthyAmps });

/** A plan of the bench; null where too many wait for theirs. */
export const planSchedule = (request: ScheduleRequest, seconds: number): Promise<Schedule | null> =>
	ask({ kind: 'schedule', request, seconds });

/** The floor as it stands at a moment, with the plan of the days ahead. */
export const floorNow = (now: number): Promise<FloorView> => ask({ kind: 'floor', now });

/** What may be said of a device before it is accepted: likely fault, prices, when it is ready with what chance. */
export const wordFor = (ticket: Ticket, now: number, askedAt: number | null = null): Promise<CounterWord> =>
	ask({ kind: 'promise', ticket, now, askedAt });

/** Comebacks by row, at a moment. */
export const comebacksAside = (by: ComebacksBy, days: number, asOf: number | null): Promise<Comebacks> =>
	ask({ kind: 'comebacks', by, days, asOf });

/** Returns as a screen shows them. */
export const returnsAside = (asked: ReturnsAsked): Promise<ReturnsView> => ask({ kind: 'returns', asked });

/** Judges comebacks before anybody looks at them: with many tickets the first look after a start would wait for seconds. */
export async function judgeReturnsAhead(now: number): Promise<void> {
	if (!process.env.TAVREK_THINKER) return;
	try {
		await ask({ kind: 'judge-returns', now });
	} catch (error) {
		if (!stopped) log.warn({ error: String(error) }, 'comebacks are judged at the first look');
	}
}

/** state of the shop's history that the predictions were last brought up to; only saves asking again */
let kept = '';
let keeping = false;
let stopped = false;

const stateOf = ({ relearn, history }: Counters) => `${relearn}.${history}`;

/**
 * Brings the predictions up to date in the background where the shop's closed tickets have changed.
 * @returns whether that is under way
 */
export async function keepPredictionsUp(db: Database): Promise<boolean> {
	if (keeping || stopped) return keeping;
	const state = stateOf(await readCounters(db));
	if (keeping || state === kept) return keeping;
	keeping = true;
	void bringUp(db, state);
	return true;
}

async function bringUp(db: Database, state: string): Promise<void> {
	try {
		await ask({ kind: 'keep-predictions' });
		kept = state;
		keeping = false;
		// what closed meanwhile
		await keepPredictionsUp(db);
	} catch (error) {
		keeping = false;
		if (!stopped) log.warn({ error: String(error) }, 'predictions are behind; the next look tries again');
	}
}

export async function stopThinking(): Promise<void> {
	stopped = true;
	await worker?.terminate();
}
