import type { Ticket } from './ticket-record';

/** What is waited for, noted and planned says nothing of the device. */
const SAYS_NOTHING: ReadonlySet<string> = new Set<keyof Ticket>([
	'notes',
	'waits',
	'running',
	'assignedTo',
	'promisedAt',
	'traces'
]);

/**
 * What a shop learns of a ticket, as a text: while it stays the same, nothing has to be learnt anew. Closed tickets teach all
 * that was seen, measured, done and paid; an open one only how its price was answered.
 * @returns null where it teaches nothing yet
 */
export function taughtBy(ticket: Ticket): string | null {
	const { model, quotedMinor, accepted } = ticket;
	if (ticket.closedAt === null)
		return accepted === null ? null : JSON.stringify([model, quotedMinor, accepted]);
	return JSON.stringify(Object.entries(ticket).filter(([field]) => !SAYS_NOTHING.has(field)));
}
