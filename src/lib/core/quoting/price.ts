import { percent } from '../units/percent';
import type { Minor } from '../units/money';
import { nounFor } from '../units/noun';
import { chanceAccepted, type Acceptance, type AskedRange } from './acceptance';
import type { JobCost } from './job-cost';

type QuoteVerdict = 'quote' | 'diagnose-first' | 'not-worth-it';

/** What a screen proposes: a price that can be said aloud. */
export interface Proposal {
	/** the shop's usual price of such a job, or that of its list */
	priceMinor: Minor;
	expectedProfitMinor: Minor;
	/** a price near it that is expected to bring more, and how much; null where none is */
	step: { priceMinor: Minor; gainMinor: Minor } | null;
}

export interface PriceJudgement {
	/** null where nothing is ever fixed: then no price covers the cost */
	floorMinor: Minor | null;
	/** asked, or suggested; null where none was asked and none can be named */
	priceMinor: Minor | null;
	/** what the shop's usual markup would ask; null where no price can be named */
	usualPriceMinor: Minor | null;
	/** null where no price can be named */
	proposal: Proposal | null;
	ceilingMinor: Minor | null;
	/** between which prices the suggested one was looked for; null where too few were answered */
	range: AskedRange | null;
	/** with the chance that the price is accepted, where answers say something of it */
	expectedProfitMinor: Minor;
	chanceOfLoss: number;
	verdict: QuoteVerdict;
	reasons: string[];
}

/**
 * Expected profit of a job that is paid when it is fixed, with comebacks, and brings a fee when it is not:
 * price · P(fixed) + fee · (1 - P(fixed)) - cost - P(comeback) · P(fixed) · cost of a comeback. Plain expectation.
 */
export function expectedProfitMinor(
	priceMinor: number,
	chanceFixed: number,
	meanCostMinor: number,
	comebackChance: number,
	{ comebackCostMinor = meanCostMinor, feeMinor = 0 } = {}
): number {
	const fixed = chanceFixed * (priceMinor - comebackChance * comebackCostMinor);
	return fixed + (1 - chanceFixed) * feeMinor - meanCostMinor;
}

/** The price at which that profit is nil. Infinity where nothing is ever fixed. */
export function floorPriceMinor(
	chanceFixed: number,
	meanCostMinor: number,
	comebackChance: number,
	{ comebackCostMinor = meanCostMinor, feeMinor = 0 } = {}
): number {
	if (chanceFixed <= 0) return Infinity;
	const open = meanCostMinor - (1 - chanceFixed) * feeMinor;
	return Math.max(0, open / chanceFixed + comebackChance * comebackCostMinor);
}

/** Share of drawn jobs that cost more than they bring: unfixed ones bring the fee, or nothing. */
export function chanceOfLoss(draws: JobCost['draws'], priceMinor: number, feeMinor = 0): number {
	const lost = draws.filter(({ costMinor, fixed }) => costMinor > (fixed ? priceMinor : feeMinor));
	return draws.length === 0 ? 1 : lost.length / draws.length;
}

/**
 * The same at any price, from what a screen is sent: the chance that the job ends fixed, and evenly spaced quantiles of what
 * such jobs cost.
 * @param unfixedLoses chance that it ends unfixed and costs more than the fee
 * @example chanceOfLossAt(50, 0.9, [20, 40, 60]) // 1 - 0.9 + 0.9 / 3
 */
export function chanceOfLossAt(
	priceMinor: number,
	chanceFixed: number,
	fixedCostQuantiles: readonly number[],
	unfixedLoses = 1 - chanceFixed
): number {
	const above = fixedCostQuantiles.filter((cost) => cost > priceMinor).length;
	return unfixedLoses + (chanceFixed * above) / Math.max(1, fixedCostQuantiles.length);
}

/** The shop's own rules for prices. */
export interface PricePolicy {
	/** prices are multiples of it */
	stepMinor: Minor;
	/** paid where nothing could be repaired */
	feeMinor: Minor;
	/** share of every price that is tax and not the shop's; 0 without */
	taxShare?: number | undefined;
}

/** What is left of a price for the shop. */
export const netOf = ({ taxShare = 0 }: Pick<PricePolicy, 'taxShare'>, priceMinor: number) =>
	priceMinor * (1 - taxShare);

