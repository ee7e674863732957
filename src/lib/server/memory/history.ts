import type { Knex } from 'knex';
import { fixingOf, type PastJob } from '$lib/core/quoting/past';
import { evidenceFromRecord } from '$lib/core/tickets/stored-evidence';
import type { Queryable } from '../database/connection';
import type { Row, Sum } from '../database/tables';
import { inChunks } from '../database/chunks';
import { asJson } from '../database/json';
import { groupBy } from '$lib/core/units/group-by';

/** A ticket that teaches something, as it is read for learning. */
export interface HistoryTicket {
	id: number;
	number: string;
	/** closed, or its price answered; otherwise it teaches nothing any more */
	teaches: boolean;
	/** drawn from columns and tables alone */
	job: PastJob;
	customer: { name: string; kind: 'private' | 'trade' } | null;
	/** the ticket that it comes back from; null where it comes back from none */
	earlierVisit: TicketBefore | null;
	/** what was seen and measured; read from the record when it is asked for */
	evidence(): ReturnType<typeof evidenceFromRecord>;
}

/** A ticket that a device came back from, as far as the comeback says something of it. */
interface TicketBefore extends Pick<HistoryTicket, 'number' | 'customer' | 'evidence'> {
	model: string;
	closedAt: number | null;
	outcome: string | null;
	operations: readonly string[];
	/** those after which the complaint was gone */
	fixedBy: readonly string[];
}

type HistoryRow = Pick<
	Row<'tickets'>,
	| 'id'
	| 'number'
	| 'model'
	| 'closed_at'
	| 'outcome'
	| 'quoted_minor'
	| 'accepted'
	| 'comeback_of'
	| 'record'
	| 'opened_at'
	| 'cause'
> & {
	/** without tax */
	paid_minor: Sum | null;
	customer: string | null;
	customer_kind: Row<'customers'>['kind'] | null;
};

/** Tickets of one piece: between two of them others are heard. */
const CHUNK = 500;

/** Tickets of the shop's history, narrowed, in chunks in the order of entry. */
export async function* historyOf(
	db: Queryable,
	narrow: (query: Knex.QueryBuilder) => Knex.QueryBuilder
): AsyncGenerator<HistoryTicket[]> {
	const read = (afterId: number) =>
		narrow(db('tickets').leftJoin('customers', 'customers.id', 'tickets.customer_id'))
			.andWhere('tickets.id', '>', afterId)
			.orderBy('tickets.id')
			.limit(CHUNK)
			.select<HistoryRow[]>(
				'tickets.id',
				'tickets.number',
				'tickets.model',
				'tickets.opened_at',
				'tickets.closed_at',
				'tickets.cause',
				'tickets.outcome',
				'tickets.quoted_minor',
				'tickets.accepted',
				db.raw('tickets.paid_minor - tickets.tax_minor AS paid_minor'),
				'tickets.comeback_of',
				'tickets.record',
				'customers.name as customer',
				'customers.kind as customer_kind'
			);
	for await (const rows of inChunks(CHUNK, read)) {
		if (rows.length > 0) yield await withWork(db, rows);
	}
}

const minor = (column: number | string | null) => (column === null ? null : Number(column));
const orUndefined = <Value>(value: Value | null): Value | undefined => value ?? undefined;

type BeforeRow = Pick<
	HistoryRow,
	'id' | 'number' | 'model' | 'closed_at' | 'outcome' | 'record' | 'customer' | 'customer_kind'
>;

/** The tickets that some come back from, by their number, with what was done on them in order. */
async function ticketsBefore(db: Queryable, numbers: readonly string[]): Promise<Map<string, TicketBefore>> {
	if (numbers.length === 0) return new Map();
	const rows = await db('tickets')
		.leftJoin('customers', 'customers.id', 'tickets.customer_id')
		.whereIn('tickets.number', numbers)
		.select<BeforeRow[]>(
			'tickets.id',
			'tickets.number',
			'tickets.model',
			'tickets.closed_at',
			'tickets.outcome',
			'tickets.record',
			'customers.name as customer',
			'customers.kind as customer_kind'
		);
	const attempts = await db('attempts')
		.whereIn(
			'ticket_id',
			rows.map(({ id }) => id)
		)
		.orderBy(['ticket_id', 'n'])
		.select('ticket_id', 'operation', 'resolved');
	const attemptsOf = byTicket(attempts);
	return new Map(
		rows.map((row) => [
			row.number,
			{
				number: row.number,
				model: row.model,
				closedAt: row.closed_at?.getTime() ?? null,
				outcome: row.outcome,
				operations: (attemptsOf.get(row.id) ?? []).map(({ operation }) => operation),
				fixedBy: fixingOf(
					(attemptsOf.get(row.id) ?? []).map((attempt) => ({
						...attempt,
						resolved: Boolean(attempt.resolved)
					}))
				),
				customer: customerOf(row),
				evidence: memoised(() => evidenceFromRecord(asJson(row.record)))
			}
		])
	);
}

const customerOf = ({ customer, customer_kind }: Pick<HistoryRow, 'customer' | 'customer_kind'>) =>
	customer === null ? null : { name: customer, kind: customer_kind ?? 'private' };

async function withWork(db: Queryable, rows: readonly HistoryRow[]): Promise<HistoryTicket[]> {
	const ids = rows.map(({ id }) => id);
	const [attempts, parts] = await Promise.all([
		db('attempts')
			.whereIn('ticket_id', ids)
			.orderBy(['ticket_id', 'n'])
			.select('ticket_id', 'operation', 'technician', 'minutes', 'hourly_minor', 'part', 'resolved'),
		db('part_uses')
			.whereIn('ticket_id', ids)
			.orderBy(['ticket_id', 'n'])
			.select('ticket_id', 'sku', 'quantity', 'unit_minor')
	]);
	const [attemptsOf, partsOf] = [byTicket(attempts), byTicket(parts)];
	const earlierVisits = await ticketsBefore(
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
			accepted: row.accepted,
			paidMinor: minor(row.paid_minor),
			comebackOf: row.comeback_of,
			openedAt: row.opened_at.getTime(),
			cause: row.cause,
			earlierVisit: earlierVisits.get(row.comeback_of ?? '') ?? null,
			customerKind: row.customer === null ? undefined : (row.customer_kind ?? 'private'),
			attempts: (attemptsOf.get(row.id) ?? []).map(
				({ operation, technician, minutes, hourly_minor, part, resolved }) => ({
					operation,
					resolved,
					part,
					technician: orUndefined(technician),
					minutes: orUndefined(minutes),
					hourlyCostMinor: orUndefined(minor(hourly_minor))
				})
			),
			parts: (partsOf.get(row.id) ?? []).map(({ sku, quantity, unit_minor }) => ({
				sku,
				quantity,
				unitCostMinor: orUndefined(minor(unit_minor))
			}))
		},
		earlierVisit: row.comeback_of === null ? null : (earlierVisits.get(row.comeback_of) ?? null),
		customer: customerOf(row),
		evidence: memoised(() => evidenceFromRecord(asJson(row.record)))
	}));
}

/** Read once, when it is first asked for: several learners ask. */
function memoised<Value extends object>(read: () => Value): () => Value {
	let cached: Value | null = null;
	return () => (cached ??= read());
}

const byTicket = <Row extends { ticket_id: number }>(rows: readonly Row[]) =>
	groupBy(rows, ({ ticket_id }) => ticket_id);
