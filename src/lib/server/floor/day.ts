import { dayPlan, dayRequest, type Bench, type DayPlan } from '$lib/core/bench/day/plan-day';
import { freeSpans, openSpans, type Span } from '$lib/core/bench/day/free-time';
import type { WorkLeft } from '$lib/core/bench/day/work-left';
import type { Schedule, ScheduleRequest } from '$lib/core/bench/schedule/problem';
import type { Catalog } from '$lib/core/catalog/catalog';
import { DAY_MS, MINUTE_MS, type Instant } from '$lib/core/units/instant';
import type { Database } from '../database/connection';
import { shopMemory, type ShopMemory } from '../memory/shop-memory';
import { advisedTickets, type Advised } from './advised';
import { handsOf, workLeft, type Hands } from './work';

/** How a plan is made: in its turn, off the thread that answers pages. Null where too many wait. */
export type Planner = (request: ScheduleRequest, seconds: number) => Promise<Schedule | null>;

/** So many days are planned ahead: two weeks, so that what is promised late is planned too. */
export const DAYS_PLANNED = 15;
/** A plan is searched for so long, seconds; the first is made by rules of thumb at once. Choices. */
const SECONDS = 2;
/** A plan that is older is made anew: time goes on. */
const OLD_MS = 3 * MINUTE_MS;

export interface House {
	memory: ShopMemory;
	advised: Advised[];
	hands: Hands;
	work: WorkLeft[];
	bench: Bench;
	plan: DayPlan;
	/** a better plan is being looked for */
	improving: boolean;
}

interface Kept {
	key: string;
	plan: DayPlan;
	improving: boolean;
}
/** The last plan, per pool; compared with the versions of all that it was made from. */
const plans = new WeakMap<Database, Kept>();

export const benchOf = (catalog: Catalog, now: Instant): Bench => ({
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

/** Everything that is in the house with its plan. What changed is planned by rules of thumb at once, and searched for behind it. */
export async function houseNow(db: Database, now: Instant, planner: Planner): Promise<House> {
	const memory = await shopMemory(db);
	const advised = await advisedTickets(db, memory);
	const { catalog } = memory;
	const hands = handsOf(catalog, memory.past);
	const work = advised.flatMap(({ ticket, plan }) => workLeft(hands, ticket, plan, now) ?? []);
	const bench = benchOf(catalog, now);
	const key = [
		memory.counters.catalog,
		...advised.map(({ ticket, version }) => `${ticket.number}.${version}`)
	].join(' ');
	const before = plans.get(db);
	const fresh = before?.key === key && now - before.plan.now < OLD_MS && now >= before.plan.now;
	if (fresh && before)
		return { memory, advised, hands, work, bench, plan: before.plan, improving: before.improving };
	const plan = await planned(work, bench, now, planner, 0);
	const made: Kept = { key, plan: plan ?? emptyPlan(now), improving: true };
	plans.set(db, made);
	void planned(work, bench, now, planner, SECONDS)
		.then((better) => {
			if (better && plans.get(db) === made) plans.set(db, { ...made, plan: better, improving: false });
			else made.improving = false;
		})
		// the next look plans anew, and says what is wrong where that fails too
		.catch(() => plans.delete(db));
	return { memory, advised, hands, work, bench, plan: made.plan, improving: true };
}

const emptyPlan = (now: Instant): DayPlan => ({ now, tasks: [], jobs: [] });

async function planned(
	work: readonly WorkLeft[],
	bench: Bench,
	now: Instant,
	planner: Planner,
	seconds: number
): Promise<DayPlan | null> {
	const asked = dayRequest(work, bench, now);
	const schedule = await planner(asked.request, seconds);
	return schedule && dayPlan(work, asked, schedule, bench, now);
}

/** Days of the lanes, from today on. */
export const DAY_LANES = 6;
export const lastLane = (now: Instant): Instant => now + DAY_LANES * DAY_MS;
