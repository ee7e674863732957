import { gateStates } from '$lib/core/bench/gates';
import { lifeOf } from '$lib/core/tickets/life';
import { type State } from '$lib/core/tickets/states';
import type { Ticket } from '$lib/core/tickets/ticket-record';
import { waitsNow } from '$lib/core/tickets/waits';
import type { Catalog } from '$lib/core/catalog/catalog';
import type { Wait } from '$lib/core/tickets/ticket-entries';
import type { Database } from '../database/connection';
import { shopCatalog } from '../memory/shop-memory';
import { searchTickets } from './queries';

/** Where a ticket stands, for who asks at the counter or over the telephone. No cost of anything. */
export interface Standing {
	number: string;
	model: string;
	customer: string | null;
	serial: string | null;
	state: State;
	since: number | null;
	waits: { for: Wait; until: number | null }[];
	promisedAt: number | null;
	closed: boolean;
	with: string | null;
}

export function standingOf(ticket: Ticket, catalog: Catalog): Standing {
	const { state, since } = lifeOf(ticket, gateStates(ticket, catalog));
	return {
		number: ticket.number,
		model: catalog.models.get(ticket.model)?.label ?? ticket.model,
		customer: ticket.customer?.name ?? null,
		serial: ticket.serial,
		state,
		since,
		waits: waitsNow(ticket).map((wait) => ({ for: wait.for, until: wait.until ?? null })),
		promisedAt: ticket.promisedAt,
		closed: ticket.closedAt !== null,
		with: catalog.technicians.get(ticket.assignedTo ?? '')?.name ?? ticket.assignedTo
	};
}

const SHOWN = 8;

/** Tickets by number, name, telephone or serial as typed: those that are here first. */
export async function findStanding(db: Database, text: string): Promise<Standing[]> {
	const [catalog, open, closed] = await Promise.all([
		shopCatalog(db),
		searchTickets(db, { text, state: 'open' }, SHOWN),
		searchTickets(db, { text, state: 'closed' }, SHOWN)
	]);
	return [...open, ...closed].slice(0, SHOWN).map(({ ticket }) => standingOf(ticket, catalog));
}
