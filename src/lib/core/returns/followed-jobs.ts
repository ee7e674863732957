import { DAY_MS, type Instant } from '../units/instant';

/** A ticket as comebacks are told from it. */
export interface ReturnTicket {
	number: string;
	model: string;
	outcome: string | null;
	openedAt: Instant;
	closedAt: Instant | null;
	comebackOf: string | null;
	/** why it came back; null where nobody said */
	cause: string | null;
	operations: readonly string[];
	technicians: readonly string[];
	parts: readonly string[];
	lots: readonly string[];
	sources: readonly string[];
}

/** What jobs are told apart by. A job counts for each of its operations, technicians, parts, lots and sources. */
export const RETURN_KINDS = ['operation', 'part', 'lot', 'source', 'technician', 'model'] as const;
export type ReturnKind = (typeof RETURN_KINDS)[number];

/** A job that was closed as fixed, followed until its device came back or until a moment. */
export interface FollowedJob {
	number: string;
	closedAt: Instant;
	/** days that it was followed, fractions kept */
	time: number;
	/** it came back after so long */
	event: boolean;
	/** the ticket on which it came back */
	back: { number: string; at: Instant } | null;
	levels: Readonly<Record<ReturnKind, readonly string[]>>;
}

/**
 * Jobs at risk at a moment, in the order of their closing: fixed and closed before it. A job's event is the earliest-opened ticket that
 * names it, opened before the moment and not before the job was closed, whose cause (if any) speaks against the work.
 * @param counts whether a comeback of a cause counts
 */
export function followedJobs(
	tickets: readonly ReturnTicket[],
	asOf: Instant,
	counts: (cause: string) => boolean
): FollowedJob[] {
	const closed = new Map<string, Instant>();
	for (const { number, outcome, closedAt } of tickets) {
		if (outcome === 'fixed' && closedAt !== null && closedAt < asOf) closed.set(number, closedAt);
	}
	const back = new Map<string, { number: string; at: Instant }>();
	for (const { number, comebackOf, openedAt, cause } of tickets) {
		const since = comebackOf === null ? undefined : closed.get(comebackOf);
		if (comebackOf === null || since === undefined || openedAt >= asOf || openedAt < since) continue;
		if (cause !== null && !counts(cause)) continue;
		const known = back.get(comebackOf);
		const earlier = !known || openedAt < known.at || (openedAt === known.at && number < known.number);
		if (earlier) back.set(comebackOf, { number, at: openedAt });
	}
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
		model: [ticket.model]
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
