import {
	chanceBy,
	honestMoment,
	spreadOfDraws,
	type Arrivals,
	type ReadyDraws
} from '../bench/day/promise-chance';
import type { DayPlan } from '../bench/day/plan-day';
import type { WorkLeft } from '../bench/day/work-left';
import type { Catalog } from '../catalog/catalog';
import type { Odds } from '../diagnosis/infer/odds';
import type { Quote } from '../quoting/quote';
import type { Instant } from '../units/instant';

/** What a counter says before a device is accepted: what it likely is, what it may cost, when it is ready. No costs. */
export interface CounterWord {
	likely: { label: string; probability: number; low: number; high: number } | null;
	/** prices of the ways that it may be mended, hundredths; null where none is known */
	prices: { lowMinor: number; highMinor: number } | null;
	from: number;
	ready: { low: Instant; usual: Instant; high: Instant } | null;
	/** the earliest half hour that is kept in nine of ten cases */
	honest: Instant | null;
	chance: number;
	/** of the moment that was asked about; null where none was */
	asked: { at: Instant; chance: number } | null;
	draws: number;
	/** tickets before it */
	queue: number;
}

/** A promise that is offered is kept in so many of ten cases. A choice that the shop's own score is held against. */
const PROMISED_CHANCE = 0.9;
/** A task's minutes spread so far about what is expected, in logarithms. A choice; the record's own spreads lie between .25 and .5. */
export const TASK_SIGMA = 0.4;
/** Of what comes in later so much is done first: what is urgent, and what is quick. A choice. */
const SHARE_AHEAD = 0.25;

/** Jobs in the order in which the plan begins them; what it does not begin comes last. */
export function inPlannedOrder(work: readonly WorkLeft[], plan: Pick<DayPlan, 'tasks'>): WorkLeft[] {
	const starts = new Map<string, Instant>();
	for (const { number, start } of plan.tasks) if (!starts.has(number)) starts.set(number, start);
	const startOf = ({ number }: WorkLeft) => starts.get(number) ?? Infinity;
	return [...work].sort((a, b) => {
		const [first, second] = [startOf(a), startOf(b)];
		return first === second ? 0 : first - second;
	});
}

/**
 * What comes in while a job waits.
 * @param opened tickets that came in over `days` days, of which six in seven are open
 * @param minutes what jobs took that were closed meanwhile
 */
export const arrivalsFrom = (opened: number, days: number, minutes: readonly number[]): Arrivals => ({
	perDay: opened / ((days * 6) / 7),
	minutes,
	ahead: SHARE_AHEAD
});

/** The cheapest and the dearest of the ways to mend it, at the shop's usual prices. */
function repairPrices({ options, together }: Pick<Quote, 'options' | 'together'>): CounterWord['prices'] {
	const prices = [...options, ...(together ? [together] : [])].flatMap((option) =>
		option.kind === 'repair' ? [option.price.proposal?.priceMinor ?? option.price.priceMinor] : []
	);
	return prices.length === 0 ? null : { lowMinor: Math.min(...prices), highMinor: Math.max(...prices) };
}

/** @param queue tickets before it */
export function counterWordOf(
	{ odds, quote }: { odds: Odds; quote: Pick<Quote, 'options' | 'together'> },
	draws: ReadyDraws,
	{ catalog, askedAt, queue }: { catalog: Catalog; askedAt: Instant | null; queue: number }
): CounterWord {
	const top = odds.faults[0];
	return {
		likely: top ? { label: top.label, probability: top.probability, low: top.low, high: top.high } : null,
		prices: repairPrices(quote),
		from: odds.learnedFrom,
		ready: spreadOfDraws(draws),
		honest: honestMoment(draws, PROMISED_CHANCE, catalog.shop.opening),
		chance: PROMISED_CHANCE,
		asked: askedAt === null ? null : { at: askedAt, chance: chanceBy(draws, askedAt) },
		draws: draws.draws,
		queue
	};
}
