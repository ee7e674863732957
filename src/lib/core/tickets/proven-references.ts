import type { ReferenceRecord } from '../readings/reference';
import { formatInstant } from '../units/instant';
import type { Ticket } from './ticket-record';

/**
 * Known-good readings that a ticket brings when it closes as fixed, which it can only with every gate
 * passed: what was read at stage "closing", verified. Earlier stages saw a faulty board and bring none.
 */
export function provenReferences(ticket: Ticket): ReferenceRecord[] {
	if (ticket.outcome !== 'fixed' || ticket.closedAt === null) return [];
	return ticket.readings
		.filter(({ stage }) => stage === 'closing')
		.map(({ pin, mode, value, overload, at }) => ({
			record: 'reference',
			model: ticket.model,
			pin,
			mode,
			...(overload ? { overload } : { value: value as number }),
			grade: 'verified',
			taken_at: formatInstant(at ?? (ticket.closedAt as number))
		}));
}
