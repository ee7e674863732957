import type { Ticket } from '$lib/core/tickets/ticket-record';
import { asJson } from '../database/json';
import type { ReturnTicket } from '$lib/core/returns/followed-jobs';
import type { Database, Queryable } from '../database/connection';
import { inChunks } from '../database/chunks';
import { readCounters } from '../database/counters';
import { keptUp } from '../database/kept-up';

/** Tickets as comebacks are told from them: fixed ones, and all that name an earlier one. */

/** A ticket with what it used: its sources are told from lots and parts when they are asked for, as a shelf record may change. */
export interface UsingTicket extends ReturnTicket {
	used: { sku: string; lot: string | null }[];
	/** what of the earlier job it came from, as the record writes it */
	cameFrom: CameFrom | null;
}
type CameFrom = NonNullable<Ticket['cameFrom']>;

interface Memory {
	key: string;
	tickets: UsingTicket[];
}

interface Row {
	id: number;
	number: string;
	model: string;
	outcome: string | null;
	opened_at: Date;
	closed_at: Date | null;
	comeback_of: string | null;
	cause: string | null;
	methods: string | null;
	came_from: unknown;
}

const CHUNK = 5000;

const memoryNow = keptUp<Memory>(async (db, memory) => {
	const key = await stateKey(db);
	return memory?.key === key ? memory : { key, tickets: await readTickets(db) };
});

/** The tickets that comebacks are told from; read again only where one of them has changed. */
export const returnTickets = async (db: Database): Promise<Memory> => memoryNow(db);

/** Closed tickets move a counter of their own; open ones that came back are few, and their versions say whether one changed. */
async function stateKey(db: Queryable): Promise<string> {
	const { history } = await readCounters(db);
	const back = (await db('tickets')
		.whereNotNull('comeback_of')
		.first(db.raw('COUNT(*) AS n'), db.raw('COALESCE(SUM(version), 0) AS versions'))) as unknown as {
		n: number | string;
		versions: number | string;
	};
	return `${history} ${back.n} ${back.versions}`;
}

async function readTickets(db: Queryable): Promise<UsingTicket[]> {
	const read = (after: number) =>
		db('tickets')
			.where('id', '>', after)
			.andWhere((any) => any.where({ outcome: 'fixed' }).orWhereNotNull('comeback_of'))
			.orderBy('id')
			.limit(CHUNK)
			.select(
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
			) as unknown as Promise<Row[]>;
	const tickets: UsingTicket[] = [];
	for await (const rows of inChunks(CHUNK, read)) tickets.push(...(await withWork(db, rows)));
	return tickets;
}

async function withWork(db: Queryable, rows: readonly Row[]): Promise<UsingTicket[]> {
	const ids = rows.map(({ id }) => id);
	const [attempts, uses] = await Promise.all([
		db('attempts').whereIn('ticket_id', ids).select('ticket_id', 'operation', 'technician') as Promise<
			{ ticket_id: number; operation: string; technician: string | null }[]
		>,
		db('part_uses').whereIn('ticket_id', ids).select('ticket_id', 'sku', 'lot') as Promise<
			{ ticket_id: number; sku: string; lot: string | null }[]
		>
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
			methods: row.methods === null ? [] : (JSON.parse(row.methods) as string[]),
			cameFrom: (asJson(row.came_from) as CameFrom | null) ?? null,
			used
		};
	});
}
