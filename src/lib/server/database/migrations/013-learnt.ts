import type { Knex } from 'knex';

/** What was learnt of closed tickets, as the next start takes it up, in pieces. May be emptied at any time. */
export async function up(db: Knex): Promise<void> {
	await db.raw(
		'CREATE TABLE IF NOT EXISTS learnt (' +
			'piece INT UNSIGNED NOT NULL PRIMARY KEY, pieces INT UNSIGNED NOT NULL, ' +
			'version VARCHAR(64) CHARACTER SET ascii NOT NULL, body LONGBLOB NOT NULL)'
	);
}

export async function down(db: Knex): Promise<void> {
	await db.schema.dropTableIfExists('learnt');
}
