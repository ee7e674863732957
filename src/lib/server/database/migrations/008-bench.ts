import type { Knex } from 'knex';

/** Waits that end by themselves, and links to the calendars of who works here. No wait before this version has an end. */
export async function up(db: Knex): Promise<void> {
	await db.raw(
		'ALTER TABLE tickets ADD COLUMN IF NOT EXISTS wait_until DATETIME(3) NULL, ' +
			'ADD COLUMN IF NOT EXISTS promised_chance FLOAT NULL, ' +
			// why a device came back; no record before this version says it
			'ADD COLUMN IF NOT EXISTS cause VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL, ' +
			'ADD INDEX IF NOT EXISTS tickets_wait (wait_until)'
	);
	await db.raw(
		`CREATE TABLE IF NOT EXISTS calendar_links (
			id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
			technician VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
			secret_hash BINARY(32) NOT NULL,
			created_at DATETIME(3) NOT NULL,
			created_by VARCHAR(64) NOT NULL,
			UNIQUE KEY calendar_links_secret (secret_hash),
			KEY calendar_links_technician (technician)
		) ENGINE=InnoDB`
	);
}

export async function down(db: Knex): Promise<void> {
	await db.raw('DROP TABLE IF EXISTS calendar_links');
	await db.raw('ALTER TABLE tickets DROP COLUMN wait_until, DROP COLUMN promised_chance, DROP COLUMN cause');
}
