import type { z } from 'zod';
import type { oddsAnswer, quoteAnswer } from '$lib/core/exchange/api-schemas';
import type { Step } from '$lib/core/diagnosis/next-step';
import type { Odds } from '$lib/core/diagnosis/odds';
import type { Spread } from '$lib/core/quoting/job-cost';
import type { Quote } from '$lib/core/quoting/quote';
import { fromMinor } from '$lib/core/units/money';
import { seesCosts, type Role } from '$lib/core/units/role';

const money = (minor: number) => fromMinor(Math.round(minor));

export function toOddsAnswer(odds: Odds, next: readonly Step[], role: Role): z.output<typeof oddsAnswer> {
	return {
		learned_from: odds.learnedFrom,
		learned_from_model: odds.fromModel,
		faults: odds.faults,
		sets: odds.sets,
		none: odds.none,
		next: next.map(({ kind, code, expectedCostMinor, expectedMinutes, why }) => ({
			kind,
			code,
			...(seesCosts(role) ? { expected_cost: money(expectedCostMinor) } : {}),
			expected_minutes: expectedMinutes,
			why
		}))
	};
}

export function toQuoteAnswer(quote: Quote, role: Role): z.output<typeof quoteAnswer> {
	const { job } = quote;
	const costs = {
		cost: inMoney(job.costMinor),
		floor: money(quote.floorMinor),
		expected_profit: money(quote.expectedProfitMinor),
		chance_of_loss: quote.chanceOfLoss
	};
	return {
		minutes: job.minutes,
		chance_fixed: job.chanceFixed,
		comeback_chance: quote.comebackChance,
		price: money(quote.priceMinor),
		ceiling: quote.ceilingMinor === null ? null : money(quote.ceilingMinor),
		chance_accepted: quote.acceptance?.chance ?? null,
		from: job.from,
		verdict: quote.verdict,
		...(seesCosts(role) ? costs : {}),
		reasons: seesCosts(role) ? quote.reasons : []
	};
}

function inMoney({ p10, p50, p90, mean }: Spread): Spread {
	return { p10: money(p10), p50: money(p50), p90: money(p90), mean: money(mean) };
}
