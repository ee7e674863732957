import { itemAt } from '../units/vector';
import type { Engine } from '../diagnosis/engine';
import { meanHourlyCostMinor, type Catalog, type Shop } from '../catalog/catalog';
import type { Step } from '../diagnosis/plan/next-step';
import { ASSUMED_HOURLY_MINOR } from '../diagnosis/plan/plan-world';
import { remediesOf, type Inference } from '../diagnosis/infer/odds';
import { sumOf } from '../statistics/sum';
import { toMinor, type Minor } from '../units/money';
import type { Counts } from './counts';
import { jobCost, type JobCost, type JobInput, type PossibleFaults } from './job-cost';
import type { TestAnswer } from './habits';
import { usualMarkup, type Past } from './past';
import { acceptanceOf, type Acceptance, type AskedKind } from './acceptance';
import { judgePrice, type PriceJudgement, type PricePolicy } from './price';

export interface Quote extends PriceJudgement {
	job: JobCost;
	acceptance: Acceptance | null;
	/** ways to do the job beside each other, best first, with measuring first and handing it back where these pay more */
	options: Option[];
	/** what mends the two likeliest faults at once, where one way does not; null where one fault stands out or is known */
	together: Extract<Option, { kind: 'repair' }> | null;
}

/** A price that could be named. */
export type NamedPrice = PriceJudgement & { floorMinor: Minor; priceMinor: Minor; usualPriceMinor: Minor };

/** One way to do the job, with its own price. */
export type Option =
	| { kind: 'repair'; operations: string[]; label: string; job: JobCost; price: NamedPrice }
	| { kind: 'diagnose-first' | 'decline' };

export interface QuoteInput {
	engine: Engine;
	past: Past;
	model: string;
	/** answers of tests that were done */
	testsDone: readonly TestAnswer[];
	/** operations that were tried already */
	tried?: readonly string[] | undefined;
	/** confirmed faults; null while only the odds are known */
	faults: readonly string[] | null;
	inference: Inference;
	/** whether an operation may be done on this device; all of them without */
	offered?: ((operation: string) => boolean) | undefined;
	next: readonly Step[];
	askedMinor: Minor | null;
	/** hourly cost of a named technician; null for the mean of all */
	hourlyMinor: number | null;
	technician?: string | null | undefined;
	/** who is asked */
	customerKind?: AskedKind | undefined;
	/** pads, wires or contacts, as they were counted */
	counts?: Counts | undefined;
	/** what this device is worth, where it is known; else what the model is */
	valueMinor?: Minor | null | undefined;
}

/** The quote of the exchange design: cost of the whole job as a distribution, and what a price does. */
export function quoteJob(input: QuoteInput): Quote {
	const { engine, past, model, faults, inference, customerKind = 'unknown' } = input;
	const { catalog } = engine;
	const job: JobInput = {
		catalog,
		past,
		remedies: remediesOf(engine, model).filter(({ code }) => input.offered?.(code) ?? true),
		model,
		possible: faults ? [{ faults, probability: 1 }] : possibleFaults(inference),
		faultsKnown: faults !== null,
		testsDone: input.testsDone,
		tried: input.tried,
		hourlyMinor: input.hourlyMinor ?? meanHourlyCostMinor(catalog) ?? ASSUMED_HOURLY_MINOR,
		technician: input.technician,
		counts: input.counts
	};
	const valueMinor = input.valueMinor ?? catalog.models.get(model)?.valueMinor ?? null;
	const acceptance = acceptanceOf(past.answers, valueMinor, customerKind);
	const priced = (
		preferred: readonly string[],
		askedMinor: Minor | null,
		assumed: Pick<JobInput, 'possible' | 'faultsKnown'> = job
	) => {
		const cost = jobCost({ ...job, ...assumed, preferred });
		const price = judgePrice({
			job: cost,
			acceptance,
			policy: policyOf(catalog.shop),
			listMinor: customerKind === 'trade' ? listPriceMinor(catalog, cost.plan) : null,
			ceilingMinor: valueMinor,
			askedMinor,
			markup: usualMarkup(past),
			topChance: faults ? 1 : (inference.odds.faults[0]?.probability ?? 0),
			first: firstOf(input)
		});
		return {
			kind: 'repair' as const,
			operations: cost.plan,
			label: labelOf(input, cost.plan),
			job: cost,
			price
		};
	};
	const usual = priced([], null);
	const alternatives = otherWays(job, usual.job).map((operation) => priced([operation], null));
	const ways = bestFirst([usual, ...alternatives].filter(isNamed), acceptance !== null);
	const first: Priced = ways[0] ?? usual;
	const preferred = first === usual ? [] : first.operations.slice(0, 1);
	const standing = input.askedMinor === null ? first : priced(preferred, input.askedMinor);
	const pays = [...ways, ...(input.askedMinor === null ? [] : [standing])].some(
		({ price }) => price.expectedProfitMinor > 0
	);
	const top = { ...standing, price: judged(standing.price, pays) };
	const two = faults ? null : twoLikeliest(inference);
	const combined =
		two && priced([], null, { possible: [{ faults: two, probability: 1 }], faultsKnown: true });
	return {
		...top.price,
		job: top.job,
		acceptance,
		options: withOtherEnds(ways, top.price.verdict),
		together: combined && isNamed(combined) && combined.operations.length > 1 ? combined : null
	};
}

