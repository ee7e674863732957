import type { EarlierWork } from '$lib/core/diagnosis/learn/earlier-work';
import type { Ticket } from '$lib/core/tickets/ticket-record';
import { DAY_MS, type Instant } from '$lib/core/units/instant';

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
