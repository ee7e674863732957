import type { Knex } from 'knex';

/**
 * The language that a message is written in, so that one whose customer reads another by now is written anew; the warranty that an
 * accepted offer gave, so that a longer one than the shop's is found; for which ticket a picture was sent; when a calendar link ends, and
 * that a device's link has ended.
 */
export async function up(db: Knex): Promise<void> {
	await db.raw('ALTER TABLE messages ADD COLUMN IF NOT EXISTS language VARCHAR(3) CHARACTER SET ascii NULL');
	await db.raw('ALTER TABLE tickets ADD COLUMN IF NOT EXISTS offered_warranty SMALLINT UNSIGNED NULL');
	await db.raw(
		`CREATE TABLE IF NOT EXISTS photo_uploads (
			photo CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
			ticket_id BIGINT UNSIGNED NOT NULL,
			at DATETIME(3) NOT NULL,
			PRIMARY KEY (photo, ticket_id),
			KEY photo_uploads_ticket (ticket_id),
			KEY photo_uploads_at (at),
			CONSTRAINT photo_upload_ticket_fk FOREIGN KEY (ticket_id) REFERENCES tickets (id) ON DELETE CASCADE
		) ENGINE=InnoDB`
	);
	await db.raw('ALTER TABLE calendar_links ADD COLUMN IF NOT EXISTS ends_at DATETIME(3) NULL');
	await db.raw('ALTER TABLE tickets ADD COLUMN IF NOT EXISTS page_ended TINYINT(1) NOT NULL DEFAULT 0');
	// tickets of the version before say so in their records
	const rows = (await db('tickets')
		.whereRaw("JSON_CONTAINS_PATH(record, 'one', '$.dealings[*].offered[*].warranty_days')")
		.select('id', db.raw("JSON_EXTRACT(record, '$.dealings') AS dealings"))) as {
		id: number;
		dealings: unknown;
	}[];
	for (const { id, dealings } of rows) {
		const all = (typeof dealings === 'string' ? JSON.parse(dealings) : dealings) as Dealing[];
		const at = all.findLastIndex(({ quoted, offered }) => quoted !== undefined || offered !== undefined);
		const answer = all.slice(Math.max(0, at)).findLast(({ accepted }) => accepted !== undefined);
		const days = answer?.accepted ? all[at]?.offered?.[answer.option ?? 0]?.warranty_days : undefined;
		if (days !== undefined) await db('tickets').where({ id }).update({ offered_warranty: days });
	}
}
interface Dealing {
	quoted?: number;
	offered?: { warranty_days?: number }[];
	accepted?: boolean;
	option?: number;
}

export async function down(db: Knex): Promise<void> {
	await db.raw('ALTER TABLE messages DROP COLUMN language');
	await db.raw('DROP TABLE IF EXISTS photo_uploads');
	await db.raw('ALTER TABLE calendar_links DROP COLUMN ends_at');
	await db.raw('ALTER TABLE tickets DROP COLUMN offered_warranty, DROP COLUMN page_ended');
}
