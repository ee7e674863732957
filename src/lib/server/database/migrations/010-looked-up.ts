import type { Knex } from 'knex';

/**
 * When somebody last said how a device does that was handed over, and whether it held; damage that the repair itself made. Calls,
 * customers and comebacks are found without reading records.
 */
export async function up(db: Knex): Promise<void> {
	await db.raw(
		'ALTER TABLE tickets ADD COLUMN IF NOT EXISTS asked_at DATETIME(3) NULL, ' +
			'ADD COLUMN IF NOT EXISTS held TINYINT(1) NULL, ' +
			'ADD COLUMN IF NOT EXISTS harmed TINYINT(1) NOT NULL DEFAULT 0, ' +
			'ADD INDEX IF NOT EXISTS ticket_asked (asked_at), ' +
			'ADD INDEX IF NOT EXISTS ticket_harmed (harmed, closed_at), ' +
			'ADD INDEX IF NOT EXISTS ticket_collected (collected_at), ' +
			'ADD INDEX IF NOT EXISTS ticket_back (comeback_of, version), ' +
			'ADD INDEX IF NOT EXISTS ticket_visits (customer_id, opened_at, closed_at), ' +
			// the new ones begin with theirs
			'DROP INDEX IF EXISTS ticket_comeback, DROP INDEX IF EXISTS ticket_customer'
	);
	await db.raw("UPDATE tickets SET harmed = 1 WHERE JSON_CONTAINS_PATH(record, 'one', '$.own_faults[0]')");
	// tickets of the version before say so in their records
	const rows = (await db('tickets')
		.whereNotNull('collected_at')
		.whereRaw("JSON_CONTAINS_PATH(record, 'one', '$.dealings[*].followed_up')")
		.select('id', 'collected_at', db.raw("JSON_EXTRACT(record, '$.dealings') AS dealings"))) as {
		id: number;
		collected_at: Date;
		dealings: unknown;
	}[];
	for (const { id, collected_at: back, dealings } of rows) {
		const all = (typeof dealings === 'string' ? JSON.parse(dealings) : dealings) as {
			followed_up?: string;
			at?: string;
		}[];
		const answered = all.findLast(
			({ followed_up: found, at }) =>
				found !== undefined && found !== 'not-reached' && at !== undefined && Date.parse(at) >= back.getTime()
		);
		if (!answered?.at) continue;
		await db('tickets')
			.where({ id })
			.update({ asked_at: new Date(answered.at), held: answered.followed_up === 'holds' });
	}
}

export async function down(db: Knex): Promise<void> {
	await db.raw(
		'ALTER TABLE tickets ADD INDEX ticket_comeback (comeback_of), ADD INDEX ticket_customer (customer_id), ' +
			'DROP INDEX ticket_asked, DROP INDEX ticket_harmed, DROP INDEX ticket_collected, DROP INDEX ticket_back, ' +
			'DROP INDEX ticket_visits, DROP COLUMN asked_at, DROP COLUMN held, DROP COLUMN harmed'
	);
}
