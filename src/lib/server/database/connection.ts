import process from 'node:process';
import knex, { type Knex } from 'knex';
import { knexConfig, PATIENT_MS } from './config';
import { migrate } from './migrate';
import type {} from './tables';

export type Database = Knex;
/** A query outside or inside a transaction; commands take `Knex.Transaction` and say so. */
export type Queryable = Knex | Knex.Transaction;

let shared: { url: string; db: Knex; migrated?: Promise<void> | undefined } | undefined;

/**
 * The process's pool, migrated. Holds connections and nothing of the shop: a second process beside this
 * one misses nothing. A failed migration is tried again at the next request. Where the private database came back at
 * another port, the pool is made anew.
 */
export async function database(): Promise<Database> {
	const url = process.env.DATABASE_URL;
	if (!url) throw new Error('DATABASE_URL is not set: start with npm start or npm run demo');
	if (shared?.url !== url) {
		void shared?.db.destroy().catch(() => undefined);
		shared = { url, db: knex(knexConfig(url)) };
	}
	const current = shared;
	current.migrated ??= migrateAt(url).catch((error: unknown) => {
		current.migrated = undefined;
		throw error;
	});
	await current.migrated;
	return current.db;
}

/** With connections of its own: a migration may take longer than a query that somebody waits for. */
async function migrateAt(url: string): Promise<void> {
	const db = knex(knexConfig(url, { queryMs: PATIENT_MS, most: 3 }));
	try {
		await migrate(db);
	} finally {
		await db.destroy();
	}
}

const sidePools = new WeakMap<Database, Database>();

/**
 * Connections beside the pool of a database, for work that nobody waits for at a screen: it leaves the others theirs. They
 * close by themselves soon after their work.
 */
export function besidePool(db: Database): Database {
	const cached = sidePools.get(db);
	if (cached) return cached;
	const { host, port, user, password, database } = db.client.config.connection as Record<string, string>;
	const url = `mysql://${encodeURIComponent(user ?? '')}:${encodeURIComponent(password ?? '')}@${host}:${port}/${encodeURIComponent(database ?? '')}`;
	const made = knex(knexConfig(url, { queryMs: PATIENT_MS, most: 4 }));
	sidePools.set(db, made);
	return made;
}

export async function closeDatabase(): Promise<void> {
	const current = shared;
	shared = undefined;
	if (!current) return;
	await sidePools.get(current.db)?.destroy();
	await current.db.destroy();
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
	'ER_UNKNOWN_COM_ERROR',
	'PROTOCOL_SEQUENCE_TIMEOUT',
	'ER_STATEMENT_TIMEOUT',
	'ER_ACCESS_DENIED_ERROR',
	'ER_DBACCESS_DENIED_ERROR',
	'ER_BAD_DB_ERROR',
	'TAVREK_NOT_OURS'
]);

/** True where an error says that the database cannot be reached now and may come back. */
export function isDatabaseAway(error: unknown): boolean {
	if (!(error instanceof Error)) return false;
	const { code, fatal } = error as { code?: unknown; fatal?: unknown };
	return (
		fatal === true ||
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
