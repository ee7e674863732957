import type { Knex } from 'knex';
import { asJson } from '../json';

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
			// what an accepted price is for and what was used already, while the ticket is open
			'ADD COLUMN IF NOT EXISTS agreed TEXT NULL, ' +
			// the place of its last change of parts among all
			'ADD COLUMN IF NOT EXISTS uses_seq BIGINT UNSIGNED NOT NULL DEFAULT 0, ' +
			'ADD INDEX IF NOT EXISTS tickets_owed (owed_minor), ' +
			'ADD INDEX IF NOT EXISTS tickets_uses (uses_seq)'
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
			KEY payments_at (at, paid_by, amount_minor)
		) ENGINE=InnoDB`
	);
	await fillAgreed(db);
	await db.raw("INSERT IGNORE INTO counters (name, value) VALUES ('uses', 0)");
	// cut off in between, it begins again
	await db.raw('DELETE FROM payments');
	await db.raw(
		`INSERT INTO payments (ticket_id, n, at, amount_minor, tax_minor, paid_by, settles)
		SELECT id, 1, COALESCE(closed_at, opened_at), paid_minor, 0, NULL, 0 FROM tickets WHERE paid_minor > 0`
	);
}

interface OldRecord {
	faults?: string[] | null;
	parts?: { sku: string; quantity: number }[];
	dealings?: { quoted?: number; operations?: string[] }[];
}

/** As the program draws it today (`tickets/rows.ts`); no record before this version holds an offer of several ways. */
async function fillAgreed(db: Knex): Promise<void> {
	const rows = (await db('tickets')
		.whereNull('closed_at')
		.andWhere({ accepted: true })
		.select('id', 'record')) as {
		id: number;
		record: unknown;
	}[];
	for (const { id, record } of rows) {
		const { faults, parts = [], dealings = [] } = asJson(record) as OldRecord;
		const agreed = {
			operations: dealings.findLast(({ quoted }) => quoted !== undefined)?.operations ?? [],
			faults: faults ?? [],
			parts: parts.map(({ sku, quantity }) => ({ sku, quantity }))
		};
		await db('tickets')
			.where({ id })
			.update({ agreed: JSON.stringify(agreed) });
	}
}

export async function down(db: Knex): Promise<void> {
	await db.raw('DROP TABLE IF EXISTS payments');
	await db.raw(
		'ALTER TABLE tickets DROP COLUMN tax_minor, DROP COLUMN owed_minor, DROP COLUMN due_at, ' +
			'DROP COLUMN collected_at, DROP COLUMN agreed, DROP COLUMN uses_seq'
	);
	await db.raw("DELETE FROM counters WHERE name = 'uses'");
}
