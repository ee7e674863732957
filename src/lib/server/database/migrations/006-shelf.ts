import type { Knex } from 'knex';

/**
 * Parts come from lots: a use names the lot and the moment that it counts from (its own, else when the ticket was closed, else
 * when it was opened). No record before this version names a lot.
 */
export async function up(db: Knex): Promise<void> {
	await db.raw(
		'ALTER TABLE part_uses ADD COLUMN IF NOT EXISTS lot VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL, ' +
			'ADD COLUMN IF NOT EXISTS used_at DATETIME(3) NULL, ADD INDEX IF NOT EXISTS part_uses_lot (lot)'
	);
	await db.raw(
		`UPDATE part_uses JOIN tickets ON tickets.id = part_uses.ticket_id
		SET part_uses.used_at = COALESCE(part_uses.at, tickets.closed_at, tickets.opened_at)
		WHERE part_uses.used_at IS NULL`
	);
	await db.raw("INSERT IGNORE INTO counters (name, value) VALUES ('shelf', 0)");
}

export async function down(db: Knex): Promise<void> {
	await db.raw('ALTER TABLE part_uses DROP COLUMN lot, DROP COLUMN used_at');
	await db.raw("DELETE FROM counters WHERE name = 'shelf'");
}
