import { readyDrawsInSteps, type Arrivals } from '$lib/core/bench/day/promise-chance';
import {
	arrivalsFrom,
	counterWordOf,
	inPlannedOrder,
	TASK_SIGMA,
	type CounterWord
} from '$lib/core/planning/counter-word';
import { workLeft } from '$lib/core/planning/remaining-work';
import type { Ticket } from '$lib/core/tickets/ticket-record';
import { DAY_MS, type Instant } from '$lib/core/units/instant';
import { seededRandom } from '$lib/core/units/random';
import type { Database } from '../database/connection';
import { rowCount } from '../database/row-count';
import { inTurns, NEVER, type Stop } from '../database/in-turns';
import { advise } from '../diagnosis/advice';
import { houseNow, openAhead } from './day';

const LOOKED_BACK_DAYS = 28;

/** What a counter may say of a device that is not taken in yet, held against the plan of the days ahead. */
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
	const job = workLeft(hands, ticket, advice, now);
	const draws = job
		? await inTurns(
				readyDrawsInSteps(
					{
						work: inPlannedOrder(work, plan),
						job,
						bench,
						sigma: TASK_SIGMA,
						arrivals: await arrivalsOf(db, now),
						open: openAhead(catalog, now),
						now
					},
					seededRandom(7919)
				),
				stop
			)
		: { ends: [], draws: 0 };
	const { inference, quote } = advice;
	return counterWordOf({ odds: inference.odds, quote }, draws, { catalog, askedAt, queue: work.length });
}

/** How much came in of late, and what such jobs took. */
async function arrivalsOf(db: Database, now: Instant): Promise<Arrivals> {
	const since = new Date(now - LOOKED_BACK_DAYS * DAY_MS);
	const opened = await rowCount(db('tickets').where('opened_at', '>', since));
	const closed = await db('tickets')
		.where('closed_at', '>', since)
		.andWhere('minutes', '>', 0)
		.orderBy('closed_at', 'desc')
		.limit(200)
		.pluck('minutes');
	return arrivalsFrom(opened, LOOKED_BACK_DAYS, closed.map(Number));
}
