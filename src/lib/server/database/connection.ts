import knex, { type Knex } from 'knex';
import { knexConfig } from './config';
import { migrate } from './migrate';

export type Database = Knex;
/** A query outside or inside a transaction; commands take `Knex.Transaction` and say so. */
export type Queryable = Knex | Knex.Transaction;

let shared: Knex | undefined;
let migrated: Promise<void> | undefined;

/**
 * The process's pool, migrated. Holds connections and nothing of the shop: a second process beside this
 * one misses nothing. A failed migration is tried again at the next request.
 */
export async function database(): Promise<Database> {
	const url = process.env.DATABASE_URL;
	if (!url) throw new Error('DATABASE_URL is not set: start with npm start or npm run demo');
	shared ??= knex(knexConfig(url));
	const db = shared;
	migrated ??= migrate(db).catch((error: unknown) => {
		migrated = undefined;
		throw error;
	});
	await migrated;
	return db;
}

export async function closeDatabase(): Promise<void> {
	const db = shared;
	shared = migrated = undefined;
	await db?.destroy();
}

const AWAY = new Set([
	'ECONNREFUSED',
	'ECONNRESET',
	'EPIPE',
	'ENOENT',
	'ETIMEDOUT',
	'ENOTFOUND',
	'EAI_AGAIN',
	'PROTOCOL_CONNECTION_LOST',
	'PROTOCOL_ENQUEUE_AFTER_FATAL_ERROR',
	'ER_SERVER_SHUTDOWN',
	'ER_CON_COUNT_ERROR',
	'ER_UNKNOWN_COM_ERROR'
]);

/** True where an error says that the database cannot be reached now and may come back. */
export function isDatabaseAway(error: unknown): boolean {
	if (!(error instanceof Error)) return false;
	const code = (error as { code?: unknown }).code;
	return (
		(typeof code === 'string' && AWAY.has(code)) ||
		error.name === 'KnexTimeoutError' ||
		/connection is in closed state|Connection lost/i.test(error.message)
	);
}

const RETRY = new Set(['ER_LOCK_DEADLOCK', 'ER_LOCK_WAIT_TIMEOUT']);

/** Runs a command in one transaction; a deadlock (or a cluster's conflict at commit) is tried again. */
export async function inTransaction<Result>(
	db: Database,
	command: (trx: Knex.Transaction) => Promise<Result>
): Promise<Result> {
	for (let attempt = 1; ; attempt++) {
		try {
			return await db.transaction(command);
		} catch (error) {
			const code = (error as { code?: string }).code ?? '';
			if (attempt >= 4 || !RETRY.has(code)) throw error;
			await new Promise((resolve) => setTimeout(resolve, 20 * attempt * attempt));
		}
	}
}