/** It is not worth it where no way of doing it is expected to bring more than it costs, and only there. */
function judged(price: PriceJudgement, pays: boolean): PriceJudgement {
	if (pays === (price.verdict !== 'not-worth-it')) return price;
	return pays
		? { ...price, verdict: 'quote' }
		: { ...price, verdict: 'not-worth-it', reasons: [NOTHING_PAYS, ...price.reasons] };
}
const NOTHING_PAYS = 'No option is expected to bring more than it costs.';

/** The shop's rules as prices are judged with them. */
export const policyOf = ({ priceStepMinor, diagnosisFeeMinor, tax }: Shop): PricePolicy => ({
	stepMinor: priceStepMinor,
	feeMinor: diagnosisFeeMinor,
	taxShare: tax ? tax.percent / (100 + tax.percent) : 0
});

/** What the list for trade customers asks for some operations together; null where it lacks one of them. */
function listPriceMinor({ operations }: Catalog, codes: readonly string[]): Minor | null {
	const prices = codes.map((code) => operations.get(code)?.trade_price);
	return codes.length > 0 && prices.every((price) => price !== undefined)
		? sumOf(prices.map((price) => toMinor(price as number)))
		: null;
}

const labelOf = ({ engine }: QuoteInput, operations: readonly string[]) =>
	operations.map((code) => engine.catalog.operations.get(code)?.label ?? code).join(' + ');

/** The second likeliest fault is mended along with the first where it is as likely as this. A choice. */
const ALONG = 0.15;

/** The two faults that are likeliest, one by one; null where the second is not likely. */
function twoLikeliest({ odds }: Inference): string[] | null {
	const [first, second] = odds.faults;
	return first && second && second.probability >= ALONG ? [first.code, second.code] : null;
}

/** So many other ways are looked at. A choice. */
const MOST_WAYS = 4;

/** Operations that mend the likeliest fault otherwise than the usual way does. */
function otherWays({ possible, remedies, catalog }: JobInput, { plan }: JobCost): string[] {
	const [likeliest] = [...possible]
		.filter(({ faults }) => faults.length > 0)
		.sort((a, b) => b.probability - a.probability);
	const codes = [...catalog.faults.keys()];
	const fault = codes.indexOf(likeliest?.faults[0] ?? '');
	if (!likeliest || fault < 0) return [];
	return remedies
		.filter(({ code, fixes }) => fixes.has(fault) && !plan.includes(code))
		.sort((a, b) => b.success - a.success || (a.code < b.code ? -1 : 1))
		.slice(0, MOST_WAYS)
		.map(({ code }) => code);
}

type Repair = Extract<Option, { kind: 'repair' }>;
type Priced = Omit<Repair, 'price'> & { price: PriceJudgement };
const isNamed = (way: Priced): way is Repair =>
	way.price.floorMinor !== null && way.price.priceMinor !== null;

/**
 * By expected profit. Where nobody knows what is accepted a dearer way would seem to bring more: those that pay by their floors then. As
 * good ones stay in their order, the usual way first.
 */
function bestFirst(ways: readonly Repair[], learnt: boolean): Repair[] {
	const profit = ({ price }: Repair) => price.expectedProfitMinor;
	const pays = (way: Repair) => Number(profit(way) > 0);
	return [...ways].sort((a, b) =>
		learnt ? profit(b) - profit(a) : pays(b) - pays(a) || a.price.floorMinor - b.price.floorMinor
	);
}

function withOtherEnds(ways: readonly Repair[], verdict: PriceJudgement['verdict']): Option[] {
	const handBack = { kind: 'decline' as const };
	if (verdict === 'diagnose-first') return [{ kind: 'diagnose-first' }, ...ways];
	if (verdict === 'not-worth-it') return [handBack, ...ways];
	const loses = ways.findIndex(({ price }) => price.expectedProfitMinor <= 0);
	return loses < 0 ? [...ways] : [...ways.slice(0, loses), handBack, ...ways.slice(loses)];
}

/** What the plan does first; faults that are known are repaired. */
function firstOf({ faults, next }: QuoteInput): 'measure' | 'repair' {
	const kind = faults ? 'operation' : next.find(({ kind }) => kind !== 'give-up')?.kind;
	return kind === 'test' || kind === 'measure' ? 'measure' : 'repair';
}

/** What is still to be mended. */
function possibleFaults({ now, codes }: Inference): PossibleFaults[] {
	return now.flatMap(({ set, chance }) =>
		chance < 1e-4 ? [] : [{ faults: set.map((fault) => itemAt(codes, fault)), probability: chance }]
	);
}
