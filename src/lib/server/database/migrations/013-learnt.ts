import type { Knex } from 'knex';

/** What was learnt of closed tickets, as the next start takes it up, in pieces. May be emptied at any time. */
export async function up(db: Knex): Promise<void> {
	await db.raw(
		'CREATE TABLE IF NOT EXISTS learnt (' +
			'piece INT UNSIGNED NOT NULL PRIMARY KEY, pieces INT UNSIGNED NOT NULL, ' +
			'version VARCHAR(64) CHARACTER SET ascii NOT NULL, body LONGBLOB NOT NULL)'
	);
	// written in a plainer way, which lost what is no number: they are worked out at the first look
	await db('shown_views').delete();
	await db.raw(
		"ALTER TABLE shown_views ADD COLUMN IF NOT EXISTS build VARCHAR(64) CHARACTER SET ascii NOT NULL DEFAULT ''"
	);
}

export async function down(db: Knex): Promise<void> {
	await db.schema.dropTableIfExists('learnt');
	await db('shown_views').delete();
	await db.raw('ALTER TABLE shown_views DROP COLUMN IF EXISTS build');
}
