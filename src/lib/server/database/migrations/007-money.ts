import type { Knex } from 'knex';

/**
 * Payments in parts and by kind, tax, what is owed on invoices, and when the customer had the device back. No record before this
 * version says more of its payment than how much it was: that is one payment, at its closing, of no kind.
 */
export async function up(db: Knex): Promise<void> {
	await db.raw(
		'ALTER TABLE tickets ADD COLUMN IF NOT EXISTS tax_minor BIGINT NOT NULL DEFAULT 0, ' +
			'ADD COLUMN IF NOT EXISTS owed_minor BIGINT NOT NULL DEFAULT 0, ' +
			'ADD COLUMN IF NOT EXISTS due_at DATETIME(3) NULL, ' +
			'ADD COLUMN IF NOT EXISTS collected_at DATETIME(3) NULL, ' +
			'ADD INDEX IF NOT EXISTS tickets_owed (owed_minor)'
	);
	await db.raw(
		`CREATE TABLE IF NOT EXISTS payments (
			ticket_id BIGINT UNSIGNED NOT NULL,
			n SMALLINT UNSIGNED NOT NULL,
			at DATETIME(3) NOT NULL,
			amount_minor BIGINT NOT NULL,
			tax_minor BIGINT NOT NULL,
			paid_by VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NULL,
			settles TINYINT(1) NOT NULL,
			PRIMARY KEY (ticket_id, n),
			KEY payments_at (at)
		) ENGINE=InnoDB`
	);
	// cut off in between, it begins again
	await db.raw('DELETE FROM payments');
	await db.raw(
		`INSERT INTO payments (ticket_id, n, at, amount_minor, tax_minor, paid_by, settles)
		SELECT id, 1, COALESCE(closed_at, opened_at), paid_minor, 0, NULL, 0 FROM tickets WHERE paid_minor > 0`
	);
}

export async function down(db: Knex): Promise<void> {
	await db.raw('DROP TABLE IF EXISTS payments');
	await db.raw(
		'ALTER TABLE tickets DROP COLUMN tax_minor, DROP COLUMN owed_minor, DROP COLUMN due_at, DROP COLUMN collected_at'
	);
}
