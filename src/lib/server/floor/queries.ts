import type { DayJob, DayTask } from '$lib/core/bench/day/plan-day';
import type { Span } from '$lib/core/bench/day/free-time';
import { promiseSlack, type Urgency } from '$lib/core/bench/promise';
import { gateStates } from '$lib/core/bench/gates';
import { lifeOf } from '$lib/core/tickets/life';
import { type State } from '$lib/core/tickets/states';
import type { Wait } from '$lib/core/tickets/ticket-entries';
import { waitsNow, waitsOf } from '$lib/core/tickets/waits';
import type { Instant } from '$lib/core/units/instant';
import type { Database } from '../database/connection';
import { NEVER, type Stop } from '../database/in-turns';
import type { Advised } from './advised';
import { houseNow, lastLane, type House } from './day';
import { promisesKept, type PromiseScore } from './promises-kept';

export interface Tag {
	number: string;
	version: number;
	model: string;
	customer: string | null;
	openedAt: Instant;
	promisedAt: number | null;
	/** between the promise and the end that is planned; below nothing where the plan is late */
	slackMs: number | null;
	urgency: Urgency;
	/** why the plan is late, in words with moments as {milliseconds} */
	why: string | null;
	ends: Instant | null;
	assignedTo: string | null;
	state: State;
	/** what it waits for, and until when; nothing where hands can go on */
	waits: { for: Wait; until: Instant | null }[];
	/** those of them that were set by name and can be ended */
	named: Wait[];
	/** the planner's next step and the hands-on minutes expected to the end */
	next: string | null;
	minutes: number;
	likely: { label: string; probability: number } | null;
	comeback: boolean;
	running: boolean;
	pinned: boolean;
	/** when anything was done on it last */
	touchedAt: Instant;
}

export interface FloorView {
	tags: Tag[];
	technicians: { code: string; name: string; skills: string[]; free: Span[] }[];
	/** tasks of the days that are shown */
	tasks: DayTask[];
	improving: boolean;
	kept: PromiseScore[];
	now: Instant;
}

/** Every open ticket as its tag, earliest promise first, who works here, and the plan of the days ahead. No costs. */
export async function floorView(db: Database, now: Instant, stop: Stop = NEVER): Promise<FloorView> {
	const house = await houseNow(db, now, stop);
	const jobs = new Map(house.plan.jobs.map((job) => [job.number, job]));
	const { catalog } = house.memory;
	const until = lastLane(now);
	return {
		tags: house.advised.map((advised) => tagOf(advised, jobs.get(advised.ticket.number), house, now)),
		technicians: [...catalog.technicians.values()].map(({ code, name, skills }) => ({
			code,
			name,
			skills: skills ?? [],
			free: (house.bench.technicians.find((person) => person.code === code)?.free ?? []).filter(
				([from]) => from < until
			)
		})),
		tasks: house.plan.tasks.filter(({ start }) => start < until),
		improving: house.improving,
		kept: await promisesKept(db, now, catalog.shop.timeZone),
		now
	};
}

function tagOf(
	{ ticket, version, plan, likely }: Advised,
	job: DayJob | undefined,
	{ memory: { catalog } }: House,
	now: Instant
): Tag {
	// what its customer declined is not worked on: it is handed back, or offered anew
	const [first] = ticket.accepted === false ? [] : plan.next;
	const minutes = first?.expectedMinutes ?? 0;
	const named = waitsNow(ticket);
	return {
		number: ticket.number,
		version,
		model: catalog.models.get(ticket.model)?.label ?? ticket.model,
		customer: ticket.customer?.name ?? null,
		openedAt: ticket.openedAt,
		promisedAt: ticket.promisedAt,
		...slackOf(ticket.promisedAt, job, now, minutes),
		why: job?.why ?? null,
		ends: job?.ends ?? null,
		assignedTo: ticket.assignedTo,
		state: lifeOf(ticket, gateStates(ticket, catalog)).state,
		waits: waitsOf(ticket).map((waitFor) => ({
			for: waitFor,
			until: named.find((wait) => wait.for === waitFor)?.until ?? null
		})),
		named: named.map((wait) => wait.for),
		next: first?.label ?? null,
		minutes: Math.round(minutes),
		likely,
		comeback: ticket.comebackOf !== null,
		running: ticket.running.length > 0,
		pinned: ticket.pinned !== undefined,
		touchedAt: touchedAt(ticket)
	};
}

/** Late means that the plan is late, with the queue before it; what is not planned is judged by its own minutes. */
function slackOf(
	promisedAt: Instant | null,
	job: DayJob | undefined,
	now: Instant,
	minutes: number
): { slackMs: number | null; urgency: Urgency } {
	if (promisedAt === null || !job || job.ends === null) return promiseSlack(promisedAt, now, minutes);
	return promiseSlack(promisedAt, job.ends);
}

const LISTS = [
	'observations',
	'meter',
	'readings',
	'path',
	'attempts',
	'gates',
	'notes',
	'dealings',
	'steps',
	'waits'
] as const;
function touchedAt(ticket: Advised['ticket']): Instant {
	const at = (entry: { at?: number | undefined } | undefined) => entry?.at ?? 0;
	return Math.max(ticket.openedAt, ...LISTS.map((list) => at(ticket[list].at(-1))));
}