export interface PriceInput {
	job: Pick<
		JobCost,
		'costMinor' | 'chanceFixed' | 'comebackChance' | 'comebackCostMinor' | 'draws' | 'from' | 'fromWalks'
	>;
	policy: PricePolicy;
	/** how acceptance depends on the price; null where too few quotes were answered */
	acceptance: Acceptance | null;
	/** what the device is worth to its owner; null where the model does not say */
	ceilingMinor: Minor | null;
	/** a price of one's own; null to suggest one */
	askedMinor: Minor | null;
	/** the price of the shop's list for such customers; null where it has none */
	listMinor?: Minor | null | undefined;
	/** what the shop's fixed jobs were paid without tax, over what they cost; with how many jobs */
	markup: { ratio: number; from: number };
	/** the likeliest fault's chance, and what the plan does first: one plan for the price and for the bench */
	topChance: number;
	first: 'measure' | 'repair';
}

/** What a job brings at a price that is accepted, and how likely that is. */
export function profitAt(
	{ job, acceptance, policy }: Pick<PriceInput, 'job' | 'acceptance' | 'policy'>,
	priceMinor: number
): number {
	const net = netOf(policy, priceMinor);
	const profit = expectedProfitMinor(net, job.chanceFixed, job.costMinor.mean, job.comebackChance, {
		comebackCostMinor: job.comebackCostMinor,
		feeMinor: netOf(policy, policy.feeMinor)
	});
	return (acceptance ? chanceAccepted(acceptance, priceMinor) : 1) * profit;
}

/** Floor, price, ceiling and verdict: the price with the greatest expected profit, or the shop's usual one where too little is known. */
export function judgePrice(input: PriceInput): PriceJudgement {
	const { job, ceilingMinor, askedMinor, policy } = input;
	const { chanceFixed, costMinor, comebackChance, comebackCostMinor } = job;
	const feeMinor = netOf(policy, policy.feeMinor);
	const netFloor = floorPriceMinor(chanceFixed, costMinor.mean, comebackChance, {
		comebackCostMinor,
		feeMinor
	});
	const floorMinor = Number.isFinite(netFloor) ? Math.round(netFloor / netOf(policy, 1)) : null;
	const usualPriceMinor = floorMinor === null ? null : usualPrice(input, floorMinor);
	const suggested =
		floorMinor === null || usualPriceMinor === null
			? null
			: (input.listMinor ?? bestPrice(input, floorMinor, usualPriceMinor));
	const priceMinor = askedMinor ?? suggested;
	const reason = whyNotWorthIt(input, floorMinor);
	const unsure = input.first === 'measure' && input.topChance < 0.6;
	const verdict = reason ? 'not-worth-it' : unsure ? 'diagnose-first' : 'quote';
	return {
		floorMinor,
		priceMinor,
		usualPriceMinor,
		proposal:
			floorMinor === null || usualPriceMinor === null ? null : propose(input, floorMinor, usualPriceMinor),
		ceilingMinor,
		range: input.acceptance?.asked ?? null,
		expectedProfitMinor: Math.round(profitAt(input, priceMinor ?? 0)),
		chanceOfLoss: chanceOfLoss(job.draws, netOf(policy, priceMinor ?? 0), feeMinor),
		verdict,
		reasons: reasonsFor(input, verdict, reason)
	};
}

/** Why no price pays, in words; null where one does. */
function whyNotWorthIt({ ceilingMinor }: PriceInput, floorMinor: Minor | null): string | null {
	if (floorMinor === null) return 'No repair in the catalog is expected to fix it, so no price can be named.';
	if (ceilingMinor !== null && floorMinor > ceilingMinor)
		return 'The repair would cost more than the device is worth.';
	return null;
}

const roundUp = (minor: number, stepMinor: number) => Math.ceil(minor / stepMinor) * stepMinor;

/** Cost times the shop's usual ratio, not under the floor and not over what the device is worth, whatever the floor is. */
function usualPrice({ job, ceilingMinor, markup, policy }: PriceInput, floorMinor: number): Minor {
	const wished = Math.max(floorMinor, (job.costMinor.mean * markup.ratio) / netOf(policy, 1));
	const price = roundUp(wished, policy.stepMinor);
	return ceilingMinor === null || price <= ceilingMinor
		? price
		: Math.floor(ceilingMinor / policy.stepMinor) * policy.stepMinor;
}

/** Without a ceiling, prices are looked at up to so many times the usual one. */
const MOST_TIMES = 6;
const LOOKS = 120;

/**
 * The price, a multiple of the shop's step, between floor and ceiling and within what such jobs were asked for, with the greatest expected
 * profit: acceptance is not carried on to prices that nobody was asked. First evenly over all of it, then about the best
 * one ever more closely: profit has one hill where acceptance falls, and where it had two the higher is met. Where all that was asked for lies
 * under the floor it is the floor; the usual one where too few were answered.
 */
