import type { Knex } from 'knex';

/** Views that take long to work out, as they were last shown: a start shows them at once. May be emptied at any time. */
export async function up(db: Knex): Promise<void> {
	await db.raw(
		'CREATE TABLE IF NOT EXISTS shown_views (' +
			'name VARCHAR(191) CHARACTER SET ascii NOT NULL PRIMARY KEY, as_of DATETIME(3) NOT NULL, view LONGTEXT NOT NULL)'
	);
}

export async function down(db: Knex): Promise<void> {
	await db.schema.dropTableIfExists('shown_views');
}
