import type { Queryable } from './connection';
import { readCounters, type Counter } from './counters';

/**
 * What is read of a database only where a counter has moved since. A copy that saves reading: the counter is compared at every
 * use, and moves in the transaction of what it counts.
 * @returns reads it; with the counter's value where the caller has read that already
 */
export function byCounter<Value>(
	counter: Counter,
	read: (db: Queryable) => Promise<Value>
): (db: Queryable, version?: number) => Promise<Value> {
	const last = new Map<string, { version: number; value: Value }>();
	return async (db, version) => {
		const { host, port, database } = db.client.config.connection as Record<string, string>;
		const shop = `${host}:${port}/${database}`;
		const now = version ?? (await readCounters(db))[counter];
		const cached = last.get(shop);
		if (cached?.version === now) return cached.value;
		const value = await read(db);
		last.set(shop, { version: now, value });
		return value;
	};
}
