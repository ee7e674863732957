import type { Knex } from 'knex';
import type { PastJob } from '$lib/core/quoting/past';
import { evidenceFromRecord } from '$lib/core/tickets/stored-evidence';
import type { Queryable } from '../database/connection';
import { inChunks } from '../database/chunks';
import { asJson } from '../database/json';

/** A ticket that teaches something, as it is read for learning. */
export interface HistoryTicket {
	id: number;
	number: string;
	/** closed, or its price answered; otherwise it teaches nothing any more */
	teaches: boolean;
	/** drawn from columns and tables alone */
	job: PastJob;
	customer: { name: string; kind: 'private' | 'trade' } | null;
	/** operations of the ticket that it comes back from; null where it comes back from none */
	before: readonly string[] | null;
	/** what was seen and measured; read from the record when it is asked for */
	evidence(): ReturnType<typeof evidenceFromRecord>;
}

interface HistoryRow {
	id: number;
	number: string;
	model: string;
	closed_at: Date | null;
	outcome: string | null;
	quoted_minor: number | string | null;
	accepted: number | boolean | null;
	paid_minor: number | string | null;
	comeback_of: string | null;
	record: unknown;
	customer: string | null;
	customer_kind: 'private' | 'trade' | null;
}

/** Tickets of one piece: between two of them others are heard. */
const CHUNK = 500;

/** Tickets of the shop's history, narrowed, in chunks in the order of entry. */
export async function* historyOf(
	db: Queryable,
	narrow: (query: Knex.QueryBuilder) => Knex.QueryBuilder
): AsyncGenerator<HistoryTicket[]> {
	const read = (after: number) =>
		narrow(db('tickets').leftJoin('customers', 'customers.id', 'tickets.customer_id'))
			.andWhere('tickets.id', '>', after)
			.orderBy('tickets.id')
			.limit(CHUNK)
			.select(
				'tickets.id',
				'tickets.number',
				'tickets.model',
				'tickets.closed_at',
				'tickets.outcome',
				'tickets.quoted_minor',
				'tickets.accepted',
				'tickets.paid_minor',
				'tickets.comeback_of',
				'tickets.record',
				'customers.name as customer',
				'customers.kind as customer_kind'
			) as Promise<HistoryRow[]>;
	for await (const rows of inChunks(CHUNK, read)) {
		if (rows.length > 0) yield await withWork(db, rows);
	}
}

interface AttemptRow {
	ticket_id: number;
	operation: string;
	technician: string | null;
	minutes: number | null;
	hourly_minor: number | string | null;
	part: unknown;
}
interface PartRow {
	ticket_id: number;
	sku: string;
	quantity: number;
	unit_minor: number | string | null;
}

const minor = (column: number | string | null) => (column === null ? null : Number(column));
const given = <Value>(value: Value | null): Value | undefined => value ?? undefined;

/** What was done on some tickets, by their number, in order. */
async function operationsOf(db: Queryable, numbers: readonly string[]): Promise<Map<string, string[]>> {
	const done = new Map<string, string[]>();
	if (numbers.length === 0) return done;
	const rows = (await db('attempts')
		.join('tickets', 'tickets.id', 'attempts.ticket_id')
		.whereIn('tickets.number', numbers)
		.orderBy(['attempts.ticket_id', 'attempts.n'])
		.select('tickets.number as number', 'attempts.operation as operation')) as {
		number: string;
		operation: string;
	}[];
	for (const { number, operation } of rows) done.set(number, [...(done.get(number) ?? []), operation]);
	return done;
}

async function withWork(db: Queryable, rows: readonly HistoryRow[]): Promise<HistoryTicket[]> {
	const ids = rows.map(({ id }) => id);
	const [attempts, parts] = await Promise.all([
		db('attempts')
			.whereIn('ticket_id', ids)
			.orderBy(['ticket_id', 'n'])
			.select('ticket_id', 'operation', 'technician', 'minutes', 'hourly_minor', 'part') as Promise<
			AttemptRow[]
		>,
		db('part_uses')
			.whereIn('ticket_id', ids)
			.orderBy(['ticket_id', 'n'])
			.select('ticket_id', 'sku', 'quantity', 'unit_minor') as Promise<PartRow[]>
	]);
	const [attemptsOf, partsOf] = [byTicket(attempts), byTicket(parts)];
	const before = await operationsOf(
		db,
		rows.flatMap(({ comeback_of }) => comeback_of ?? [])
	);
	return rows.map((row) => ({
		id: row.id,
		number: row.number,
		teaches: row.closed_at !== null || row.accepted !== null,
		job: {
			model: row.model,
			closedAt: row.closed_at?.getTime() ?? null,
			outcome: row.outcome,
			quotedMinor: minor(row.quoted_minor),
			accepted: row.accepted === null ? null : Boolean(row.accepted),
			paidMinor: minor(row.paid_minor),
			comebackOf: row.comeback_of,
			attempts: (attemptsOf.get(row.id) ?? []).map(
				({ operation, technician, minutes, hourly_minor, part }) => ({
					operation,
					part: Boolean(part),
					technician: given(technician),
					minutes: given(minutes),
					hourlyCostMinor: given(minor(hourly_minor))
				})
			),
			parts: (partsOf.get(row.id) ?? []).map(({ sku, quantity, unit_minor }) => ({
				sku,
				quantity,
				unitCostMinor: given(minor(unit_minor))
			}))
		},
		before: row.comeback_of === null ? null : (before.get(row.comeback_of) ?? []),
		customer: row.customer === null ? null : { name: row.customer, kind: row.customer_kind ?? 'private' },
		evidence: () => evidenceFromRecord(asJson(row.record))
	}));
}

function byTicket<Row extends { ticket_id: number }>(rows: readonly Row[]): Map<number, Row[]> {
	const groups = new Map<number, Row[]>();
	for (const row of rows) {
		const group = groups.get(row.ticket_id);
		if (group) group.push(row);
		else groups.set(row.ticket_id, [row]);
	}
	return groups;
}
