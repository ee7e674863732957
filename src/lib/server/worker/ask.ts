import process from 'node:process';
import type { ScheduleRequest, Schedule } from '$lib/core/bench/schedule/problem';
import type { Ticket } from '$lib/core/tickets/ticket-record';
import { database, type Database } from '../database/connection';
import { readCounters, type Counters } from '../database/counters';
import type { Advice, AdviceRequest } from '../diagnosis/advice';
import type { RecordView } from '../diagnosis/record-view';
import { fittedMemory } from '../memory/shop-memory';
import type { CounterWord } from '$lib/core/planning/counter-word';
import type { FloorView } from '../floor/queries';
import { log } from '../logging/log';
import type { ComebacksBy } from '$lib/core/returns/comeback-rows';
import type { Comebacks } from '../returns/comebacks';
import { fullHour } from '../returns/judged';
import type { ReturnsAsked, ReturnsView } from '../returns/view';
import type { Asker } from '../http/guard';
import { requestsInFlight } from '../http/in-flight';
import { lastSentBy } from '../http/own-changes';
import { Lane, type LaneState } from './lane';
import { lookAt, type Shown } from '../shown/shown';
import {
	LANES,
	PLACED,
	answerQuestion,
	type Answers,
	type FurtherPlan,
	type LaneName,
	type Question,
	type StartTree,
	type Steps,
	type TraceAnswer
} from './questions';

const lanes = new Map<LaneName, Lane<Question>>();
let stopped = false;

function laneFor(name: LaneName, file: string): Lane<Question> {
	const lane = lanes.get(name);
	if (lane) return lane;
	const made = new Lane<Question>(name, {
		file,
		threads: LANES[name],
		rules: PLACED,
		inFlight: requestsInFlight
	});
	lanes.set(name, made);
	return made;
}

/** The house itself asks, not a person. */
const HOUSE: Asker = { who: '' };

/** Asks the workers; without any (in development, where nothing is built) thinks here. */
async function ask<Asked extends Question>(
	question: Asked,
	asker: Asker,
	key: unknown = question
): Promise<Answers[Asked['kind']]> {
	const file = process.env.TAVREK_WORKER;
	if (!file) return answerQuestion(await database(), question);
	const lane = laneFor(PLACED[question.kind].lane, file);
	return (await lane.ask(
		question,
		`${question.kind} ${JSON.stringify(key)}`,
		asker
	)) as Answers[Asked['kind']];
}

export const planFurther = (number: string, asker: Asker): Promise<FurtherPlan | null> =>
	ask({ kind: 'plan', number }, asker);
export const startTree = (
	model: string,
	signs: Readonly<Record<string, boolean>>,
	asker: Asker
): Promise<StartTree> => ask({ kind: 'tree', model, signs }, asker);

/** So many pieces of evidence take longer to weigh than others should wait. */
const MUCH = 120;
const pieces = ({ attempts, observations, readings, signs }: Ticket) =>
	attempts.length + observations.length + readings.length / 10 + Object.keys(signs).length;
/** What was known at a moment is summed anew from all tickets. */
const takesLong = (ticket: Ticket, asOf: number | null) => asOf !== null || pieces(ticket) >= MUCH;

/** Advice on evidence that keeps nothing: here where it is little, beside where it is much. */
export async function adviseAside(
	ticket: Ticket,
	request: AdviceRequest,
	asOf: number | null,
	asker: Asker,
	compute: () => Advice
): Promise<Advice> {
	return takesLong(ticket, asOf) ? ask({ kind: 'advice', ticket, request, asOf }, asker) : compute();
}

/** Odds and next steps, likewise. */
export async function stepsAside(
	ticket: Ticket,
	options: { asOf: number | null; lossMinor: number | undefined; measures: boolean },
	asker: Asker,
	compute: () => Steps
): Promise<Steps> {
	return takesLong(ticket, options.asOf) ? ask({ kind: 'steps', ticket, ...options }, asker) : compute();
}

let logs = 0;
export const readTrace = (
	bytes: Uint8Array,
	healthyAmps: number | null,
	asker: Asker
): Promise<TraceAnswer> =>
	// a log is never compared with another: it may be long
	ask({ kind: 'trace', bytes, healthyAmps }, asker, ++logs);

/** A plan of the bench. */
export const planSchedule = (request: ScheduleRequest, seconds: number, asker: Asker): Promise<Schedule> =>
	ask({ kind: 'schedule', request, seconds }, asker);

