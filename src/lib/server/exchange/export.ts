import { recordSchemas, type RecordKind } from '$lib/core/exchange/read-lines';
import { ticketToRecord } from '$lib/core/tickets/ticket-record';
import type { Database, Queryable } from '../database/connection';
import { asJson } from '../database/json';
import { selectTickets, toStoredTicket, type TicketRow } from '../tickets/rows';

const CHUNK = 1000;

/**
 * Everything as JSON Lines, kind by kind, each in the order of its first entry: the same shop gives the
 * same bytes. Read from one snapshot, so that no line names what was added after its kind was written.
 */
export async function* exportLines(db: Database): AsyncGenerator<string> {
	const trx = await db.transaction({ isolationLevel: 'repeatable read' });
	try {
		for (const kind of Object.keys(recordSchemas) as RecordKind[]) {
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
	for (let after = 0; ;) {
		const rows = (await db(table)
			.where(where)
			.andWhere('id', '>', after)
			.orderBy('id')
			.limit(CHUNK)
			.select('id', 'record')) as { id: number; record: unknown }[];
		yield rows.map(({ record }) => `${JSON.stringify(asJson(record))}\n`).join('');
		const last = rows.at(-1);
		if (!last || rows.length < CHUNK) return;
		after = last.id;
	}
}

async function* ticketLines(db: Queryable): AsyncGenerator<string> {
	for (let after = 0; ;) {
		const rows = (await selectTickets(db)
			.where('tickets.id', '>', after)
			.orderBy('tickets.id')
			.limit(CHUNK)) as TicketRow[];
		yield rows.map((row) => `${JSON.stringify(ticketToRecord(toStoredTicket(row).ticket))}\n`).join('');
		const last = rows.at(-1);
		if (!last || rows.length < CHUNK) return;
		after = last.id;
	}
}