function bestPrice(input: PriceInput, floorMinor: number, usualMinor: Minor): Minor {
	const { acceptance, ceilingMinor, policy } = input;
	const point = policy.stepMinor;
	const range = acceptance?.asked;
	if (!acceptance || !range) return usualMinor;
	const floor = Math.ceil(floorMinor / point);
	const ceiling = Math.floor((ceilingMinor ?? MOST_TIMES * usualMinor) / point);
	if (ceiling < floor) return usualMinor;
	const within = (at: number) => Math.min(ceiling, Math.max(floor, at));
	const from = within(Math.ceil(range.lowMinor / point));
	return mostProfitable(input, from, Math.max(from, within(Math.floor(range.highMinor / point))));
}

/** @param from in steps of the shop's prices, as `to`; at most `to` */
function mostProfitable(input: PriceInput, from: number, to: number): Minor {
	const point = input.policy.stepMinor;
	let [low, high, best] = [from, to, from];
	for (;;) {
		const step = Math.max(1, Math.ceil((high - low) / LOOKS));
		let maximum = -Infinity;
		for (let at = low; at <= high; at += step) {
			const profit = profitAt(input, at * point);
			if (profit > maximum) [maximum, best] = [profit, at];
		}
		if (step === 1) return best * point;
		[low, high] = [Math.max(from, best - step), Math.min(to, best + step)];
	}
}

/** From the usual price a step is at most so large a share of it. */
const MOST_STEP = 0.15;
/** A step is named where it brings so much more of what the usual price does. A choice. */
const WORTH_SAYING = 0.02;

/** The usual price, or the list's, and the best step from it within what such jobs were asked for, the floor and the worth. */
function propose(input: PriceInput, floorMinor: number, usualMinor: Minor): Proposal {
	const { acceptance, ceilingMinor, listMinor, policy } = input;
	const priceMinor = listMinor ?? usualMinor;
	const profit = profitAt(input, priceMinor);
	const proposal = { priceMinor, expectedProfitMinor: Math.round(profit), step: null };
	const range = acceptance?.asked;
	if (!range || listMinor != null) return proposal;
	const from = Math.max((1 - MOST_STEP) * usualMinor, range.lowMinor, floorMinor);
	const to = Math.min((1 + MOST_STEP) * usualMinor, range.highMinor, ceilingMinor ?? Infinity);
	const [first, last] = [Math.ceil(from / policy.stepMinor), Math.floor(to / policy.stepMinor)];
	if (first > last) return proposal;
	const steppedMinor = mostProfitable(input, first, last);
	const gain = profitAt(input, steppedMinor) - profit;
	if (steppedMinor === priceMinor || gain <= WORTH_SAYING * Math.max(0, profit)) return proposal;
	return { ...proposal, step: { priceMinor: steppedMinor, gainMinor: Math.round(gain) } };
}

function reasonsFor(input: PriceInput, verdict: QuoteVerdict, reason: string | null): string[] {
	const { job, markup, topChance } = input;
	const reasons = [
		job.from === 0
			? 'No past job of this repair: the minutes are the catalog’s.'
			: `Minutes from ${job.from} past ${nounFor(job.from, 'job')} with the same repair.`,
		markup.from === 0
			? 'No paid job yet: the suggested price is twice the cost.'
			: `The shop’s usual price is ${markup.ratio.toFixed(1)} times the cost (${markup.from} jobs).`
	];
	if (job.fromWalks > 0) {
		reasons.push(
			`Steps to the repair from ${job.fromWalks} closed ${nounFor(job.fromWalks, 'job')} with these faults.`
		);
	}
	reasons.push(
		input.acceptance
			? `Chance of a yes from ${input.acceptance.fromAll} answered quotes, ${input.acceptance.from} of them from such customers.`
			: 'Too few answered quotes to estimate the chance of a yes: this is the usual price.'
	);
	if (verdict === 'diagnose-first') {
		reasons.unshift(
			`The likeliest fault is only at ${percent(topChance)}, and measuring first is expected to cost less.`
		);
	}
	if (reason) reasons.unshift(reason);
	if (input.listMinor != null && input.askedMinor === null) {
		reasons.push('Price from the shop’s list for trade customers.');
	}
	if (input.ceilingMinor === null)
		reasons.push('The worth of the model is not known, so there is no upper limit.');
	return reasons;
}
