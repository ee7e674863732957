import { agreedOperations } from '$lib/core/tickets/agreed';
import { reservedOf } from '$lib/core/stock/reserved';
import { waitsNow } from '$lib/core/tickets/waits';
import { catalogNow } from '../catalog/queries';
import type { Database } from '../database/connection';
import type { Actor } from './actor';
import { changeTicket } from './change-ticket';
import { selectTickets, toStoredTicket, type TicketRow } from './rows';

/**
 * Tickets that wait for a part go on when pieces of it come in: those whose agreed work, or confirmed faults, need it. A ticket
 * of which nothing of the kind is known keeps waiting: somebody has to say.
 * @returns numbers of the tickets that wait no more
 */
export async function endPartWaits(db: Database, actor: Actor, now: number, sku: string): Promise<string[]> {
	const catalog = await catalogNow(db);
	const rows = (await selectTickets(db)
		.whereNull('tickets.closed_at')
		.whereNotNull('tickets.waiting_for')) as TicketRow[];
	const ended: string[] = [];
	for (const row of rows) {
		const { ticket, version } = toStoredTicket(row);
		if (!waitsNow(ticket).some((wait) => wait.for === 'part')) continue;
		const job = {
			operations: agreedOperations(ticket),
			faults: ticket.faults ?? [],
			parts: ticket.parts
		};
		if (!reservedOf([job], catalog).has(sku)) continue;
		const answer = await changeTicket(db, actor, now, ticket.number, {
			version,
			once: crypto.randomUUID(),
			change: { verb: 'end-wait', for: 'part' }
		});
		if (answer.ok) ended.push(ticket.number);
	}
	return ended;
}
