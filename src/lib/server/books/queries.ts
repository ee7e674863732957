import { profitByTicket } from '$lib/core/ledger/ticket-profit';
import { warrantyReserve, type Warranted, type WarrantyReserve } from '$lib/core/ledger/warranty-reserve';
import type { Catalog } from '$lib/core/catalog/catalog';
import { causeCounts } from '$lib/core/comebacks/what-counts';
import type { Books } from '$lib/core/ledger/books';
import { groupBy } from '$lib/core/units/group-by';
import { HOUR_MS } from '$lib/core/units/instant';
import type { Queryable } from '../database/connection';
import { asJson, type StoredJson } from '../database/json';
import { exact, MONEY_COLUMNS, moneyOf, type MoneyColumns } from '../database/money-columns';
import type { Row, Sum } from '../database/tables';

/** Money that is between the shop and its customers now. */
export interface OpenMoney {
	/** paid on tickets that are open still */
	depositsMinor: number;
	/** accepted prices of open tickets, less what was paid on them */
	promisedMinor: number;
	promises: number;
	/** on invoices that were not settled */
	owedMinor: number;
	owed: number;
	overdue: number;
}

export async function openMoney(db: Queryable, now: number): Promise<OpenMoney> {
	const [open, owed] = await Promise.all([
		db('tickets')
			.whereNull('closed_at')
			.first<Record<'deposits' | 'promised' | 'promises', Sum>>(
				db.raw('COALESCE(SUM(paid_minor), 0) AS deposits'),
				db.raw(
					'COALESCE(SUM(IF(accepted, GREATEST(0, quoted_minor - COALESCE(paid_minor, 0)), 0)), 0) AS promised'
				),
				db.raw('COALESCE(SUM(IF(accepted, 1, 0)), 0) AS promises')
			),
		db('tickets')
			.where('owed_minor', '>', 0)
			.first<Record<'owed' | 'count' | 'overdue', Sum>>(
				db.raw('COALESCE(SUM(owed_minor), 0) AS owed'),
				db.raw('COUNT(*) AS count'),
				db.raw('COALESCE(SUM(due_at < ?), 0) AS overdue', [new Date(now)])
			)
	]);
	return {
		depositsMinor: exact(open.deposits),
		promisedMinor: exact(open.promised),
		promises: Number(open.promises),
		owedMinor: exact(owed.owed),
		owed: Number(owed.count),
		overdue: Number(owed.overdue)
	};
}

export interface OwedInvoice {
	number: string;
	customer: string | null;
	owedMinor: number;
	dueAt: number | null;
}

/** Invoices that are owed, the longest due first. */
export async function owedInvoices(db: Queryable, limit: number): Promise<OwedInvoice[]> {
	const rows = await db('tickets')
		.leftJoin('customers', 'customers.id', 'tickets.customer_id')
		.where('owed_minor', '>', 0)
		.orderByRaw('due_at IS NULL, due_at, tickets.id')
		.limit(limit)
		.select('number', 'customers.name as customer', 'owed_minor', 'due_at');
	return rows.map(({ number, customer, owed_minor, due_at }) => ({
		number,
		customer,
		owedMinor: exact(owed_minor),
		dueAt: due_at?.getTime() ?? null
	}));
}

export type MoneyIn = Record<'cash' | 'card' | 'transfer' | 'unsaid', number>;

/** Money that came in between two moments, by how; what is on an invoice comes in when it is settled. */
export async function moneyIn(db: Queryable, from: number, to: number): Promise<MoneyIn> {
	const rows = await db('payments')
		.where('at', '>=', new Date(from))
		.andWhere('at', '<', new Date(to))
		.andWhere((money) => money.whereNull('paid_by').orWhereNot('paid_by', 'invoice'))
		.groupBy('paid_by')
		.select<(Pick<Row<'payments'>, 'paid_by'> & { amount: Sum })[]>(
			'paid_by',
			db.raw('SUM(amount_minor) AS amount')
		);
	const sums = new Map(rows.map(({ paid_by, amount }) => [paid_by ?? 'unsaid', exact(amount)]));
	const sumOf = (kind: string) => sums.get(kind) ?? 0;
	return { cash: sumOf('cash'), card: sumOf('card'), transfer: sumOf('transfer'), unsaid: sumOf('unsaid') };
}

