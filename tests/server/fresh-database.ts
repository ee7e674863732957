import knex from 'knex';
import { inject } from 'vitest';
import { knexConfig } from '$lib/server/database/config';
import type { Database } from '$lib/server/database/connection';
import { migrate } from '$lib/server/database/migrate';

let made = 0;

/** An empty, migrated database of the test's own. */
export async function freshDatabase(): Promise<Database> {
	const { db } = await freshDatabaseUrl();
	await migrate(db);
	return db;
}

/** The same, not migrated, with its URL. */
export async function freshDatabaseUrl(): Promise<{ db: Database; url: string }> {
	const url = new URL(inject('databaseUrl'));
	const name = `tavrek_${process.pid}_${Date.now().toString(36)}_${made++}`;
	const admin = knex(knexConfig(url.href));
	await admin.raw(`CREATE DATABASE ${name} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci`);
	await admin.destroy();
	url.pathname = `/${name}`;
	return { db: knex(knexConfig(url.href)), url: url.href };
}
