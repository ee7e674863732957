import { gateStates } from '$lib/core/bench/gates';
import { meanHourlyCostMinor, type Catalog } from '$lib/core/catalog/catalog';
import type { Engine } from '$lib/core/diagnosis/engine';
import { readFeatures, type Evidence } from '$lib/core/diagnosis/learn/evidence';
import { rankNextSteps } from '$lib/core/diagnosis/plan/next-step';
import type { Plan } from '$lib/core/diagnosis/plan/plan-view';
import { ASSUMED_HOURLY_MINOR, type PlanningCosts } from '$lib/core/diagnosis/plan/plan-world';
import { isTooColdOrHot } from '$lib/core/charging/battery-cautions';
import { complaintGone, proofSteps } from '$lib/core/diagnosis/plan/prove';
import { withWaking } from '$lib/core/diagnosis/plan/wake';
import { inferOdds, type Inference } from '$lib/core/diagnosis/infer/odds';
import { countFactor, latestCounts } from '$lib/core/quoting/counts';
import { durationLaw } from '$lib/core/quoting/durations';
import { lossOfGivingUpMinor, type Past } from '$lib/core/quoting/past';
import { quoteJob, type Quote } from '$lib/core/quoting/quote';
import type { Ticket } from '$lib/core/tickets/ticket-record';
import { lognormalMean } from '$lib/core/statistics/lognormal';
import type { KnownGoodShelf } from '../catalog/known-good';

export interface Advice extends Plan {
	inference: Inference;
	quote: Quote;
}

export interface AdviceRequest {
	faults?: readonly string[] | null;
	askedMinor?: number | null;
	technician?: string | null;
}

export interface Knowledge {
	catalog: Catalog;
	shelf: Pick<KnownGoodShelf, 'book'>;
	engine: Engine;
	past: Past;
}

/** So long the planner may look at second steps; the answer without them stands at once. */
const THINK_MS = 30;

/** What steps on a model cost, by what the shop took for them so far. */
export function planningCosts(
	{ catalog, past }: Pick<Knowledge, 'catalog' | 'past'>,
	model: string,
	{ matters, worthMinor, counts = [] }: Beside = {}
): PlanningCosts {
	const counted = latestCounts(counts);
	return {
		operationMinutes: (code) =>
			countFactor(catalog, code, counted) * lognormalMean(durationLaw(catalog, past.durations, code, model)),
		lossOfGivingUpMinor: lossOfGivingUpMinor(past, {
			valueMinor: worthMinor ?? catalog.models.get(model)?.valueMinor ?? null,
			dataWorthMinor: catalog.shop.dataWorthMinor,
			matters
		})
	};
}

/** What is known of a job beside what the engine reads of it. */
export type Beside = Partial<Pick<Ticket, 'gates' | 'matters' | 'worthMinor'>> & {
	counts?: Ticket['counts'];
};

/** How far ahead a plan looks behind its best first steps, and for how long. */
export interface Thinking {
	depth: number;
	firsts: number;
	thinkMs: number;
	/** measurements are steps too; the API knows tests and operations alone */
	measures?: boolean;
	/** what giving the job up loses, in hundredths; the shop's mean without */
	lossMinor?: number | undefined;
}
const AT_ONCE: Thinking = { depth: 1, firsts: 6, thinkMs: THINK_MS };
export const STEPS_OF_THE_API: Thinking = { ...AT_ONCE, measures: false };

/** Odds with the steps that follow from them. */
export function adviseSteps(
	{ catalog, engine, past, shelf }: Knowledge,
	evidence: Evidence & Beside,
	{ depth, firsts, thinkMs, measures = true, lossMinor }: Thinking = AT_ONCE
) {
	const features = readFeatures(evidence, catalog, shelf.book);
	const inference = inferOdds(engine, evidence.model, features);
	const until = performance.now() + thinkMs;
	const gates = gateStates(
		{ model: evidence.model, gates: evidence.gates ?? [], attempts: evidence.attempts },
		catalog
	);
	const resolved = complaintGone(
		evidence,
		gates.some(({ passed }) => passed === false)
	);
	const usual = planningCosts({ catalog, past }, evidence.model, evidence);
	const costs = lossMinor === undefined ? usual : { ...usual, lossOfGivingUpMinor: lossMinor };
	const hourlyMinor = meanHourlyCostMinor(catalog) ?? ASSUMED_HOURLY_MINOR;
	const ranked = () =>
		rankNextSteps(engine, inference, features, costs, {
			depth,
			firsts,
			measures,
			timeLeft: () => performance.now() < until
		});
	const next = resolved
		? proofSteps(gates, hourlyMinor)
		: measures && !isTooColdOrHot(evidence.battery?.at(-1)?.celsius)
			? withWaking(ranked(), features, hourlyMinor)
			: ranked();
	const plan: Plan = { next, gone: resolved, ahead: depth + 1 };
	return { inference, features, plan };
}

/** Odds, next steps and quote for one state of evidence: what the ticket's side shows and the API answers. */
export function advise(
	knowledge: Knowledge,
	evidence: Evidence & Beside,
	request: AdviceRequest = {}
): Advice {
	const { catalog, engine, past } = knowledge;
	const { inference, features, plan } = adviseSteps(knowledge, evidence);
	const technician = catalog.technicians.get(request.technician ?? '');
	const quote = quoteJob({
		engine,
		past,
		model: evidence.model,
		testsDone: features.answers
			.map(({ question }) => question)
			.filter((question) => catalog.tests.has(question)),
		tried: evidence.attempts.flatMap(({ operation, part }) => (part ? [] : [operation])),
		faults: request.faults ?? null,
		inference,
		next: plan.next,
		askedMinor: request.askedMinor ?? null,
		hourlyMinor: technician?.hourlyCostMinor ?? null,
		technician: technician?.code ?? null,
		customerKind: evidence.customer?.kind,
		counts: latestCounts(evidence.counts ?? []),
		valueMinor: evidence.worthMinor ?? null
	});
	return { inference, ...plan, quote };
}
