import { interpretLog, type InterpretedLog } from '$lib/core/charging/interpret-log';
import { readFeatures } from '$lib/core/diagnosis/learn/evidence';
import { inferOdds } from '$lib/core/diagnosis/infer/odds';
import { growPlanTree, type PlanTree } from '$lib/core/diagnosis/plan/plan-tree';
import type { Plan } from '$lib/core/diagnosis/plan/plan-view';
import { planWorld } from '$lib/core/diagnosis/plan/plan-world';
import { openedTicket, type Ticket } from '$lib/core/tickets/ticket-record';
import { decodeLog } from '$lib/csv/decode-log';
import { readLogText } from '$lib/csv/read-log';
import {
	advise,
	adviseSteps,
	planningCosts,
	STEPS_OF_THE_API,
	type Advice,
	type AdviceRequest
} from '../diagnosis/advice';
import { keepPredictions } from '../diagnosis/predictions';
import { recordView, type RecordView } from '../diagnosis/record-view';
import { aMoment, NEVER, type Stop } from '../database/in-turns';
import { fittedMemory, keepLearning, knownAt, type ShopMemory } from '../memory/shop-memory';
import type { Database } from '../database/connection';
import type { Schedule, ScheduleRequest } from '$lib/core/bench/schedule/problem';
import type { ComebacksBy } from '$lib/core/returns/comeback-rows';
import { comebacksBy, type Comebacks } from '../returns/comebacks';
import { fullHour, judgedAt } from '../returns/judged';
import { returnsView, type ReturnsAsked, type ReturnsView } from '../returns/view';
import { findTicket } from '../tickets/queries';
import { improvePlan, planUntil } from '../floor/day';
import type { CounterWord } from '$lib/core/planning/counter-word';
import { counterWord } from '../floor/promise';
import { floorView, type FloorView } from '../floor/queries';
import type { Rule } from './lane';

/** What takes too long for a request's own thread. */
export type Question =
	| { kind: 'plan'; number: string }
	| { kind: 'tree'; model: string; signs: Readonly<Record<string, boolean>> }
	| { kind: 'keep-predictions' }
	| { kind: 'keep-learning' }
	| { kind: 'steps'; ticket: Ticket; asOf: number | null; lossMinor: number | undefined; measures: boolean }
	| { kind: 'advice'; ticket: Ticket; request: AdviceRequest; asOf: number | null }
	| { kind: 'trace'; bytes: Uint8Array; healthyAmps: number | null }
	| { kind: 'schedule'; request: ScheduleRequest; seconds: number }
	| { kind: 'comebacks'; by: ComebacksBy; days: number; asOf: number | null }
	| { kind: 'returns'; asked: ReturnsAsked }
	| { kind: 'judge-returns'; now: number }
	| { kind: 'floor'; now: number }
	| { kind: 'better-plan' }
	| { kind: 'track-record' }
	| { kind: 'promise'; ticket: Ticket; now: number; askedAt: number | null };

/** A log as it was read and understood, or why it could not be. */
export type TraceAnswer = { ok: true; log: InterpretedLog } | { ok: false; message: string };

/** A plan that looked further than there is time for while a page waits. */
export interface FurtherPlan {
	/** version of the ticket that it was made for */
	version: number;
	plan: Plan;
}
/** The first steps for a model and what it does, before anything else is known of the device. */
export interface StartTree {
	tree: PlanTree;
	learnedFrom: number;
	fromModel: number;
}
export interface Answers {
	plan: FurtherPlan | null;
	tree: StartTree;
	'keep-predictions': boolean;
	'keep-learning': boolean;
	trace: TraceAnswer;
	advice: Advice;
	steps: Steps;
	schedule: Schedule;
	comebacks: Comebacks;
	returns: ReturnsView;
	'judge-returns': null;
	floor: FloorView;
	'better-plan': boolean;
	'track-record': RecordView;
	promise: CounterWord;
}
export type Steps = Pick<ReturnType<typeof adviseSteps>, 'inference' | 'plan'>;
export type Answer = Answers[Question['kind']];

/** Two more steps behind the three best first ones: three in all. */
const FURTHER = { depth: 2, firsts: 3 };

/** Which worker answers, and how: by kind of question. */
export interface Placing extends Rule {
	lane: LaneName;
}
/**
 * `shop` holds what the shop learnt, `returns` what became of its jobs, `free` nothing: one copy of each memory serves all who ask.
 * Times are choices: some ten times what such a question took with 100,000 tickets.
 */
