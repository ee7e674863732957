import { dayPlan, dayRequest, type Bench, type DayPlan } from '$lib/core/bench/day/plan-day';
import { freeSpans, openSpans, type Span } from '$lib/core/bench/day/free-time';
import type { WorkLeft } from '$lib/core/bench/day/work-left';
import type { Schedule, ScheduleRequest } from '$lib/core/bench/schedule/problem';
import { planBench } from '$lib/core/bench/schedule/search';
import type { Catalog } from '$lib/core/catalog/catalog';
import { DAY_MS, MINUTE_MS, type Instant } from '$lib/core/units/instant';
import type { Database } from '../database/connection';
import { inTurns, NEVER, type Stop } from '../database/in-turns';
import { fittedMemory, type ShopMemory } from '../memory/shop-memory';
import { advisedTickets, type Advised } from './advised';
import { workforceOf, workLeft, type Workforce } from '$lib/core/planning/remaining-work';

/** So many days are planned ahead: two weeks, so that what is promised late is planned too. */
const DAYS_PLANNED = 15;
/** A plan is searched for so long, seconds; the first is made by rules of thumb at once. Choices. */
const SECONDS = 2;
/** A plan that is older is made anew: time goes on. */
const OLD_MS = 3 * MINUTE_MS;

export interface House {
	memory: ShopMemory;
	advised: Advised[];
	hands: Workforce;
	work: WorkLeft[];
	bench: Bench;
	plan: DayPlan;
	/** a better plan is being looked for */
	improving: boolean;
}

interface Kept {
	key: string;
	work: WorkLeft[];
	bench: Bench;
	plan: DayPlan;
	improving: boolean;
}
/** The last plan, per pool; compared with the versions of all that it was made from. */
const plans = new WeakMap<Database, Kept>();

const benchOf = (catalog: Catalog, now: Instant): Bench => ({
	technicians: [...catalog.technicians.values()].map((technician) => ({
		code: technician.code,
		name: technician.name,
		free: freeSpans(catalog, technician, now, DAYS_PLANNED)
	})),
	stations: [...catalog.stations.values()].map(({ code, label, count }) => ({ code, label, count }))
});

/** When the shop is open in the days ahead, from now on. */
export const openAhead = ({ shop }: Catalog, now: Instant): Span[] =>
	openSpans(shop.opening, now, DAYS_PLANNED);

/** Everything that is in the house with its plan. What changed is planned by rules of thumb at once; `improvePlan` searches further. */
export async function houseNow(db: Database, now: Instant, stop: Stop = NEVER): Promise<House> {
	const memory = await fittedMemory(db);
	const advised = await advisedTickets(db, memory, stop);
	const { catalog } = memory;
	const hands = workforceOf(catalog, memory.past);
	const key = [
		memory.counters.catalog,
		...advised.map(({ ticket, version }) => `${ticket.number}.${version}`)
	].join(' ');
	const previous = plans.get(db);
	const fresh = previous?.key === key && now - previous.plan.now < OLD_MS && now >= previous.plan.now;
	const work = advised.flatMap(({ ticket, plan }) => workLeft(hands, ticket, plan, now) ?? []);
	const bench = benchOf(catalog, now);
	if (fresh && previous)
		return { memory, advised, hands, work, bench, plan: previous.plan, improving: previous.improving };
	const plan = await planned(work, bench, now, 0, stop);
	plans.set(db, { key, work, bench, plan, improving: true });
	return { memory, advised, hands, work, bench, plan, improving: true };
}

/**
 * Searches for a better plan of the days than the rules of thumb gave; keeps what it has come to when it is asked to end.
 * @returns whether one was looked for
 */
export async function improvePlan(db: Database, stop: Stop = NEVER): Promise<boolean> {
	const made = plans.get(db);
	if (!made?.improving) return false;
	const { work, bench, plan } = made;
	const better = await planned(work, bench, plan.now, SECONDS, stop);
	if (plans.get(db) === made) plans.set(db, { ...made, plan: better, improving: false });
	return true;
}

async function planned(
	work: readonly WorkLeft[],
	bench: Bench,
	now: Instant,
	seconds: number,
	stop: Stop
): Promise<DayPlan> {
	const request = dayRequest(work, bench, now);
	const schedule = await planUntil(request.request, seconds, stop);
	return dayPlan(work, request, schedule, bench, now);
}

/** A plan that is searched for so long, or until it is asked to end: then the best so far. Others are heard meanwhile. */
export function planUntil(request: ScheduleRequest, seconds: number, stop: Stop): Promise<Schedule> {
	const since = performance.now();
	const used = () => (stop.asked || seconds === 0 ? 1 : (performance.now() - since) / (1000 * seconds));
	return inTurns(planBench(request, { used }));
}

/** Days of the lanes, from today on. */
const DAY_LANES = 6;
export const lastLane = (now: Instant): Instant => now + DAY_LANES * DAY_MS;
