import type { Knex } from 'knex';
import type { Sum } from './tables';

/** How many rows a query finds. */
export async function rowCount(query: Knex.QueryBuilder): Promise<number> {
	const row = await query.clone().count({ n: '*' }).first<{ n: Sum } | undefined>();
	return Number(row?.n ?? 0);
}
