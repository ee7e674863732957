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

/**
 * The same at any price, from what a screen is sent: the chance that the job ends fixed, and evenly spaced quantiles of what
 * such jobs cost.
 * @example chanceOfLossAt(50, 0.9, [20, 40, 60]) // 1 - 0.9 + 0.9 / 3
 */
export function chanceOfLossAt(
	priceMinor: number,
	chanceFixed: number,
	fixedCostQuantiles: readonly number[]
): number {
	const above = fixedCostQuantiles.filter((cost) => cost > priceMinor).length;
	return 1 - chanceFixed + (chanceFixed * above) / Math.max(1, fixedCostQuantiles.length);
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
	/** the likeliest fault's chance, and what the plan does first: one plan for the price and for the bench */
	topChance: number;
	first: 'give-up' | 'measure' | 'repair';
}

/** Floor, price, ceiling and verdict. A suggestion covers cost times the shop's usual ratio, in whole units. */
export function judgePrice(input: PriceInput): PriceJudgement {
	const { job, comebackChance, ceilingMinor, askedMinor } = input;
	const mean = job.costMinor.mean;
	const exactFloor = floorPriceMinor(job.chanceFixed, mean, comebackChance);
	const floorMinor = Number.isFinite(exactFloor) ? Math.round(exactFloor) : 99_999_999_00;
	const priceMinor = askedMinor ?? suggestPrice(input, floorMinor);
	const tooDear = ceilingMinor !== null && floorMinor > ceilingMinor;
	const unsure = input.first === 'measure' && input.topChance < 0.6;
	const verdict = tooDear || input.first === 'give-up' ? 'not-worth-it' : unsure ? 'diagnose-first' : 'quote';
	return {
		floorMinor,
		priceMinor,
		ceilingMinor,
		expectedProfitMinor: Math.round(expectedProfitMinor(priceMinor, job.chanceFixed, mean, comebackChance)),
		chanceOfLoss: chanceOfLoss(job.draws, priceMinor),
		verdict,
		reasons: reasonsFor(input, verdict, tooDear)
	};
}

function suggestPrice({ job, ceilingMinor, markup }: PriceInput, floorMinor: number): Minor {
	const wished = Math.max(floorMinor, job.costMinor.mean * markup.ratio);
	const capped = ceilingMinor === null ? wished : Math.min(wished, Math.max(floorMinor, ceilingMinor));
	return Math.ceil(capped / 100) * 100;
}

function reasonsFor(input: PriceInput, verdict: QuoteVerdict, tooDear: boolean): string[] {
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
			tooDear
				? 'Below the floor the job loses money, and the floor lies above what the device is worth.'
				: 'No step is expected to cost less than handing it back as it is.'
		);
	}
	if (input.ceilingMinor === null) reasons.push('The model has no value: there is no ceiling.');
	return reasons;
}
