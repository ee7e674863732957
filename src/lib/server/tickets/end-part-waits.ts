import type { Knex } from 'knex';
import { agreedOperations } from '$lib/core/tickets/agreed';
import { reservedOf } from '$lib/core/stock/reserved';
import { waitsNow } from '$lib/core/tickets/waits';
import type { Ticket } from '$lib/core/tickets/ticket-record';
import { catalogNow } from '../catalog/queries';
import type { Actor } from './actor';
import { changeTicketIn } from './change-ticket';
import { selectTickets, toStoredTicket } from './rows';

export interface EndedWaits {
	/** numbers of the tickets that wait no more */
	ended: string[];
	/** those that should not wait any more and do, with the reason */
	refused: { number: string; why: string }[];
}

/**
 * Tickets that wait for a part go on when pieces of it come in, in the transaction in which they come in: those whose agreed work, or
 * confirmed faults, need it. A ticket of which nothing of the kind is known keeps waiting: somebody has to say.
 */
export async function endPartWaits(
	trx: Knex.Transaction,
	actor: Actor,
	now: number,
	sku: string
): Promise<EndedWaits> {
	const catalog = await catalogNow(trx);
	const needs = (ticket: Ticket) =>
		waitsNow(ticket).some((wait) => wait.for === 'part') &&
		reservedOf(
			[{ ...ticket, operations: agreedOperations(ticket), faults: ticket.faults ?? [] }],
			catalog
		).has(sku);
	const rows = await selectTickets(trx).whereNull('tickets.closed_at').whereNotNull('tickets.waiting_for');
	const summary: EndedWaits = { ended: [], refused: [] };
	for (const { ticket } of rows.map(toStoredTicket)) {
		if (!needs(ticket)) continue;
		const reason = await endWait(trx, actor, now, ticket.number, needs);
		if (reason === null) summary.ended.push(ticket.number);
		else if (reason !== '') summary.refused.push({ number: ticket.number, why: reason });
	}
	return summary;
}

/** @returns null where it waits no more by this, the reason where that was refused, '' where it did not wait any more by itself */
async function endWait(
	trx: Knex.Transaction,
	actor: Actor,
	now: number,
	number: string,
	needs: (ticket: Ticket) => boolean
): Promise<string | null> {
	// as it stands now, and held: somebody may just have changed it
	const row = await selectTickets(trx).where('tickets.number', number).forUpdate('tickets').first();
	if (!row) return '';
	const { ticket, version } = toStoredTicket(row);
	if (ticket.closedAt !== null || !needs(ticket)) return '';
	const answer = await changeTicketIn(trx, actor, now, number, {
		version,
		once: crypto.randomUUID(),
		change: { verb: 'end-wait', for: 'part' }
	});
	if (answer.ok) return null;
	return 'refusal' in answer ? answer.refusal.message : 'it could not be changed';
}
