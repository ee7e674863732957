import type { Instant } from '../units/instant';
import type { Wait } from './ticket-entries';
import type { Ticket, Waiting } from './ticket-record';

/** What is still waited for, longest first. */
export const waitsNow = ({ waits }: Pick<Ticket, 'waits'>): Waiting[] =>
	waits.filter(({ endedAt }) => endedAt === undefined);

/** When the first of its waits ends by itself; null where none does, or the ticket is closed. */
export function nextEndOf(ticket: Pick<Ticket, 'waits' | 'closedAt'>): Instant | null {
	const ends = ticket.closedAt === null ? waitsNow(ticket).flatMap(({ until }) => until ?? []) : [];
	return ends.length === 0 ? null : Math.min(...ends);
}

/** All that a ticket waits for: what was named, and the customer's answer to a price. Nothing once it is closed. */
export function waitsOf(ticket: Pick<Ticket, 'waits' | 'closedAt' | 'quotedMinor' | 'accepted'>): Wait[] {
	if (ticket.closedAt !== null) return [];
	const unanswered = ticket.quotedMinor !== null && ticket.accepted === null;
	return [
		...new Set([...waitsNow(ticket).map((wait) => wait.for), ...(unanswered ? ['customer' as const] : [])])
	];
}
