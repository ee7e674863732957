import type { Knex } from 'knex';
import type { PartUsed } from '$lib/core/stock/shelf';
import { groupBy } from '$lib/core/units/group-by';
import type { Queryable } from '../database/connection';
import type { Row } from '../database/tables';

/** Pieces that a ticket used, with the part. */
export interface UseOfPart {
	sku: string;
	used: PartUsed;
}

type Use = Row<'part_uses'>;
/** in the order in which they are selected below */
type UseRow = [Use['ticket_id'], Use['n'], Use['sku'], Use['quantity'], Use['lot'], at: Date];

/** Uses as they stand in their table, narrowed. */
export async function rowsOfUses(
	db: Queryable,
	narrow: (query: Knex.QueryBuilder) => Knex.QueryBuilder = (query) => query
): Promise<UseOfPart[]> {
	const query = narrow(db('part_uses').select('ticket_id', 'n', 'sku', 'quantity', 'lot', 'used_at'));
	// half the time of rows as objects
	const rows = (await query.options({ rowsAsArray: true })) as unknown as UseRow[];
	return rows.map(([ticket, n, sku, quantity, lot, at]) => ({
		sku,
		used: { key: useKey(ticket, n), ticket, at: at.getTime(), quantity, lot }
	}));
}

/** Uses of some parts, by part. */
export async function usesOf(db: Queryable, skus: readonly string[]): Promise<Map<string, PartUsed[]>> {
	const uses = await rowsOfUses(db, (query) => query.whereIn('sku', skus));
	const bySku = groupBy(uses, ({ sku }) => sku);
	return new Map([...bySku].map(([sku, entries]) => [sku, entries.map(({ used }) => used)]));
}

/** Tells uses apart, in the order of entry. */
export const useKey = (ticket: number, n: number) =>
	`${String(ticket).padStart(12, '0')} ${String(n).padStart(5, '0')}`;
