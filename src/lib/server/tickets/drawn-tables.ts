import type { Knex } from 'knex';
import { inPieces } from '../database/chunks';
import { advanceCounter } from '../database/counters';
import { paymentsOf } from '$lib/core/tickets/money';
import type { Ticket } from '$lib/core/tickets/ticket-record';

const CHUNK = 2000;

type DrawnFrom = Pick<Ticket, 'attempts' | 'parts' | 'closedAt' | 'openedAt' | 'dealings' | 'paidMinor'>;

/** What is summed over many tickets without reading their records. */
const TABLES = ['attempts', 'part_uses', 'payments'] as const;

function rowsOf(id: number, ticket: DrawnFrom): Record<(typeof TABLES)[number], object[]> {
	const { attempts, parts, closedAt, openedAt } = ticket;
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
		})),
		payments: paymentsOf(ticket).map(({ at, amountMinor, taxMinor, by: method, settles }, i) => ({
			ticket_id: id,
			n: i + 1,
			at: new Date(at),
			amount_minor: amountMinor,
			tax_minor: taxMinor,
			paid_by: method,
			settles
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
	const existing = [...tickets.keys()].filter((id) => !fresh.has(id));
	for (const table of TABLES) {
		if (existing.length > 0) await trx(table).whereIn('ticket_id', existing).delete();
		const rows = [...tickets].flatMap(([id, ticket]) => rowsOf(id, ticket)[table]);
		for (const chunk of inPieces(rows, CHUNK)) await trx(table).insert(chunk);
	}
}

/** Gives tickets whose parts changed their place among such changes: who keeps uses in memory reads them again. */
export async function noteUses(trx: Knex.Transaction, ids: readonly number[]): Promise<void> {
	if (ids.length === 0) return;
	const seq = await advanceCounter(trx, 'uses');
	for (const chunk of inPieces(ids, CHUNK)) {
		await trx('tickets').whereIn('id', chunk).update({ uses_seq: seq });
	}
}
