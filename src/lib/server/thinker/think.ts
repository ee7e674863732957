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
import { knownAt, shopMemory, type ShopMemory } from '../memory/shop-memory';
import type { Database } from '../database/connection';
import type { Schedule, ScheduleRequest } from '$lib/core/bench/schedule/problem';
import { comebacksBy, type Comebacks, type ComebacksBy } from '../returns/comebacks';
import { fullHour, judgedLately } from '../returns/judged';
import { returnsView, type ReturnsAsked, type ReturnsView } from '../returns/view';
import { findTicket } from '../tickets/queries';
import { counterWord, type CounterWord } from '../floor/promise';
import { floorView, type FloorView } from '../floor/queries';
import { planAside, scheduleInTurn } from './schedules';

/** What takes too long for a request's own thread. */
export type Question =
	| { kind: 'plan'; number: string }
	| { kind: 'tree'; model: string; signs: Readonly<Record<string, boolean>> }
	| { kind: 'keep-predictions' }
	| { kind: 'steps'; ticket: Ticket; asOf: number | null; lossMinor: number | undefined }
	| { kind: 'advice'; ticket: Ticket; request: AdviceRequest; asOf: number | null }
	| { kind: 'trace'; bytes: Uint8Array; healthyAmps: number | null }
	| { kind: 'schedule'; request: ScheduleRequest; seconds: number }
	| { kind: 'comebacks'; by: ComebacksBy; days: number; asOf: number | null }
	| { kind: 'returns'; asked: ReturnsAsked }
	| { kind: 'judge-returns'; now: number }
	| { kind: 'floor'; now: number }
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
	'keep-predictions': null;
	trace: TraceAnswer;
	advice: Advice;
	steps: Steps;
	schedule: Schedule | null;
	comebacks: Comebacks;
	returns: ReturnsView;
	'judge-returns': null;
	floor: FloorView;
	promise: CounterWord;
}
export type Steps = Pick<ReturnType<typeof adviseSteps>, 'inference' | 'plan'>;
export type Answer = Answers[Question['kind']];

/** So long a plan may be looked at from behind a page that stands already. */
const THINK_FURTHER_MS = 1500;

/** Two more steps behind the ten best first ones: three in all. */
const FURTHER = { depth: 2, firsts: 10, thinkMs: THINK_FURTHER_MS };

/** Questions under way that a person waits for: the predictions stand back for them. */
let urgent = 0;

async function atOnce<Result>(work: Promise<Result>): Promise<Result> {
	urgent += 1;
	try {
		return await work;
	} finally {
		urgent -= 1;
	}
}

/** Lets everything else in this thread go first; what a thread is asked and its connections are heard meanwhile. */
async function standBack(): Promise<true> {
	await new Promise((resolve) => setImmediate(resolve));
	while (urgent > 0) await new Promise((resolve) => setTimeout(resolve, 5));
	return true;
}

export async function think<Asked extends Question>(
	db: Database,
	question: Asked
): Promise<Answers[Asked['kind']]>;
export async function think(db: Database, question: Question): Promise<Answer> {
	switch (question.kind) {
		case 'plan':
			return atOnce(planOf(db, question.number));
		case 'tree':
			return atOnce(shopMemory(db).then((memory) => treeOf(memory, question)));
		case 'keep-predictions':
			await keepPredictions(db, undefined, standBack);
			return null;
		case 'steps':
			return atOnce(shopMemory(db).then((memory) => stepsOf(memory, question)));
		case 'advice':
			return atOnce(shopMemory(db).then((memory) => adviceOf(memory, question)));
		case 'trace':
			return traceOf(question);
		case 'schedule':
			return scheduleInTurn(question.request, question.seconds);
		case 'comebacks':
			return atOnce(comebacksBy(db, question));
		case 'returns':
			return atOnce(returnsView(db, question.asked));
		case 'judge-returns':
			await judgedLately(db, fullHour(question.now));
			return null;
		case 'floor':
			return atOnce(floorView(db, question.now, planAside));
		case 'promise':
			return atOnce(counterWord(db, question.ticket, question.now, planAside, question.askedAt));
	}
}

function stepsOf(
	memory: ShopMemory,
	{ ticket, asOf, lossMinor }: Extract<Question, { kind: 'steps' }>
): Steps {
	const { inference, plan } = adviseSteps(knownAt(memory, asOf), ticket, { ...STEPS_OF_THE_API, lossMinor });
	return { inference, plan };
}

function adviceOf(
	memory: ShopMemory,
	{ ticket, request, asOf }: Extract<Question, { kind: 'advice' }>
): Advice {
	return advise(knownAt(memory, asOf), ticket, request);
}

function traceOf({ bytes, healthyAmps }: Extract<Question, { kind: 'trace' }>): TraceAnswer {
	const read = readLogText(decodeLog(bytes));
	return read.ok ? { ok: true, log: interpretLog(read.dialect, read.log, healthyAmps) } : read;
}

async function planOf(db: Database, number: string): Promise<FurtherPlan | null> {
	const [memory, stored] = await Promise.all([shopMemory(db), findTicket(db, number)]);
	if (!stored) return null;
	const { plan } = adviseSteps(memory, stored.ticket, FURTHER);
	return { version: stored.version, plan };
}

function treeOf(memory: ShopMemory, { model, signs }: Extract<Question, { kind: 'tree' }>): StartTree {
	const { catalog, engine } = memory;
	const features = readFeatures({ ...openedTicket('', 0, model), signs }, catalog);
	const inference = inferOdds(engine, model, features);
	const plan = planWorld(engine, inference, features, planningCosts(memory, model), {
		measures: true
	});
	const { learnedFrom, fromModel } = inference.odds;
	return { tree: growPlanTree(inference, plan), learnedFrom, fromModel };
}
