import type { Knex } from 'knex';

/** What was foretold of closed tickets: worked out of them, so it may be emptied at any time; it does not travel. */
export async function up(db: Knex): Promise<void> {
	await db.raw(
		`CREATE TABLE IF NOT EXISTS predictions (
		ticket_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
		closed_at DATETIME(3) NOT NULL,
		digest CHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
		prediction LONGTEXT NOT NULL CHECK (JSON_VALID(prediction)),
		KEY prediction_closed (closed_at),
		CONSTRAINT prediction_ticket_fk FOREIGN KEY (ticket_id) REFERENCES tickets (id) ON DELETE CASCADE
		) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci`
	);
}

export async function down(db: Knex): Promise<void> {
	await db.raw('DROP TABLE IF EXISTS predictions');
}
