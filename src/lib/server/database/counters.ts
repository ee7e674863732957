import type { Knex } from 'knex';
import type { Queryable } from './connection';

export type Counter = 'ticket' | 'history' | 'catalog' | 'relearn' | 'reference' | 'shelf' | 'uses';
export type Counters = Record<Counter, number>;

export async function readCounters(db: Queryable): Promise<Counters> {
	const rows = await db('counters').select('name', 'value');
	const found = Object.fromEntries(rows.map(({ name, value }) => [name, value]));
	return { ticket: 0, history: 0, catalog: 0, relearn: 0, reference: 0, shelf: 0, uses: 0, ...found };
}

/**
 * Moves a counter on by one and holds its row until the transaction ends: what carries the new value
 * becomes visible in the order of the values, so a reader that has seen n misses nothing up to n.
 */
export async function advanceCounter(trx: Knex.Transaction, name: Counter): Promise<number> {
	await trx('counters').where({ name }).increment('value', 1);
	const row = await trx('counters').where({ name }).first('value');
	if (!row) throw new Error(`there is no counter ${name}`);
	return row.value;
}

/** Holds a counter's row until the transaction ends, so that what follows happens one after another. */
export async function holdCounter(trx: Knex.Transaction, name: Counter): Promise<void> {
	await trx('counters').where({ name }).forUpdate().first('value');
}

/** Raises a counter to at least a value. */
export async function raiseCounter(trx: Knex.Transaction, name: Counter, minimum: number): Promise<void> {
	await trx('counters').where({ name }).andWhere('value', '<', minimum).update({ value: minimum });
}
