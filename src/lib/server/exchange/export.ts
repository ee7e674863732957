import { RECORD_NAMES } from '$lib/core/exchange/record-kinds';
import { ticketToRecord } from '$lib/core/tickets/ticket-record';
import type { Database, Queryable } from '../database/connection';
import { inChunks } from '../database/chunks';
import { asJson } from '../database/json';
import { selectTickets, toStoredTicket } from '../tickets/rows';

/** Rows of one piece: between two of them others are heard. */
const CHUNK = 250;

/**
 * Everything as JSON Lines, kind by kind, each in the order of its first entry: the same shop gives the
 * same bytes. Read from one snapshot, so that no line names what was added after its kind was written.
 */
export async function* exportLines(db: Database): AsyncGenerator<string> {
	const trx = await db.transaction({ isolationLevel: 'repeatable read' });
	try {
		for (const kind of RECORD_NAMES) {
			if (kind === 'ticket') yield* ticketLines(trx);
			else if (kind === 'reference') yield* recordLines(trx, 'reference_readings', {});
			else yield* recordLines(trx, 'catalog', { kind });
		}
	} finally {
		await trx.rollback().catch(() => undefined);
	}
}

async function* recordLines(
	db: Queryable,
	table: 'catalog' | 'reference_readings',
	where: Record<string, string>
): AsyncGenerator<string> {
	const read = (afterId: number) =>
		db(table).where(where).andWhere('id', '>', afterId).orderBy('id').limit(CHUNK).select('id', 'record');
	for await (const rows of inChunks(CHUNK, read)) yield linesOf(rows.map(({ record }) => asJson(record)));
}

async function* ticketLines(db: Queryable): AsyncGenerator<string> {
	const read = (afterId: number) =>
		selectTickets(db).where('tickets.id', '>', afterId).orderBy('tickets.id').limit(CHUNK);
	for await (const rows of inChunks(CHUNK, read)) {
		yield linesOf(rows.map((row) => ticketToRecord(toStoredTicket(row).ticket)));
	}
}

const linesOf = (records: readonly unknown[]) =>
	records.map((record) => `${JSON.stringify(record)}\n`).join('');
