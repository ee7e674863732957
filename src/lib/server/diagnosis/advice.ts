import { gateStates } from '$lib/core/bench/gates';
import { meanHourlyCostMinor, type Catalog } from '$lib/core/catalog/catalog';
import type { Engine } from '$lib/core/diagnosis/engine';
import { heatOnBoard } from '$lib/core/bench/heat';
import { stageOfRun } from '$lib/core/tickets/port-off-step';
import type { EarlierWork } from '$lib/core/diagnosis/learn/earlier-work';
import { readFeatures, type Evidence } from '$lib/core/diagnosis/learn/evidence';
import { rankNextSteps } from '$lib/core/diagnosis/plan/next-step';
import type { Plan } from '$lib/core/diagnosis/plan/plan-view';
import { ASSUMED_HOURLY_MINOR, isOffered, type PlanningCosts } from '$lib/core/diagnosis/plan/plan-world';
import { isTooColdOrHot } from '$lib/core/charging/battery-cautions';
import { complaintGone, proofSteps } from '$lib/core/diagnosis/plan/prove';
import { deviceState } from '$lib/core/diagnosis/plan/device-state';
import { withWaking } from '$lib/core/diagnosis/plan/wake';
import { inferOdds, type Inference } from '$lib/core/diagnosis/infer/odds';
import { countFactor, latestCounts } from '$lib/core/quoting/counts';
import { durationLaw } from '$lib/core/quoting/durations';
import { lossOfGivingUpMinor, usualMarkup, type Past } from '$lib/core/quoting/past';
import { quoteJob, type Quote } from '$lib/core/quoting/quote';
import type { Ticket } from '$lib/core/tickets/ticket-record';
import { DAY_MS } from '$lib/core/units/instant';
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
	/** what giving the job up loses, in hundredths, where the asker says so */
	lossMinor?: number;
}

export interface Knowledge {
	catalog: Catalog;
	shelf: Pick<KnownGoodShelf, 'book'>;
	engine: Engine;
	past: Past;
	/** what fixed the device on a ticket of the shop, by its number; null where nothing did */
	fixedOn?: ((number: string) => { operations: readonly string[]; closedAt: number } | null) | undefined;
}

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

/** What fixed the device before it came back, and how long ago. */
function earlierOf(
	{ comebackOf, openedAt = 0 }: Beside,
	fixedOn: Knowledge['fixedOn']
): EarlierWork[] | undefined {
	const earlierFix = comebackOf ? fixedOn?.(comebackOf) : null;
	if (!earlierFix) return undefined;
	const days = Math.max(0, (openedAt - earlierFix.closedAt) / DAY_MS);
	return earlierFix.operations.map((operation) => ({ operation, days, resolved: true }));
}

/** What is lost beside the device where its data is what counts. */
const dataAtStakeMinor = ({ shop }: Catalog, matters: Beside['matters']): number =>
	matters === 'data' || matters === 'both' ? shop.dataWorthMinor : 0;

/** What a device is worth to its owner, its data with it where that is what counts; null where nobody says. */
function ownValueMinor(
	catalog: Catalog,
	{ model, worthMinor, matters }: Beside & { model: string }
): number | null {
	const valueMinor = worthMinor ?? catalog.models.get(model)?.valueMinor ?? null;
	return valueMinor === null ? null : valueMinor + dataAtStakeMinor(catalog, matters);
}

/** Heat of this ticket; what runs still counts once it is off. */
const isHeatSpent = (heat: Ticket['heat'] = []): boolean =>
	heatOnBoard(heat, heat.at(-1)?.at ?? 0).verdict === 'spent';

/** What is known of a job beside what the engine reads of it. */
export type Beside = Partial<
	Pick<Ticket, 'gates' | 'heat' | 'steps' | 'matters' | 'worthMinor' | 'comebackOf' | 'openedAt'>
> & {
	counts?: Ticket['counts'];
};

/** How far ahead a plan looks behind its best first steps: by work and not by the clock, so that the same question has the same answer. */
export interface Thinking {
	depth: number;
	firsts: number;
	/** measurements are steps too */
	measures?: boolean;
	/** what giving the job up loses, in hundredths; without, what its likeliest repair would bring */
	lossMinor?: number | undefined;
}
const AT_ONCE: Thinking = { depth: 1, firsts: 6 };
export const STEPS_OF_THE_API: Thinking = { ...AT_ONCE, measures: false };

/** Odds with the steps that follow from them. */
export function adviseSteps(
	{ catalog, engine, past, shelf, fixedOn }: Knowledge,
	seen: Evidence & Beside,
	{ depth, firsts, measures = true, lossMinor }: Thinking = AT_ONCE
) {
	const evidence = { ...seen, earlier: seen.earlier ?? earlierOf(seen, fixedOn) };
	const features = readFeatures(evidence, catalog, shelf.book);
	const inference = inferOdds(engine, evidence.model, features);
	const gates = gateStates(
		{ model: evidence.model, gates: evidence.gates ?? [], attempts: evidence.attempts },
		catalog
	);
	const resolved = complaintGone(
		evidence,
		gates.some(({ passed }) => passed === false)
	);
	const usual = planningCosts({ catalog, past }, evidence.model, evidence);
	const hourlyMinor = meanHourlyCostMinor(catalog) ?? ASSUMED_HOURLY_MINOR;
	const dataMinor = dataAtStakeMinor(catalog, evidence.matters);
	const ranked = () =>
		rankNextSteps(
			engine,
			inference,
			features,
			lossMinor === undefined ? usual : { ...usual, lossOfGivingUpMinor: lossMinor },
			{
				depth,
				firsts,
				measures,
				device: {
					...deviceState(evidence, features, catalog),
					heatSpent: isHeatSpent(evidence.heat),
					...(stageOfRun({ steps: evidence.steps ?? [] }, catalog) ? { portOff: true, opened: true } : {})
				},
				...(lossMinor === undefined
					? {
							income: {
								valueMinor: ownValueMinor(catalog, evidence),
								markup: usualMarkup(past).ratio,
								hourlyMinor,
								dataMinor
							}
						}
					: {})
			}
		);
	const next = resolved
		? proofSteps(gates, hourlyMinor)
		: isTooColdOrHot(evidence.battery?.at(-1)?.celsius)
			? ranked()
			: withWaking(ranked(), features, { catalog, hourlyMinor, measures });
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
	const { inference, features, plan } = adviseSteps(knowledge, evidence, {
		...AT_ONCE,
		lossMinor: request.lossMinor
	});
	const technician = catalog.technicians.get(request.technician ?? '');
	const quote = quoteJob({
		engine,
		past,
		model: evidence.model,
		testsDone: features.answers.flatMap(({ question, answer }) =>
			catalog.tests.has(question) ? [{ test: question, outcome: answer }] : []
		),
		tried: evidence.attempts.flatMap(({ operation, part }) => (part ? [] : [operation])),
		faults: request.faults ?? null,
		inference,
		offered: (code) =>
			isOffered(catalog, code, evidence.model, features, latestCounts(evidence.counts ?? [])),
		next: plan.next,
		askedMinor: request.askedMinor ?? null,
		hourlyMinor: technician?.hourlyCostMinor ?? null,
		technician: technician?.code ?? null,
		customerKind: evidence.customer?.kind,
		counts: latestCounts(evidence.counts ?? []),
		valueMinor: ownValueMinor(catalog, evidence)
	});
	return { inference, ...plan, quote };
}
