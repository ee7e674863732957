import type { Knex } from 'knex';

/** An attempt may be a step of a longer repair. No record before this version says so. */
export async function up(db: Knex): Promise<void> {
	await db.raw('ALTER TABLE attempts ADD COLUMN IF NOT EXISTS part TINYINT(1) NOT NULL DEFAULT 0');
}

export async function down(db: Knex): Promise<void> {
	await db.raw('ALTER TABLE attempts DROP COLUMN part');
}
