import type { Knex } from 'knex';
import type { Ticket } from '$lib/core/tickets/ticket-record';
import { asJson, type StoredJson } from '../database/json';
import type { ReturnTicket } from '$lib/core/returns/followed-jobs';
import type { Database, Queryable } from '../database/connection';
import { inChunks } from '../database/chunks';
import { keptUp } from '../database/kept-up';
import { projection } from '../database/projection';
import type { Row, Sum } from '../database/tables';

/** A ticket with what it used: its sources are told from lots and parts when they are asked for, as a shelf record may change. */
export interface UsingTicket extends ReturnTicket {
	used: { sku: string; lot: string | null }[];
	/** what of the earlier job it came from, as the record writes it */
	cameFrom: CameFrom | null;
}
type CameFrom = NonNullable<Ticket['cameFrom']>;

type FollowedRow = Pick<
	Row<'tickets'>,
	'id' | 'number' | 'model' | 'outcome' | 'opened_at' | 'closed_at' | 'comeback_of' | 'cause' | 'methods'
> & { came_from: StoredJson<CameFrom> | null };

const CHUNK = 5000;

/** What comebacks are told from, and a key that is another where any of it is. */
interface ReturnTickets {
	key: string;
	tickets: readonly UsingTicket[];
}

interface FollowedCopy {
	byId: Map<number, UsingTicket>;
	/** in the order of their ids; made anew where one changed */
	inOrder: readonly UsingTicket[];
}

/** Closed tickets move a counter of their own: only those that changed are read again. */
const closedProjection = projection<FollowedCopy>({
	counter: 'history',
	empty: () => ({ byId: new Map(), inOrder: [] }),
	async putChanged(db, copy, since) {
		// what was reopened is gone from here, as is what is not fixed any more
		if (since > 0) {
			const changed = await db('tickets').where('history_seq', '>', since).pluck('id');
			for (const id of changed) copy.byId.delete(id);
		}
		const closed = readTickets(db, (query) =>
			query.whereNotNull('closed_at').where('history_seq', '>', since)
		);
		for await (const tickets of closed) for (const [id, ticket] of tickets) copy.byId.set(id, ticket);
		copy.inOrder = [...copy.byId].sort(([a], [b]) => a - b).map(([, ticket]) => ticket);
	}
});

interface OpenCopy {
	key: string;
	closed: readonly UsingTicket[];
	tickets: readonly UsingTicket[];
}
/** Open tickets that came back are few, and their versions say whether one changed. */
const withOpen = keptUp<OpenCopy>(async (db, previous) => {
	const { copy, seq } = await closedProjection(db);
	const key = `${seq} ${await openKey(db)}`;
	if (previous?.key === key && previous.closed === copy.inOrder) return previous;
	const open: UsingTicket[] = [];
	for await (const tickets of readTickets(db, (query) => query.whereNull('closed_at')))
		open.push(...tickets.values());
	return { key, closed: copy.inOrder, tickets: [...copy.inOrder, ...open] };
});

/** The tickets that comebacks are told from: fixed ones, and all that name an earlier one. */
export const returnTickets = (db: Database): Promise<ReturnTickets> => withOpen(db);

async function openKey(db: Queryable): Promise<string> {
	const row = await db('tickets')
		.whereNotNull('comeback_of')
		.whereNull('closed_at')
		.first<{ n: Sum; versions: Sum }>(
			db.raw('COUNT(*) AS n'),
			db.raw('COALESCE(SUM(version), 0) AS versions')
		);
	return `${row.n} ${row.versions}`;
}

async function* readTickets(
	db: Queryable,
	narrow: (query: Knex.QueryBuilder) => Knex.QueryBuilder
): AsyncGenerator<Map<number, UsingTicket>> {
	const read = (afterId: number) =>
		narrow(db('tickets'))
			.where('id', '>', afterId)
			.andWhere((either) => either.where({ outcome: 'fixed' }).orWhereNotNull('comeback_of'))
			.orderBy('id')
			.limit(CHUNK)
			.select<FollowedRow[]>(
				'id',
				'number',
				'model',
				'outcome',
				'opened_at',
				'closed_at',
				'comeback_of',
				'cause',
				'methods',
				db.raw("IF(comeback_of IS NULL, NULL, JSON_EXTRACT(record, '$.came_from')) AS came_from")
			);
	for await (const rows of inChunks(CHUNK, read)) {
		const tickets = await withWork(db, rows);
		yield new Map(rows.map(({ id }, i) => [Number(id), tickets[i] as UsingTicket]));
	}
}

async function withWork(db: Queryable, rows: readonly FollowedRow[]): Promise<UsingTicket[]> {
	const ids = rows.map(({ id }) => id);
	const [attempts, uses] = await Promise.all([
		db('attempts').whereIn('ticket_id', ids).select('ticket_id', 'operation', 'technician'),
		db('part_uses').whereIn('ticket_id', ids).select('ticket_id', 'sku', 'lot')
	]);
	const work = new Map(
		ids.map((id) => [
			Number(id),
			{
				operations: new Set<string>(),
				technicians: new Set<string>(),
				uses: [] as { sku: string; lot: string | null }[]
			}
		])
	);
	for (const { ticket_id: id, operation, technician } of attempts) {
		work.get(Number(id))?.operations.add(operation);
		if (technician) work.get(Number(id))?.technicians.add(technician);
	}
	for (const { ticket_id: id, sku, lot } of uses) work.get(Number(id))?.uses.push({ sku, lot });
	return rows.map((row) => {
		const {
			operations,
			technicians,
			uses: used
		} = work.get(Number(row.id)) ?? {
			operations: [],
			technicians: [],
			uses: []
		};
		return {
			number: row.number,
			model: row.model,
			outcome: row.outcome,
			openedAt: row.opened_at.getTime(),
			closedAt: row.closed_at?.getTime() ?? null,
			comebackOf: row.comeback_of,
			cause: row.cause,
			operations: [...operations],
			technicians: [...technicians],
			parts: [...new Set(used.map(({ sku }) => sku))],
			lots: [...new Set(used.flatMap(({ lot }) => lot ?? []))],
			sources: [],
			suppliers: [],
			month: null,
			methods: asJson(row.methods) ?? [],
			cameFrom: asJson(row.came_from),
			used
		};
	});
}
