import type { Knex } from 'knex';
import { heatOnBoard } from '$lib/core/bench/heat';
import type { Customer, Ticket } from '$lib/core/tickets/ticket-record';
import { CODE_PATTERN, isTicketNumber } from '$lib/core/units/code';
import { beginsWith } from '../database/begins-with';
import type { Queryable } from '../database/connection';
import type { Row, Sum } from '../database/tables';
import { selectTickets, toStoredTicket, type StoredTicket, type TicketRow } from './rows';

export async function findTicket(db: Queryable, number: string): Promise<StoredTicket | null> {
	if (!isTicketNumber(number)) return null;
	const row = await selectTickets(db).where('tickets.number', number).first();
	return row ? toStoredTicket(row) : null;
}

/** So many open tickets are looked at together at most. */
const MOST_OPEN = 500;

/** Open tickets, earliest promise first; some of them where numbers are named. */
export async function openTickets(db: Queryable, numbers?: readonly string[]): Promise<StoredTicket[]> {
	const query = selectTickets(db)
		.whereNull('tickets.closed_at')
		.orderByRaw('tickets.promised_at IS NULL, tickets.promised_at, tickets.id')
		.limit(MOST_OPEN);
	if (numbers) query.whereIn('tickets.number', numbers as string[]);
	return (await query).map(toStoredTicket);
}

/** Numbers and versions of the open tickets, in the same order: what changed is seen without reading any. */
export const openVersions = (db: Queryable): Promise<{ number: string; version: number }[]> =>
	db('tickets')
		.whereNull('closed_at')
		.orderByRaw('promised_at IS NULL, promised_at, id')
		.limit(MOST_OPEN)
		.select('number', 'version');

export interface TicketFilter {
	text?: string;
	state?: 'open' | 'closed' | 'all';
	model?: string;
	before?: number;
}

export const PAGE_SIZE = 50;
const ASCII = /^[\x20-\x7e]*$/;

/** Tickets, newest first, by number, serial, model, telephone or customer as typed; 50 a page, by opening time. */
export async function searchTickets(
	db: Queryable,
	filter: TicketFilter,
	limit = PAGE_SIZE
): Promise<StoredTicket[]> {
	const query = selectTickets(db)
		.orderBy('tickets.opened_at', 'desc')
		.orderBy('tickets.id', 'desc')
		.limit(limit);
	if (filter.state === 'open') query.whereNull('tickets.closed_at');
	if (filter.state === 'closed') query.whereNotNull('tickets.closed_at');
	if (filter.model) query.where('tickets.model', CODE_PATTERN.test(filter.model) ? filter.model : '');
	if (filter.before) query.where('tickets.opened_at', '<', new Date(filter.before));
	if (filter.text) {
		const pattern = beginsWith(filter.text);
		query.where((either) => {
			either
				.where('tickets.serial', 'like', pattern)
				.orWhere('customers.name', 'like', `%${pattern}`)
				.orWhere('customers.phone', 'like', pattern);
			// numbers and models are ASCII: the database does not compare them with any other letter
			if (ASCII.test(filter.text ?? '')) {
				either.orWhere('tickets.number', 'like', pattern).orWhere('tickets.model', 'like', pattern);
			}
		});
	}
	return (await query).map(toStoredTicket);
}

/** Open tickets with a wait that ends by itself, the next to end first: what is called out wherever people are. */
export async function timedWaits(db: Queryable): Promise<StoredTicket[]> {
	const rows = await selectTickets(db)
		.whereNotNull('tickets.wait_until')
		.orderBy('tickets.wait_until')
		.limit(200);
	return rows.map(toStoredTicket);
}

/** The ticket that a scanned or typed text means: its number, with or without prefix and zeros. */
export async function resolveNumber(db: Queryable, typed: string): Promise<string | null> {
	const text = typed.trim();
	if (!/^[A-Za-z0-9._-]{1,32}$/.test(text)) return null;
	const tries = [text, text.toUpperCase()];
	if (/^\d{1,9}$/.test(text)) tries.push(`K-${text.padStart(5, '0')}`);
	const rows = await db('tickets').whereIn('number', tries).limit(1).select('number');
	return rows[0]?.number ?? null;
}

export interface CustomerMatch {
	name: string;
	kind: 'private' | 'trade';
	phone: string;
	email: string;
	/** how they agreed to hear; nothing where they did not say */
	hears: '' | NonNullable<Customer['hears_by']>;
	tickets: number;
}

