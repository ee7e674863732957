import { pageEnds } from '$lib/core/messages/own-page';
import { ownPath } from '../messages/links';
import type { Catalog } from '$lib/core/catalog/catalog';
import type { Customer } from '$lib/core/tickets/ticket-record';
import { DAY_MS, type Instant } from '$lib/core/units/instant';
import { beginsWith } from '../database/begins-with';
import type { Database, Queryable } from '../database/connection';
import { MONEY_COLUMNS, moneyOf, type MoneyColumns } from '../database/money-columns';
import type { Row, Sum } from '../database/tables';
import { queuedMessages, type QueuedMessage } from '../messages/queries';
import { shopCatalog } from '../memory/shop-memory';
import { selectTickets, toStoredTicket, type TicketRow } from '../tickets/rows';
import { standingOf, type Standing } from '../tickets/where';

export interface CustomerLine extends Customer {
	id: number;
	tickets: number;
	lastAt: number | null;
}

interface LineRow extends Omit<Row<'customers'>, 'digest' | 'erased_at'> {
	tickets: Sum;
	last_at: Date | null;
}

const SHOWN = 50;
const toLine = ({ phone, email, language, hears_by, last_at, ...row }: LineRow): CustomerLine => ({
	id: Number(row.id),
	name: row.name,
	kind: row.kind,
	...(phone ? { phone } : {}),
	...(email ? { email } : {}),
	...(language ? { language } : {}),
	...(hears_by ? { hears_by } : {}),
	tickets: Number(row.tickets),
	lastAt: last_at?.getTime() ?? null
});

const COLUMNS = ['id', 'name', 'kind', 'phone', 'email', 'language', 'hears_by'].map(
	(column) => `customers.${column}`
);
/** Customers with how often, and when last, they were here: counted for those that are read, from an index alone. */
const selectCustomers = (db: Queryable) =>
	db('customers').select<LineRow[]>(
		...COLUMNS,
		db.raw('(SELECT COUNT(*) FROM tickets WHERE tickets.customer_id = customers.id) AS tickets'),
		db.raw('(SELECT MAX(opened_at) FROM tickets WHERE tickets.customer_id = customers.id) AS last_at')
	);

/** Digits of a telephone number, for finding it however it was typed. */
const digitsOf = (text: string) => text.replace(/\D/g, '');

/** Customers by name, telephone (however it is typed) or mail; who was here last first. */
export async function findCustomers(db: Queryable, typed: string): Promise<CustomerLine[]> {
	const text = typed.trim().slice(0, 100);
	const pattern = beginsWith(text);
	const digits = digitsOf(text);
	const rows = await selectCustomers(db)
		.whereNull('customers.erased_at')
		.modify((query) => {
			if (text === '') return;
			void query.andWhere((either) => {
				void either
					.where('customers.name', 'like', pattern)
					.orWhere('customers.name', 'like', `% ${pattern}`)
					.orWhere('customers.email', 'like', pattern);
				if (digits.length >= 3) {
					void either.orWhereRaw("REGEXP_REPLACE(customers.phone, '[^0-9]', '') LIKE ?", [`%${digits}%`]);
				}
			});
		})
		.orderBy('last_at', 'desc')
		.orderBy('customers.id')
		.limit(SHOWN);
	return rows.map(toLine);
}

/** Customers who have not been here for so long that they may be erased: how many, and the first of them. */
export async function mayBeErased(db: Queryable, until: Instant): Promise<CustomerLine[]> {
	const rows = await selectCustomers(db)
		.whereNull('customers.erased_at')
		.whereNotExists(
			db('tickets').select('id').whereRaw('tickets.customer_id = customers.id').whereNull('closed_at')
		)
		.havingRaw('last_at IS NULL OR last_at < ?', [new Date(until)])
		.orderBy('last_at')
		.limit(500);
	return rows.map(toLine);
}

/** One customer; null where there is none. */
export async function findCustomer(db: Queryable, id: number): Promise<CustomerLine | null> {
	const row = await selectCustomers(db).where('customers.id', id).first();
	return row ? toLine(row) : null;
}