/** What was paid on tickets that were open then, and owed on invoices, as payments tell it. */
export async function openMoneyAt(
	db: Queryable,
	at: number
): Promise<Pick<OpenMoney, 'depositsMinor' | 'owedMinor'>> {
	const date = new Date(at);
	const row = await db('payments')
		.join('tickets', 'tickets.id', 'payments.ticket_id')
		.where('payments.at', '<', date)
		.first<Record<'deposits' | 'owed', Sum>>(
			db.raw(
				'COALESCE(SUM(IF(settles = 0 AND (closed_at IS NULL OR closed_at >= ?), amount_minor, 0)), 0) AS deposits',
				[date]
			),
			db.raw(
				"COALESCE(SUM(IF(settles = 1, -amount_minor, IF(paid_by = 'invoice', amount_minor, 0))), 0) AS owed"
			)
		);
	return {
		depositsMinor: Math.max(0, exact(row.deposits)),
		owedMinor: Math.max(0, exact(row.owed))
	};
}

/** Closed tickets as the reserve sees them. */
export const warranted = (books: Books): Warranted[] =>
	books.order.map((line) => ({ ...line, paidMinor: line.paidMinor - line.taxMinor }));

const reserves = new WeakMap<Books, { key: string; reserve: WarrantyReserve }>();

/** What is to be set aside for work under warranty; worked out anew each hour and after each change of the books. */
export function reserveNow(
	books: Books,
	asOf: number,
	{ shop: { warrantyDays }, records: { cause: causes } }: Pick<Catalog, 'shop' | 'records'>
): WarrantyReserve {
	const counting = [...causes.keys()].filter((cause) => causeCounts(cause, causes)).sort();
	const key = `${books.changes} ${Math.floor(asOf / HOUR_MS)} ${warrantyDays} ${counting.join(' ')}`;
	const cached = reserves.get(books);
	if (cached?.key === key) return cached.reserve;
	const reserve = warrantyReserve(warranted(books), { asOf, warrantyDays, causes });
	reserves.set(books, { key, reserve });
	return reserve;
}

/** One visit of a device. */
export interface DeviceVisit {
	number: string;
	model: string;
	openedAt: number;
	closedAt: number | null;
	outcome: string | null;
	comebackOf: string | null;
	customer: string | null;
	/** what was confirmed */
	faults: string[];
	/** operations in the order in which they were tried, and whether the complaint was gone */
	operations: { operation: string; resolved: boolean }[];
	minutes: number;
	paidMinor: number;
	taxMinor: number;
	partsMinor: number;
	labourMinor: number;
	profitMinor: number;
}

type VisitRow = Pick<
	Row<'tickets'>,
	'id' | 'number' | 'model' | 'opened_at' | 'closed_at' | 'outcome' | 'comeback_of' | 'minutes'
> &
	MoneyColumns & { customer: string | null; faults: StoredJson<string[]> | null };

/** A device's whole life in this shop, by its serial number, first visit first; profit as in the books. */
export async function deviceLife(db: Queryable, serial: string): Promise<DeviceVisit[]> {
	const rows = await db('tickets')
		.leftJoin('customers', 'customers.id', 'tickets.customer_id')
		.where({ serial })
		.orderBy(['opened_at', 'tickets.id'])
		.limit(MOST_VISITS)
		.select<VisitRow[]>(
			'tickets.id as id',
			'number',
			'model',
			'opened_at',
			'closed_at',
			'outcome',
			'comeback_of',
			...MONEY_COLUMNS,
			'minutes',
			'customers.name as customer',
			db.raw("JSON_EXTRACT(record, '$.faults') AS faults")
		);
	const attempts = await db('attempts')
		.whereIn(
			'ticket_id',
			rows.map(({ id }) => id)
		)
		.orderBy(['ticket_id', 'n'])
		.select('ticket_id', 'operation', 'resolved');
	const tried = groupBy(attempts, ({ ticket_id }) => ticket_id);
	const visits = rows.map((row): DeviceVisit => ({
		number: row.number,
		model: row.model,
		openedAt: row.opened_at.getTime(),
		closedAt: row.closed_at?.getTime() ?? null,
		outcome: row.outcome,
		comebackOf: row.comeback_of,
		customer: row.customer,
		faults: asJson(row.faults) ?? [],
		operations: (tried.get(row.id) ?? []).map(({ operation, resolved }) => ({
			operation,
			resolved
		})),
		minutes: Number(row.minutes),
		...moneyOf(row),
		profitMinor: 0
	}));
	const profits = profitByTicket(visits);
	return visits.map((visit) => ({ ...visit, profitMinor: profits.get(visit.number) ?? 0 }));
}
/** More visits than this are no one device. */
const MOST_VISITS = 200;
