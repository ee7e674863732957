import { firstComebacks, type CameBackOn, type Causes, type ReturnVisit } from '../comebacks/what-counts';
import { DAY_MS, type Instant } from '../units/instant';

/** A ticket as comebacks are told from it. */
export interface ReturnTicket extends ReturnVisit {
	model: string;
	outcome: string | null;
	closedAt: Instant | null;
	operations: readonly string[];
	technicians: readonly string[];
	parts: readonly string[];
	lots: readonly string[];
	sources: readonly string[];
	/** procedures that were followed */
	methods: readonly string[];
	suppliers: readonly string[];
	/** of its closing, by the shop's calendar: 2026-03 */
	month: string | null;
}

/** What jobs are told apart by. A job counts for each of its operations, technicians, parts, lots, sources and procedures. */
export const RETURN_KINDS = ['operation', 'part', 'lot', 'source', 'technician', 'model', 'method'] as const;
export type ReturnKind = (typeof RETURN_KINDS)[number];
/** What has rates, but explains nothing beside the others: a supplier is his lots, a month its jobs. */
export const RATE_KINDS = [...RETURN_KINDS, 'supplier', 'month'] as const;
export type RateKind = (typeof RATE_KINDS)[number];

/** A job that was closed as fixed, followed until its device came back or until a moment. */
export interface FollowedJob {
	number: string;
	closedAt: Instant;
	/** days that it was followed, fractions kept */
	time: number;
	/** it came back after so long */
	event: boolean;
	/** the ticket on which it came back */
	back: CameBackOn | null;
	levels: Readonly<Record<RateKind, readonly string[]>>;
}

/**
 * Jobs at risk at a moment, in the order of their closing: fixed and closed before it. A job's event is the earliest-opened ticket that
 * names it, opened before the moment and not before the job was closed, whose cause (if any) speaks against the work.
 */
export function followedJobs(tickets: readonly ReturnTicket[], asOf: Instant, causes: Causes): FollowedJob[] {
	const closed = new Map<string, Instant>();
	for (const { number, outcome, closedAt } of tickets) {
		if (outcome === 'fixed' && closedAt !== null && closedAt < asOf) closed.set(number, closedAt);
	}
	const back = firstComebacks(tickets, closed, asOf, causes);
	return tickets
		.filter(({ number }) => closed.has(number))
		.map((ticket) =>
			followed(ticket, closed.get(ticket.number) as Instant, back.get(ticket.number) ?? null, asOf)
		)
		.sort((a, b) => a.closedAt - b.closedAt || (a.number < b.number ? -1 : 1));
}

const followed = (
	ticket: ReturnTicket,
	closedAt: Instant,
	back: FollowedJob['back'],
	asOf: Instant
): FollowedJob => ({
	number: ticket.number,
	closedAt,
	time: ((back?.at ?? asOf) - closedAt) / DAY_MS,
	event: back !== null,
	back,
	levels: {
		operation: ticket.operations,
		part: ticket.parts,
		lot: ticket.lots,
		source: ticket.sources,
		technician: ticket.technicians,
		model: [ticket.model],
		method: ticket.methods,
		supplier: ticket.suppliers,
		month: ticket.month === null ? [] : [ticket.month]
	}
});

/** The same jobs as they were known at an earlier moment: what came back later has not yet, what was closed later is not there. */
export function knownAt(jobs: readonly FollowedJob[], moment: Instant): FollowedJob[] {
	return jobs.flatMap((job): FollowedJob[] => {
		if (job.closedAt >= moment) return [];
		const event = job.back !== null && job.back.at < moment;
		const until = event ? (job.back?.at ?? moment) : moment;
		return [{ ...job, event, back: event ? job.back : null, time: (until - job.closedAt) / DAY_MS }];
	});
}
