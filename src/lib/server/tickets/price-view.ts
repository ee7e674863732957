import { acceptanceChance, type LearnedAnswers } from '$lib/core/quoting/acceptance';
import type { Quote } from '$lib/core/quoting/quote';
import { quantileSorted } from '$lib/core/statistics/quantile';
import { seesCosts, type Role } from '$lib/core/units/role';

export interface PriceView {
	priceMinor: number;
	ceilingMinor: number | null;
	verdict: Quote['verdict'];
	minutes: Quote['job']['minutes'];
	chanceFixed: number;
	from: number;
	/** chance of acceptance at some prices, to be read between; empty with too few answered quotes */
	acceptance: { priceMinor: number; chance: number; low: number; high: number; from: number }[];
	/** manager only */
	costs?: {
		floorMinor: number;
		meanMinor: number;
		comebackChance: number;
		comebackFrom: number;
		p10: number;
		p50: number;
		p90: number;
		/** 61 quantiles of the cost of jobs that end fixed, evenly from 0 to 1 */
		fixedCostQuantiles: number[];
		reasons: string[];
	};
}

export function priceView(quote: Quote, answers: LearnedAnswers, role: Role): PriceView {
	const { job } = quote;
	// of what every role sees alone: a scale that ended at the cost would tell it
	const top = Math.max(quote.ceilingMinor ?? 0, 2 * quote.priceMinor, 100) * 1.25;
	const acceptance = Array.from({ length: 13 }, (_, i) => (top * (i + 1)) / 13).flatMap((priceMinor) => {
		const chance = acceptanceChance(priceMinor, quote.ceilingMinor, answers);
		return chance ? [{ priceMinor: Math.round(priceMinor), ...chance }] : [];
	});
	return {
		priceMinor: quote.priceMinor,
		ceilingMinor: quote.ceilingMinor,
		verdict: quote.verdict,
		minutes: job.minutes,
		chanceFixed: job.chanceFixed,
		from: job.from,
		acceptance,
		...(seesCosts(role) ? { costs: costView(quote) } : {})
	};
}

function costView(quote: Quote): NonNullable<PriceView['costs']> {
	const { job } = quote;
	const fixed = Float64Array.from(
		job.draws.filter(({ fixed }) => fixed).map(({ costMinor }) => costMinor)
	).sort();
	return {
		floorMinor: quote.floorMinor,
		meanMinor: job.costMinor.mean,
		comebackChance: quote.comebackChance,
		comebackFrom: quote.comebackFrom,
		p10: job.costMinor.p10,
		p50: job.costMinor.p50,
		p90: job.costMinor.p90,
		fixedCostQuantiles:
			fixed.length === 0
				? []
				: Array.from({ length: 61 }, (_, i) => Math.round(quantileSorted(fixed, i / 60))),
		reasons: quote.reasons
	};
}
