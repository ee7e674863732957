import {
	chanceBy,
	honestMoment,
	readyDrawsInSteps,
	spreadOfDraws,
	type Arrivals
} from '$lib/core/bench/day/promise-chance';
import type { Ticket } from '$lib/core/tickets/ticket-record';
import { DAY_MS, type Instant } from '$lib/core/units/instant';
import { seededRandom } from '$lib/core/units/random';
import type { Database } from '../database/connection';
import { inTurns, NEVER, type Stop } from '../database/in-turns';
import { advise } from '../diagnosis/advice';
import { houseNow, openAhead } from './day';
import { workLeft } from './work';

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
const SIGMA = 0.4;
/** Of what comes in later so much is done first: what is urgent, and what is quick. A choice. */
const AHEAD = 0.25;
const LOOKED_BACK_DAYS = 28;

export async function counterWord(
	db: Database,
	ticket: Ticket,
	now: Instant,
	askedAt: Instant | null = null,
	stop: Stop = NEVER
): Promise<CounterWord> {
	const { memory, hands, work, bench, plan } = await houseNow(db, now, stop);
	const { catalog } = memory;
	const advice = advise(memory, ticket, {});
	const top = advice.inference.odds.faults[0];
	const repairs = [
		...advice.quote.options.flatMap((way) => (way.kind === 'repair' ? [way.price.priceMinor] : [])),
		...(advice.quote.together ? [advice.quote.together.price.priceMinor] : [])
	];
	const job = workLeft(hands, ticket, advice, now);
	const starts = new Map(
		plan.tasks.map(({ number, start }) => [number, start]).reverse() as [string, number][]
	);
	const inOrder = [...work].sort(
		(a, b) => (starts.get(a.number) ?? Infinity) - (starts.get(b.number) ?? Infinity)
	);
	const draws = job
		? await inTurns(
				readyDrawsInSteps(
					{
						work: inOrder,
						job,
						bench,
						sigma: SIGMA,
						arrivals: await arrivalsOf(db, now),
						open: openAhead(catalog, now),
						now
					},
					seededRandom(7919)
				),
				stop
			)
		: { ends: [], draws: 0 };
	return {
		likely: top ? { label: top.label, probability: top.probability, low: top.low, high: top.high } : null,
		prices: repairs.length === 0 ? null : { lowMinor: Math.min(...repairs), highMinor: Math.max(...repairs) },
		from: advice.inference.odds.learnedFrom,
		ready: spreadOfDraws(draws),
		honest: honestMoment(draws, PROMISED_CHANCE, catalog.shop.opening),
		chance: PROMISED_CHANCE,
		asked: askedAt === null ? null : { at: askedAt, chance: chanceBy(draws, askedAt) },
		draws: draws.draws,
		queue: work.length
	};
}

/** How much came in of late, and what such jobs took. */
async function arrivalsOf(db: Database, now: Instant): Promise<Arrivals> {
	const since = new Date(now - LOOKED_BACK_DAYS * DAY_MS);
	const opened = (await db('tickets').where('opened_at', '>', since).count({ n: '*' }).first()) as {
		n: number;
	};
	const closed = (await db('tickets')
		.where('closed_at', '>', since)
		.andWhere('minutes', '>', 0)
		.orderBy('closed_at', 'desc')
		.limit(200)
		.pluck('minutes')) as (string | number)[];
	// six days of seven, as most are open
	return {
		perDay: Number(opened.n) / ((LOOKED_BACK_DAYS * 6) / 7),
		minutes: closed.map(Number),
		ahead: AHEAD
	};
}
