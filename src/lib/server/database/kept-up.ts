import type { Database } from './connection';

/**
 * A copy of what the database holds, one a pool, brought up to date at each use: refreshes take turns, and after one that failed all
 * is read anew.
 * @param refresh the copy as it is now, from what it was; null where there is none yet
 */
export function keptUp<Memory, More extends readonly unknown[] = []>(
	refresh: (db: Database, previous: Memory | null, ...context: More) => Promise<Memory>
): (db: Database, ...context: More) => Promise<Memory> {
	const memories = new WeakMap<Database, Promise<Memory>>();
	return (db, ...context) => {
		const previous: Promise<Memory | null> = memories.get(db) ?? Promise.resolve(null);
		const next = previous.catch(() => null).then((memory) => refresh(db, memory, ...context));
		memories.set(db, next);
		return next;
	};
}
