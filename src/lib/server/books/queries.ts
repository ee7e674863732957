import { profitByTicket } from '$lib/core/ledger/ticket-profit';
import type { Queryable } from '../database/connection';
import { asJson } from '../database/json';

export interface BookLine {
	number: string;
	model: string;
	openedAt: number;
	closedAt: number;
	outcome: string;
	comebackOf: string | null;
	/** what was quoted and accepted; null where nothing was */
	quotedMinor: number | null;
	customer: string | null;
	customerKind: 'private' | 'trade' | null;
	/** tickets whose work this one bears: its comebacks */
	bears: number;
	paidMinor: number;
	partsMinor: number;
	labourMinor: number;
	minutes: number;
	profitMinor: number;
}

interface BookRow {
	number: string;
	model: string;
	opened_at: Date;
	closed_at: Date;
	outcome: string;
	comeback_of: string | null;
	quoted_minor: number | string | null;
	accepted: unknown;
	customer: string | null;
	customer_kind: 'private' | 'trade' | null;
	paid_minor: number | string | null;
	parts_minor: number | string;
	labour_minor: number | string;
	minutes: string;
}

/** Sums below 2^53 hundredths are exact as numbers; anything larger is a mistake worth stopping for. */
function exact(column: number | string | null): number {
	const value = Number(column ?? 0);
	if (!Number.isSafeInteger(value)) throw new Error(`money out of range: ${String(column)}`);
	return value;
}

const bookedOf = (
	row: Pick<BookRow, 'number' | 'comeback_of' | 'paid_minor' | 'parts_minor' | 'labour_minor'>
) => ({
	number: row.number,
	comebackOf: row.comeback_of,
	paidMinor: exact(row.paid_minor),
	partsMinor: exact(row.parts_minor),
	labourMinor: exact(row.labour_minor)
});

/** All closed tickets with their profit, comeback work charged to the first ticket; newest first. */
export async function bookLines(db: Queryable): Promise<BookLine[]> {
	const rows = (await db('tickets')
		.leftJoin('customers', 'customers.id', 'tickets.customer_id')
		.whereNotNull('closed_at')
		.orderBy('closed_at', 'desc')
		.orderBy('tickets.id', 'desc')
		.select(
			'number',
			'model',
			'opened_at',
			'closed_at',
			'outcome',
			'comeback_of',
			'quoted_minor',
			'accepted',
			'paid_minor',
			'parts_minor',
			'labour_minor',
			'minutes',
			'customers.name as customer',
			'customers.kind as customer_kind'
		)) as BookRow[];
	const booked = rows.map(bookedOf);
	const profits = profitByTicket(booked);
	const bears = new Map<string, number>();
	for (const { comebackOf } of booked) {
		if (comebackOf) bears.set(comebackOf, (bears.get(comebackOf) ?? 0) + 1);
	}
	return rows.map((row, i) => ({
		...(booked[i] as (typeof booked)[number]),
		model: row.model,
		openedAt: row.opened_at.getTime(),
		closedAt: row.closed_at.getTime(),
		outcome: row.outcome,
		quotedMinor: row.quoted_minor === null || !row.accepted ? null : exact(row.quoted_minor),
		customer: row.customer,
		customerKind: row.customer_kind,
		bears: bears.get(row.number) ?? 0,
		minutes: Number(row.minutes),
		profitMinor: profits.get(row.number) ?? 0
	}));
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
	partsMinor: number;
	labourMinor: number;
	profitMinor: number;
}

/** A device's whole life in this shop, by its serial number, first visit first; profit as in the books. */
export async function deviceLife(db: Queryable, serial: string): Promise<DeviceVisit[]> {
	const rows = (await db('tickets')
		.leftJoin('customers', 'customers.id', 'tickets.customer_id')
		.where({ serial })
		.orderBy(['opened_at', 'tickets.id'])
		.limit(MOST_VISITS)
		.select(
			'tickets.id as id',
			'number',
			'model',
			'opened_at',
			'closed_at',
			'outcome',
			'comeback_of',
			'paid_minor',
			'parts_minor',
			'labour_minor',
			'minutes',
			'customers.name as customer',
			db.raw("JSON_EXTRACT(record, '$.faults') AS faults")
		)) as (Omit<BookRow, 'closed_at' | 'outcome'> & {
		id: number;
		closed_at: Date | null;
		outcome: string | null;
		faults: unknown;
	})[];
	const attempts = (await db('attempts')
		.whereIn(
			'ticket_id',
			rows.map(({ id }) => id)
		)
		.orderBy(['ticket_id', 'n'])
		.select('ticket_id', 'operation', 'resolved')) as {
		ticket_id: number;
		operation: string;
		resolved: unknown;
	}[];
	const booked = rows.map(bookedOf);
	const profits = profitByTicket(booked);
	return rows.map((row, i) => ({
		...(booked[i] as (typeof booked)[number]),
		model: row.model,
		openedAt: row.opened_at.getTime(),
		closedAt: row.closed_at?.getTime() ?? null,
		outcome: row.outcome,
		customer: row.customer,
		faults: (asJson(row.faults) ?? []) as string[],
		operations: attempts
			.filter(({ ticket_id }) => ticket_id === row.id)
			.map(({ operation, resolved }) => ({ operation, resolved: Boolean(resolved) })),
		minutes: Number(row.minutes),
		profitMinor: profits.get(row.number) ?? 0
	}));
}
/** More visits than this are no one device. */
const MOST_VISITS = 200;
