import { verdictsAlone } from '$lib/core/readings/compare';
import { withoutSimulated } from '$lib/core/diagnosis/evidence';
import { findSignatures, type JudgedTicket, type Signature } from '$lib/core/readings/signatures';
import type { Verdict } from '$lib/core/readings/verdict';
import {
	beforeRepair,
	ticketFromRecord,
	withAllLists,
	type Ticket,
	type TicketRecord
} from '$lib/core/tickets/ticket-record';
import type { Database } from '../database/connection';
import { asJson } from '../database/json';
import type { ShopMemory } from '../diagnosis/shop-memory';

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
	const known = searched.get(db) ?? new Map<string, { at: string; found: ModelSignatures }>();
	searched.set(db, known);
	const before = known.get(model);
	if (before?.at === at) return before.found;
	const found = await search(db, memory, model);
	known.set(model, { at, found });
	return found;
}

async function search(db: Database, memory: ShopMemory, model: string): Promise<ModelSignatures> {
	const connector = memory.catalog.models.get(model)?.connector;
	const alike = [...memory.catalog.models.values()].filter((other) => other.connector === connector);
	if (!connector) return { contacts: [], nets: [], ownTickets: 0, allTickets: 0 };
	const rows = (await db('tickets')
		.whereIn(
			'model',
			alike.map(({ code }) => code)
		)
		.whereNotNull('closed_at')
		.whereRaw("JSON_CONTAINS_PATH(record, 'all', '$.readings', '$.faults')")
		.orderBy('id', 'desc')
		.limit(MOST_TICKETS)
		.select('record')) as { record: unknown }[];
	const tickets = rows.map(({ record }) => ticketFromRecord(withAllLists(asJson(record) as TicketRecord)));
	const judged = tickets.map((ticket) => ({ model: ticket.model, ...judge(ticket, memory) }));
	const own = judged.filter((ticket) => ticket.model === model).map(({ contacts }) => contacts);
	return {
		contacts: findSignatures(own),
		nets: findSignatures(judged.map(({ nets }) => nets)),
		ownTickets: own.length,
		allTickets: judged.length
	};
}

const SEVERITY: readonly Verdict[] = ['agrees', 'high', 'low', 'open', 'short'];

function judge(
	ticket: Ticket,
	{ catalog, shelf }: ShopMemory
): { contacts: JudgedTicket; nets: JudgedTicket } {
	const connector = catalog.connectors.get(catalog.models.get(ticket.model)?.connector ?? '');
	const { readings } = withoutSimulated(ticket);
	const early = readings.filter(({ stage, mode }) => beforeRepair(stage) && mode === 'diode');
	const contacts = new Map<string, Verdict>();
	const nets = new Map<string, Verdict>();
	if (connector) {
		const { pins, nets: agreement } = verdictsAlone(connector, early, shelf.book(ticket.model));
		for (const { pin, net, verdict, overload } of pins) {
			const said = agreement.find((item) => item.net === net);
			// with no reference, contacts that the board joins judge each other
			const joined = pins.filter((other) => other.net === net).length > 1;
			const shown =
				verdict !== 'no-reference'
					? verdict
					: said?.dissenting.includes(pin) && overload
						? 'open'
						: joined && said?.agree
							? 'agrees'
							: null;
			if (shown === null) continue;
			contacts.set(pin, shown);
			const worst = nets.get(net) ?? 'agrees';
			nets.set(net, SEVERITY.indexOf(shown) > SEVERITY.indexOf(worst) ? shown : worst);
		}
	}
	const faults = ticket.faults ?? [];
	return { contacts: { faults, verdicts: contacts }, nets: { faults, verdicts: nets } };
}