/** The floor with the plan of the days ahead: at once as it was last shown, the newer one behind it, with what who looks has changed. */
export function floorShown(who = ''): Promise<Shown<FloorView>> {
	return lookAt('floor', { keep: true, changedAt: lastSentBy(who) }, async () => {
		const floor = await ask({ kind: 'floor', now: Date.now() }, HOUSE, null);
		if (floor.improving) void lookForBetter();
		return floor;
	});
}
/** The floor as it was last shown. */
export const floorNow = async (): Promise<FloorView> => (await floorShown()).view;

async function lookForBetter(): Promise<void> {
	try {
		await ask({ kind: 'better-plan' }, HOUSE);
	} catch (error) {
		if (!stopped)
			log.warn({ error: String(error) }, 'the plan of the day stays as the rules of thumb made it');
	}
}

/** What may be said of a device before it is accepted: likely fault, prices, when it is ready with what chance. */
export const wordFor = (
	ticket: Ticket,
	now: number,
	askedAt: number | null,
	asker: Asker
): Promise<CounterWord> =>
	ask({ kind: 'promise', ticket, now, askedAt }, asker, [{ ...ticket, openedAt: 0 }, askedAt]);

/** Comebacks by row, at a moment. */
export const comebacksAside = (
	by: ComebacksBy,
	days: number,
	asOf: number | null,
	asker: Asker
): Promise<Comebacks> => ask({ kind: 'comebacks', by, days, asOf }, asker);

/** Returns as a screen shows them: as they were last shown, the newer ones behind them, with what who looks has changed. */
export function returnsShown(request: Omit<ReturnsAsked, 'now'>, who: string): Promise<Shown<ReturnsView>> {
	const { by, row, days, only: onlyTechnician } = request;
	// whole tables of the shop are kept over a start, closer looks and one person's are not
	return lookAt(
		`returns ${JSON.stringify([by, row, days, onlyTechnician])}`,
		{ keep: row === null && onlyTechnician === null, changedAt: lastSentBy(who) },
		() =>
			ask({ kind: 'returns', asked: { ...request, now: Date.now() } }, HOUSE, [by, row, days, onlyTechnician])
	);
}

/** How right the odds were, as it was last shown, the newer one behind it. */
export const recordShown = (): Promise<Shown<RecordView>> =>
	lookAt('track-record', { keep: true }, () => ask({ kind: 'track-record' }, HOUSE));

/** What screens show first is worked out before anybody looks: with many tickets the first look after a start would wait for seconds. */
export async function workAhead(): Promise<void> {
	if (!process.env.TAVREK_WORKER) return;
	keeper ??= setInterval(() => void keepLearnt(), KEPT_EVERY_MS).unref();
	try {
		// one after another, in the order in which people come to need them: a small machine has two cores
		await floorShown();
		await keepLearnt();
		// read back from what the worker has kept: two threads that learn at once take both cores
		// the first ticket that is looked at finds the beliefs fitted: with many tickets that takes a second
		await fittedMemory(await database());
		await ask({ kind: 'judge-returns', now: fullHour(Date.now()) }, HOUSE);
		// the track record would begin at nothing with the first look at it
		await keepPredictionsUp(await database());
	} catch (error) {
		if (!stopped) log.warn({ error: String(error) }, 'floor and returns are worked out at the first look');
	}
}

/** What was learnt is kept for the next start so often, where it has changed. A choice. */
const KEPT_EVERY_MS = 10 * 60_000;
let keeper: NodeJS.Timeout | null = null;

export async function keepLearnt(): Promise<void> {
	try {
		await ask({ kind: 'keep-learning' }, HOUSE);
	} catch (error) {
		if (!stopped) log.warn({ error: String(error) }, 'what was learnt is not kept for the next start');
	}
}

/** What the workers do now, lane by lane, without saying for whom. */
export const lanesNow = (): LaneState[] => [...lanes.values()].map((lane) => lane.state());

/** state of the shop's history that the predictions were last brought up to; only saves asking again */
let kept = '';
let keeping = false;

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
		// it makes room for who waits, and goes on afterwards
		while (!(await ask({ kind: 'keep-predictions' }, HOUSE)) && !stopped);
		kept = state;
		keeping = false;
		// what closed meanwhile
		await keepPredictionsUp(db);
	} catch (error) {
		keeping = false;
		if (!stopped) log.warn({ error: String(error) }, 'predictions are behind; the next look tries again');
	}
}

export async function stopWorkers(): Promise<void> {
	stopped = true;
	if (keeper) clearInterval(keeper);
	await Promise.all([...lanes.values()].map((lane) => lane.close()));
}