export const PLACED: { readonly [Kind in Question['kind']]: Placing } = {
	plan: { lane: 'shop', waited: true, seconds: 60, short: true },
	tree: { lane: 'shop', waited: true, seconds: 60, short: true },
	steps: { lane: 'shop', waited: true, seconds: 60, short: true },
	advice: { lane: 'shop', waited: true, seconds: 60, short: true },
	floor: { lane: 'shop', waited: true, seconds: 120 },
	promise: { lane: 'shop', waited: true, seconds: 60, short: true },
	'track-record': { lane: 'shop', waited: true, seconds: 60 },
	'better-plan': { lane: 'shop', waited: false, seconds: 60, makesRoom: true },
	'keep-predictions': { lane: 'shop', waited: false, seconds: 3600, makesRoom: true },
	// before predictions, which take long: the next start waits for it
	'keep-learning': { lane: 'shop', waited: true, seconds: 300 },
	comebacks: { lane: 'returns', waited: true, seconds: 240 },
	returns: { lane: 'returns', waited: true, seconds: 240 },
	'judge-returns': { lane: 'returns', waited: false, seconds: 240 },
	trace: { lane: 'free', waited: true, seconds: 60 },
	// beside its own seconds, 30 at most
	schedule: { lane: 'free', waited: true, seconds: 45 }
};
export const LANES = { shop: 1, returns: 1, free: 2 } as const;
export type LaneName = keyof typeof LANES;

export async function answerQuestion<Asked extends Question>(
	db: Database,
	question: Asked,
	stop?: Stop
): Promise<Answers[Asked['kind']]>;
export async function answerQuestion(db: Database, question: Question, stop: Stop = NEVER): Promise<Answer> {
	switch (question.kind) {
		case 'plan':
			return planOf(db, question.number);
		case 'tree':
			return treeOf(await fittedMemory(db), question);
		case 'keep-predictions':
			return keepPredictions(db, undefined, () => goesOn(stop)).then(() => !stop.asked);
		case 'keep-learning':
			return keepLearning(db);
		case 'steps':
			return stepsOf(await fittedMemory(db), question, stop);
		case 'advice':
			return adviceOf(await fittedMemory(db), question, stop);
		case 'trace':
			return traceOf(question);
		case 'schedule':
			return planUntil(question.request, question.seconds, stop);
		case 'comebacks':
			return comebacksBy(db, question, stop);
		case 'returns':
			return returnsView(db, question.asked, stop);
		case 'judge-returns':
			return judgedAt(db, fullHour(question.now), stop).then(() => null);
		case 'floor':
			return floorView(db, question.now, stop);
		case 'better-plan':
			return improvePlan(db, stop);
		case 'promise':
			return counterWord(db, question.ticket, question.now, question.askedAt, stop);
		case 'track-record':
			return recordView(db);
	}
}

/** Others are heard; work goes on until it is asked to end. */
const goesOn = (stop: Stop): Promise<boolean> =>
	aMoment(stop).then(
		() => true,
		() => false
	);

async function stepsOf(
	memory: ShopMemory,
	{ ticket, asOf, lossMinor, measures }: Extract<Question, { kind: 'steps' }>,
	stop: Stop
): Promise<Steps> {
	const { inference, plan } = adviseSteps(await knownAt(memory, asOf, stop), ticket, {
		...STEPS_OF_THE_API,
		lossMinor,
		measures
	});
	return { inference, plan };
}

async function adviceOf(
	memory: ShopMemory,
	{ ticket, request, asOf }: Extract<Question, { kind: 'advice' }>,
	stop: Stop
): Promise<Advice> {
	return advise(await knownAt(memory, asOf, stop), ticket, request);
}

function traceOf({ bytes, healthyAmps }: Extract<Question, { kind: 'trace' }>): TraceAnswer {
	const read = readLogText(decodeLog(bytes));
	return read.ok ? { ok: true, log: interpretLog(read.dialect, read.log, healthyAmps) } : read;
}

async function planOf(db: Database, number: string): Promise<FurtherPlan | null> {
	const [memory, stored] = await Promise.all([fittedMemory(db), findTicket(db, number)]);
	if (!stored) return null;
	const { plan } = adviseSteps(memory, stored.ticket, FURTHER);
	return { version: stored.version, plan };
}

/** First steps as they were grown last, by model and signs: the workbook is looked at more often than the shop learns. */
const trees = new Map<string, { knowledge: string; tree: StartTree }>();
const MOST_TREES = 100;

function treeOf(memory: ShopMemory, { model, signs }: Extract<Question, { kind: 'tree' }>): StartTree {
	const { catalog, history, relearn, reference } = memory.counters;
	const knowledge = [catalog, history, relearn, reference, memory.behind].join('.');
	const treeKey = JSON.stringify([model, Object.entries(signs).sort()]);
	const cached = trees.get(treeKey);
	if (cached?.knowledge === knowledge) return cached.tree;
	const tree = growTree(memory, model, signs);
	trees.delete(treeKey);
	trees.set(treeKey, { knowledge, tree });
	for (const oldest of trees.keys()) if (trees.size > MOST_TREES) trees.delete(oldest);
	return tree;
}

function growTree(memory: ShopMemory, model: string, signs: Readonly<Record<string, boolean>>): StartTree {
	const { catalog, engine } = memory;
	const features = readFeatures({ ...openedTicket('', 0, model), signs }, catalog);
	const inference = inferOdds(engine, model, features);
	const plan = planWorld(engine, inference, features, planningCosts(memory, model), {
		measures: true
	});
	const { learnedFrom, fromModel } = inference.odds;
	return { tree: growPlanTree(inference, plan), learnedFrom, fromModel };
}