export interface CustomerPage {
	customer: CustomerLine;
	visits: (Standing & {
		openedAt: number;
		outcome: string | null;
		/** its link opens its own page still */
		linked: boolean;
		paidMinor: number | null;
		profitMinor: number | null;
	})[];
	devices: { serial: string | null; model: string; visits: number }[];
	/** null for who sees no money */
	money: { paidMinor: number; owedMinor: number; profitMinor: number } | null;
	messages: QueuedMessage[];
	/** others who may be the same person: the same telephone, mail or name */
	doubles: CustomerLine[];
}

const MOST_VISITS = 200;

export async function customerPage(
	db: Database,
	id: number,
	seesMoney: boolean,
	now = Date.now()
): Promise<CustomerPage | null> {
	const customer = await findCustomer(db, id);
	if (!customer) return null;
	const [catalog, rows, sums, messages, doubles] = await Promise.all([
		shopCatalog(db),
		selectTickets(db)
			.select<VisitRow[]>('tickets.page_ended', ...MONEY_COLUMNS.map((column) => `tickets.${column}`))
			.where('tickets.customer_id', id)
			.orderBy('tickets.opened_at', 'desc')
			.limit(MOST_VISITS),
		db('tickets')
			.where({ customer_id: id })
			.first<Record<'paid' | 'owed' | 'profit', Sum>>(
				db.raw('COALESCE(SUM(paid_minor), 0) AS paid'),
				db.raw('COALESCE(SUM(owed_minor), 0) AS owed'),
				db.raw(
					'COALESCE(SUM(IF(closed_at IS NULL, 0, COALESCE(paid_minor, 0) - tax_minor - parts_minor - labour_minor)), 0) AS profit'
				)
			),
		queuedMessages(db, id),
		doublesOf(db, customer)
	]);
	const visits = rows.map((row) => visitOf(row, catalog, { seesMoney, now }));
	const devices = new Map<string, CustomerPage['devices'][number]>();
	for (const { serial, model } of visits) {
		const key = `${serial ?? ''} ${model}`;
		const device = devices.get(key);
		devices.set(key, { serial, model, visits: (device?.visits ?? 0) + 1 });
	}
	return {
		customer,
		visits,
		devices: [...devices.values()],
		money: seesMoney
			? { paidMinor: Number(sums.paid), owedMinor: Number(sums.owed), profitMinor: Number(sums.profit) }
			: null,
		messages,
		doubles
	};
}

type VisitRow = TicketRow & MoneyColumns & Pick<Row<'tickets'>, 'page_ended'>;
function visitOf(row: VisitRow, catalog: Catalog, { seesMoney, now }: { seesMoney: boolean; now: number }) {
	const { ticket } = toStoredTicket(row);
	const ends = pageEnds(ticket, catalog.shop.pageDays);
	const { paidMinor, taxMinor, partsMinor, labourMinor } = moneyOf(row);
	return {
		...standingOf(ticket, catalog),
		openedAt: ticket.openedAt,
		outcome: ticket.outcome,
		linked: ownPath(ticket.number) !== null && !row.page_ended && now <= (ends ?? Infinity),
		paidMinor: seesMoney ? ticket.paidMinor : null,
		profitMinor:
			seesMoney && ticket.closedAt !== null ? paidMinor - taxMinor - partsMinor - labourMinor : null
	};
}

/** The same telephone or mail; the same name where one of the two left no telephone. */
async function doublesOf(db: Queryable, { id, name, phone, email }: CustomerLine): Promise<CustomerLine[]> {
	const digits = digitsOf(phone ?? '');
	const rows = await selectCustomers(db)
		.whereNull('customers.erased_at')
		.andWhereNot('customers.id', id)
		.andWhere((either) => {
			void either.where((exact) => {
				void exact.where('customers.name', name);
				if (phone) void exact.whereNull('customers.phone');
			});
			if (email) void either.orWhere('customers.email', email);
			if (digits.length >= 6)
				void either.orWhereRaw("REGEXP_REPLACE(customers.phone, '[^0-9]', '') = ?", [digits]);
		})
		.orderBy('customers.id')
		.limit(10);
	return rows.map(toLine);
}

/** The day before which somebody must have been here last to be erased. */
export const keptUntil = (now: Instant, keepDays: number): Instant => now - keepDays * DAY_MS;
