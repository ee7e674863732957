import type { Knex } from 'knex';
import { inPieces } from '../database/chunks';
import type { Ticket } from '$lib/core/tickets/ticket-record';

const CHUNK = 2000;

type DrawnFrom = Pick<Ticket, 'attempts' | 'parts' | 'closedAt' | 'openedAt'>;

/** Rows of `attempts` and `part_uses`: what is summed over many tickets without reading their records. */
function rowsOf(id: number, { attempts, parts, closedAt, openedAt }: DrawnFrom) {
	const moment = (at: number | undefined) => (at === undefined ? null : new Date(at));
	return {
		attempts: attempts.map(({ operation, technician, minutes, hourlyCostMinor, resolved, part, at }, i) => ({
			ticket_id: id,
			n: i + 1,
			operation,
			technician: technician ?? null,
			minutes: minutes ?? null,
			hourly_minor: hourlyCostMinor ?? null,
			resolved,
			part: part ?? false,
			at: moment(at)
		})),
		part_uses: parts.map(({ sku, quantity, unitCostMinor, lot, at }, i) => ({
			ticket_id: id,
			n: i + 1,
			sku,
			quantity,
			unit_minor: unitCostMinor ?? null,
			lot: lot ?? null,
			at: moment(at),
			used_at: new Date(at ?? closedAt ?? openedAt)
		}))
	};
}

/**
 * Draws the tables of some tickets anew.
 * @param fresh ids of tickets that were just added: they have no rows yet
 */
export async function drawTables(
	trx: Knex.Transaction,
	tickets: ReadonlyMap<number, DrawnFrom>,
	fresh: ReadonlySet<number> = new Set()
): Promise<void> {
	const known = [...tickets.keys()].filter((id) => !fresh.has(id));
	for (const table of ['attempts', 'part_uses'] as const) {
		if (known.length > 0) await trx(table).whereIn('ticket_id', known).delete();
		const rows = [...tickets].flatMap(([id, ticket]): object[] => rowsOf(id, ticket)[table]);
		for (const some of inPieces(rows, CHUNK)) await trx(table).insert(some);
	}
}
