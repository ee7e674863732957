import type { EarlierWork } from '$lib/core/diagnosis/learn/earlier-work';
import type { Ticket } from '$lib/core/tickets/ticket-record';
import type { Database } from '../database/connection';
import { findTicket } from '../tickets/queries';
import { DAY_MS, type Instant } from '$lib/core/units/instant';

/** The ticket that a device comes back from; null where none is named, or it is not there. */
export const ticketBefore = async (db: Database, number: string | undefined): Promise<Ticket | null> =>
	number === undefined ? null : ((await findTicket(db, number))?.ticket ?? null);

/** What was done on the ticket that a device comes back from, in order, and how long ago. */
export function earlierWork({ attempts, closedAt, openedAt }: Ticket, now: Instant): EarlierWork[] {
	return attempts
		.filter(({ part }) => !part)
		.map(({ operation, resolved, at }) => ({
			operation,
			resolved,
			days: Math.max(0, (now - (closedAt ?? at ?? openedAt)) / DAY_MS)
		}));
}
