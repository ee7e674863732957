import { withoutSimulated } from '$lib/core/diagnosis/learn/evidence';
import { findSignatures, judgeForSignatures, type Signature } from '$lib/core/readings/signatures';
import { ticketFromRecord, type Ticket } from '$lib/core/tickets/ticket-record';
import { beforeRepair, PORT_OFF } from '$lib/core/units/stage';
import type { Database } from '../database/connection';
import { asJson } from '../database/json';
import type { ShopMemory } from '../memory/shop-memory';

export interface ModelSignatures {
	/** contact by contact, from this model's own tickets */
	contacts: Signature[];
	/** net by net, from the tickets of every model with this connector */
	nets: Signature[];
	/** closed tickets with readings behind each */
	ownTickets: number;
	allTickets: number;
}

/** The newest so many tickets are searched: the board's habits, not its history. */
const MOST_TICKETS = 3000;

/** The last search of each model, with the counters that it was made at: made anew when the shop has moved on. */
const searched = new WeakMap<Database, Map<string, { at: string; found: ModelSignatures }>>();

export async function signaturesOf(
	db: Database,
	memory: ShopMemory,
	model: string
): Promise<ModelSignatures> {
	const at = JSON.stringify(memory.counters);
	const cached = searched.get(db) ?? new Map<string, { at: string; found: ModelSignatures }>();
	searched.set(db, cached);
	const previous = cached.get(model);
	if (previous?.at === at) return previous.found;
	const found = await search(db, memory, model);
	cached.set(model, { at, found });
	return found;
}

async function search(db: Database, memory: ShopMemory, model: string): Promise<ModelSignatures> {
	const connector = memory.catalog.models.get(model)?.connector;
	const alike = [...memory.catalog.models.values()].filter((candidate) => candidate.connector === connector);
	if (!connector) return { contacts: [], nets: [], ownTickets: 0, allTickets: 0 };
	const rows = await db('tickets')
		.whereIn(
			'model',
			alike.map(({ code }) => code)
		)
		.whereNotNull('closed_at')
		.whereRaw("JSON_CONTAINS_PATH(record, 'all', '$.readings', '$.faults')")
		.orderBy('id', 'desc')
		.limit(MOST_TICKETS)
		.select('record');
	const tickets = rows.map(({ record }) => ticketFromRecord(asJson(record)));
	const { connectors } = memory.catalog;
	const judged = tickets.map((ticket) => ({
		model: ticket.model,
		...judgeForSignatures(
			{ faults: ticket.faults ?? [], readings: earlyDiode(ticket) },
			connectors.get(connector) ?? null,
			memory.shelf.book(ticket.model)
		)
	}));
	const modelContacts = judged.filter((ticket) => ticket.model === model).map(({ contacts }) => contacts);
	return {
		contacts: findSignatures(modelContacts),
		nets: findSignatures(judged.map(({ nets }) => nets)),
		ownTickets: modelContacts.length,
		allTickets: judged.length
	};
}

const earlyDiode = (ticket: Ticket) =>
	withoutSimulated(ticket).readings.filter(
		({ stage, mode }) => beforeRepair(stage) && stage !== PORT_OFF && mode === 'diode'
	);