/** Customers whose name or phone begins as typed, those with the most tickets first. */
export async function matchCustomers(db: Queryable, typed: string): Promise<CustomerMatch[]> {
	const pattern = beginsWith(typed);
	const rows = await db('customers')
		.leftJoin('tickets', 'tickets.customer_id', 'customers.id')
		.where((either) =>
			either
				.where('customers.name', 'like', pattern)
				.orWhere('customers.name', 'like', `% ${pattern}`)
				.orWhere('customers.phone', 'like', pattern)
		)
		.whereNull('customers.erased_at')
		.groupBy(
			'customers.id',
			'customers.name',
			'customers.kind',
			'customers.phone',
			'customers.email',
			'customers.hears_by'
		)
		.select<(Pick<Row<'customers'>, 'name' | 'kind' | 'phone' | 'email' | 'hears_by'> & { tickets: Sum })[]>(
			'customers.name',
			'customers.kind',
			'customers.phone',
			'customers.email',
			'customers.hears_by',
			db.raw('COUNT(tickets.id) AS tickets')
		)
		.orderBy('tickets', 'desc')
		.limit(8);
	return rows.map(({ hears_by, ...row }) => ({
		...row,
		hears: hears_by ?? '',
		phone: row.phone ?? '',
		email: row.email ?? '',
		tickets: Number(row.tickets)
	}));
}

export interface EarlierVisit {
	number: string;
	model: string;
	serial: string | null;
	closedAt: number | null;
	outcome: Ticket['outcome'];
	faults: string[];
	why: 'serial' | 'customer' | 'receipt';
	/** heat that this very board had then; 0 where it may be another device */
	heatSeconds: number;
	ticket: Ticket;
}

const SHOWN_VISITS = 6;

/** Earlier tickets of the same serial number, or of the same customer and model: what may come back. */
export async function earlierVisits(
	db: Queryable,
	device: { number?: string; serial: string | null; customer: string | null; model: string | null }
): Promise<EarlierVisit[]> {
	const latest = (narrow: (query: Knex.QueryBuilder) => Knex.QueryBuilder) =>
		narrow(selectTickets(db))
			.andWhereNot('tickets.number', device.number ?? '')
			.orderBy('tickets.opened_at', 'desc')
			.limit(SHOWN_VISITS) as Promise<TicketRow[]>;
	// one query per index: joined by OR they would read every ticket
	const bySerial = device.serial ? await latest((query) => query.where('tickets.serial', device.serial)) : [];
	const byReceipt =
		device.serial && isTicketNumber(device.serial)
			? await latest((query) => query.where('tickets.number', device.serial))
			: [];
	const byCustomer = device.customer ? await visitsOfCustomer(db, device.customer, device.model, latest) : [];
	const seen = new Map([...byCustomer, ...bySerial, ...byReceipt].map((row) => [row.number, row]));
	return [...seen.values()]
		.map(toStoredTicket)
		.sort((a, b) => b.ticket.openedAt - a.ticket.openedAt)
		.slice(0, SHOWN_VISITS)
		.map(({ ticket }) => ({
			number: ticket.number,
			model: ticket.model,
			serial: ticket.serial,
			closedAt: ticket.closedAt,
			outcome: ticket.outcome,
			faults: ticket.faults ?? [],
			ticket,
			...sameDevice(ticket, device.serial)
		}));
}

function sameDevice(ticket: Ticket, serial: string | null): Pick<EarlierVisit, 'why' | 'heatSeconds'> {
	if (serial && ticket.number === serial) return { why: 'receipt', heatSeconds: 0 };
	if (!serial || ticket.serial !== serial) return { why: 'customer', heatSeconds: 0 };
	return { why: 'serial', heatSeconds: heatOnBoard(ticket.heat, ticket.closedAt ?? 0).seconds };
}

/** Tickets on which a device came back from one, with the cause where it was found, in the order of their opening. */
export const comebacksOf = (
	db: Queryable,
	number: string
): Promise<{ number: string; cause: string | null }[]> =>
	db('tickets')
		.where({ comeback_of: number })
		.orderBy(['opened_at', 'id'])
		.limit(SHOWN_VISITS)
		.select('number', 'cause');

async function visitsOfCustomer(
	db: Queryable,
	name: string,
	model: string | null,
	latest: (narrow: (query: Knex.QueryBuilder) => Knex.QueryBuilder) => Promise<TicketRow[]>
): Promise<TicketRow[]> {
	const ids = await db('customers').where({ name }).limit(50).pluck('id');
	if (ids.length === 0) return [];
	return latest((query) => {
		const matching = query.whereIn('tickets.customer_id', ids);
		return model && CODE_PATTERN.test(model) ? matching.andWhere('tickets.model', model) : matching;
	});
}

/** The ticket that a device comes back from; null where none is named, or it is not there. */
export const ticketBefore = async (db: Queryable, number: string | undefined): Promise<Ticket | null> =>
	number === undefined ? null : ((await findTicket(db, number))?.ticket ?? null);
