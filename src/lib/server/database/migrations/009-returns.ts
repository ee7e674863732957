import type { Knex } from 'knex';

/** Which procedures a job followed, how a customer wants to hear of it, and the words that go out. */
export async function up(db: Knex): Promise<void> {
	await db.raw(
		'ALTER TABLE tickets ADD COLUMN IF NOT EXISTS methods VARCHAR(1000) CHARACTER SET ascii COLLATE ascii_bin NULL'
	);
	await db.raw(
		'ALTER TABLE customers ADD COLUMN IF NOT EXISTS language VARCHAR(3) CHARACTER SET ascii NULL, ' +
			'ADD COLUMN IF NOT EXISTS hears_by VARCHAR(8) CHARACTER SET ascii NULL, ' +
			'ADD COLUMN IF NOT EXISTS erased_at DATETIME(3) NULL, ' +
			'ADD INDEX IF NOT EXISTS customer_phone (phone)'
	);
	// tickets that followed procedures before this version say so in their records
	const rows = (await db('tickets')
		.whereRaw("JSON_CONTAINS_PATH(record, 'one', '$.steps[0]')")
		.select('id', db.raw("JSON_EXTRACT(record, '$.steps[*]') AS steps"))) as { id: number; steps: unknown }[];
	for (const { id, steps } of rows) {
		const all = (typeof steps === 'string' ? JSON.parse(steps) : steps) as {
			procedure: string;
			did: string;
		}[];
		const procedures = [
			...new Set(all.filter(({ did: action }) => action === 'done').map(({ procedure }) => procedure))
		];
		if (procedures.length > 0)
			await db('tickets')
				.where({ id })
				.update({ methods: JSON.stringify(procedures) });
	}
	await db.raw(
		`CREATE TABLE IF NOT EXISTS messages (
			id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
			ticket_id BIGINT UNSIGNED NOT NULL,
			about VARCHAR(24) CHARACTER SET ascii NOT NULL,
			channel VARCHAR(8) CHARACTER SET ascii NOT NULL,
			once CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
			recipient VARCHAR(200) NOT NULL,
			subject VARCHAR(400) NULL,
			body TEXT NOT NULL,
			state VARCHAR(8) CHARACTER SET ascii NOT NULL,
			tries INT NOT NULL DEFAULT 0,
			next_at DATETIME(3) NULL,
			claimed_by CHAR(36) CHARACTER SET ascii NULL,
			claimed_at DATETIME(3) NULL,
			problem VARCHAR(500) NULL,
			created_at DATETIME(3) NOT NULL,
			sent_at DATETIME(3) NULL,
			UNIQUE KEY messages_once (once),
			KEY messages_due (state, next_at),
			KEY messages_ticket (ticket_id),
			CONSTRAINT message_ticket_fk FOREIGN KEY (ticket_id) REFERENCES tickets (id) ON DELETE CASCADE
		) ENGINE=InnoDB`
	);
	await db.raw(
		`CREATE TABLE IF NOT EXISTS caught_messages (
			id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
			channel VARCHAR(8) CHARACTER SET ascii NOT NULL,
			sender VARCHAR(200) NOT NULL,
			recipient VARCHAR(200) NOT NULL,
			message_id VARCHAR(200) NOT NULL,
			subject VARCHAR(400) NULL,
			body TEXT NOT NULL,
			at DATETIME(3) NOT NULL
		) ENGINE=InnoDB`
	);
}

export async function down(db: Knex): Promise<void> {
	await db.raw('DROP TABLE IF EXISTS caught_messages');
	await db.raw('DROP TABLE IF EXISTS messages');
	await db.raw(
		'ALTER TABLE customers DROP INDEX customer_phone, DROP COLUMN language, DROP COLUMN hears_by, DROP COLUMN erased_at'
	);
	await db.raw('ALTER TABLE tickets DROP COLUMN methods');
}
