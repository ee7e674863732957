import type { Engine } from '../diagnosis/engine';
import { meanHourlyCostMinor } from '../catalog/catalog';
import type { Step } from '../diagnosis/plan/next-step';
import { ASSUMED_HOURLY_MINOR } from '../diagnosis/plan/plan-world';
import { remediesOf, type Inference } from '../diagnosis/infer/odds';
import type { Minor } from '../units/money';
import { jobCost, type JobCost, type PossibleFaults } from './job-cost';
import { comebackRate, usualMarkup, type Past } from './past';
import { acceptanceChance } from './acceptance';
import { judgePrice, type PriceJudgement } from './price';

export interface Quote extends PriceJudgement {
	job: JobCost;
	comebackChance: number;
	comebackFrom: number;
	acceptance: ReturnType<typeof acceptanceChance>;
}

export interface QuoteInput {
	engine: Engine;
	past: Past;
	model: string;
	testsDone: readonly string[];
	/** confirmed faults; null while only the odds are known */
	faults: readonly string[] | null;
	inference: Inference;
	next: readonly Step[];
	askedMinor: Minor | null;
	/** hourly cost of a named technician; null for the mean of all */
	hourlyMinor: number | null;
}

/** The quote of the exchange design: cost of the whole job as a distribution, and what a price does. */
export function quoteJob(input: QuoteInput): Quote {
	const { engine, past, model, faults, inference } = input;
	const { catalog } = engine;
	const possible = faults ? [{ faults, probability: 1 }] : possibleFaults(inference);
	const job = jobCost({
		catalog,
		durations: past.durations,
		remedies: remediesOf(engine),
		model,
		possible,
		testsDone: input.testsDone,
		hourlyMinor: input.hourlyMinor ?? meanHourlyCostMinor(catalog) ?? ASSUMED_HOURLY_MINOR
	});
	const comeback = comebackRate(past, model);
	const valueMinor = catalog.models.get(model)?.valueMinor ?? null;
	const price = judgePrice({
		job,
		comebackChance: comeback.rate,
		ceilingMinor: valueMinor,
		askedMinor: input.askedMinor,
		markup: usualMarkup(past),
		topChance: faults ? 1 : (inference.odds.faults[0]?.probability ?? 0),
		first: firstOf(input)
	});
	return {
		...price,
		job,
		comebackChance: comeback.rate,
		comebackFrom: comeback.from,
		acceptance: acceptanceChance(price.priceMinor, valueMinor, past.answers)
	};
}

/** What the plan does first; faults that are known are repaired. */
function firstOf({ faults, next }: QuoteInput): 'give-up' | 'measure' | 'repair' {
	const kind = faults ? 'operation' : next[0]?.kind;
	if (kind === 'give-up') return kind;
	return kind === 'test' || kind === 'measure' ? 'measure' : 'repair';
}

/** What is still to be mended. */
function possibleFaults({ now, codes }: Inference): PossibleFaults[] {
	return now.flatMap(({ set, chance }) =>
		chance < 1e-4 ? [] : [{ faults: set.map((fault) => codes[fault] as string), probability: chance }]
	);
}
