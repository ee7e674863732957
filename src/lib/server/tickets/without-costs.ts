import type { Ticket } from '$lib/core/tickets/ticket-record';
import { seesCosts, type Role } from '$lib/core/units/role';

/** The ticket as a role may see it: what parts and hours cost stays with the manager. */
export function withoutCosts(ticket: Ticket, role: Role): Ticket {
	if (seesCosts(role)) return ticket;
	return {
		...ticket,
		parts: ticket.parts.map(({ unitCostMinor: _, ...part }) => part),
		attempts: ticket.attempts.map(({ hourlyCostMinor: _, ...attempt }) => attempt)
	};
}
