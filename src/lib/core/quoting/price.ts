import { clopperPearsonInterval, type Interval } from '../statistics/rate-interval';
import type { Minor } from '../units/money';
import type { JobCost } from './job-cost';

export type QuoteVerdict = 'quote' | 'diagnose-first' | 'not-worth-it';

export interface PriceJudgement {
	floorMinor: Minor;
	priceMinor: Minor;
	ceilingMinor: Minor | null;
	expectedProfitMinor: Minor;
	chanceOfLoss: number;
	verdict: QuoteVerdict;
	reasons: string[];
}

/**
 * Expected profit of a job that is paid only when it is fixed, with comebacks:
 * price · P(fixed) - cost - P(comeback) · P(fixed) · cost of a comeback. Plain expectation.
 */
export function expectedProfitMinor(
	priceMinor: number,
	chanceFixed: number,
	meanCostMinor: number,
	comebackChance: number,
	comebackCostMinor = meanCostMinor
): number {
	return chanceFixed * (priceMinor - comebackChance * comebackCostMinor) - meanCostMinor;
}

/** The price at which that profit is nil. Infinity where nothing is ever fixed. */
export function floorPriceMinor(chanceFixed: number, meanCostMinor: number, comebackChance: number): number {
	if (chanceFixed <= 0) return Infinity;
	return meanCostMinor / chanceFixed + comebackChance * meanCostMinor;
}

/** Share of drawn jobs that cost more than they bring: unfixed ones bring nothing. */
export function chanceOfLoss(draws: JobCost['draws'], priceMinor: number): number {
	const lost = draws.filter(({ costMinor, fixed }) => costMinor > (fixed ? priceMinor : 0));
	return draws.length === 0 ? 1 : lost.length / draws.length;
}

export interface PriceInput {
	job: JobCost;
	comebackChance: number;
	/** what the device is worth to its owner; null where the model does not say */
	ceilingMinor: Minor | null;
	/** a price of one's own; null to suggest one */
	askedMinor: Minor | null;
	/** what the shop's fixed jobs were paid, over what they cost; with how many jobs */
	markup: { ratio: number; from: number };
	/** the likeliest fault's chance, and whether measuring comes first by expected cost */
	topChance: number;
	measureFirst: boolean;
}

/** Floor, price, ceiling and verdict. A suggestion covers cost times the shop's usual ratio, in whole units. */
export function judgePrice(input: PriceInput): PriceJudgement {
	const { job, comebackChance, ceilingMinor, askedMinor } = input;
	const mean = job.costMinor.mean;
	const exactFloor = floorPriceMinor(job.chanceFixed, mean, comebackChance);
	const floorMinor = Number.isFinite(exactFloor) ? Math.round(exactFloor) : 99_999_999_00;
	const priceMinor = askedMinor ?? suggestPrice(input, floorMinor);
	const tooDear = ceilingMinor !== null && floorMinor > ceilingMinor;
	const unsure = input.measureFirst && input.topChance < 0.6;
	const verdict = tooDear ? 'not-worth-it' : unsure ? 'diagnose-first' : 'quote';
	return {
		floorMinor,
		priceMinor,
		ceilingMinor,
		expectedProfitMinor: Math.round(expectedProfitMinor(priceMinor, job.chanceFixed, mean, comebackChance)),
		chanceOfLoss: chanceOfLoss(job.draws, priceMinor),
		verdict,
		reasons: reasonsFor(input, verdict)
	};
}

function suggestPrice({ job, ceilingMinor, markup }: PriceInput, floorMinor: number): Minor {
	const wished = Math.max(floorMinor, job.costMinor.mean * markup.ratio);
	const capped = ceilingMinor === null ? wished : Math.min(wished, Math.max(floorMinor, ceilingMinor));
	return Math.ceil(capped / 100) * 100;
}

function reasonsFor(input: PriceInput, verdict: QuoteVerdict): string[] {
	const { job, markup, topChance } = input;
	const reasons = [
		job.from === 0
			? 'No past job of this operation: its minutes are the catalog’s.'
			: `Minutes from ${job.from} past jobs of the same operation.`,
		markup.from === 0
			? 'No paid job yet: the suggestion doubles the cost.'
			: `The shop’s fixed jobs were paid ${markup.ratio.toFixed(1)} times their cost (${markup.from} jobs).`
	];
	if (verdict === 'diagnose-first') {
		reasons.unshift(
			`The likeliest fault stands at ${Math.round(topChance * 100)} % only, and measuring first is expected to cost less.`
		);
	}
	if (verdict === 'not-worth-it') {
		reasons.unshift(
			'Below the floor the job loses money, and the floor lies above what the device is worth.'
		);
	}
	if (input.ceilingMinor === null) reasons.push('The model has no value: there is no ceiling.');
	return reasons;
}

/** A past quote and whether the customer took it. */
export interface AnsweredQuote {
	priceMinor: number;
	valueMinor: number | null;
	accepted: boolean;
}

/** The nearest past quotes that a chance of acceptance leans on. */
const NEAREST = 60;

/**
 * Chance that a price is accepted: the share among the past quotes nearest to it in price over the
 * device's value (in price, where the value is unknown). Null with fewer than ten.
 */
export function acceptanceChance(
	priceMinor: number,
	valueMinor: number | null,
	answered: readonly AnsweredQuote[]
): ({ chance: number; from: number } & Interval) | null {
	const scale = (price: number, value: number | null) => Math.log(Math.max(1, price) / (value ?? 1));
	const target = scale(priceMinor, valueMinor);
	const comparable = answered.filter((quote) => (quote.valueMinor === null) === (valueMinor === null));
	if (comparable.length < 10) return null;
	const near = comparable
		.map((quote) => ({
			accepted: quote.accepted,
			distance: Math.abs(scale(quote.priceMinor, quote.valueMinor) - target)
		}))
		.sort((a, b) => a.distance - b.distance)
		.slice(0, NEAREST);
	const taken = near.filter(({ accepted }) => accepted).length;
	return {
		chance: (taken + 1) / (near.length + 2),
		from: near.length,
		...clopperPearsonInterval(taken, near.length, 0.8)
	};
}
