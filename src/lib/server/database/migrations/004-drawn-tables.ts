import type { Knex } from 'knex';

/**
 * What is summed over many tickets is drawn into columns and tables of its own at each save: quotes and answers, attempts,
 * parts. Filled here from the records that are stored.
 */
export async function up(db: Knex): Promise<void> {
	await db.raw(
		'ALTER TABLE tickets ADD COLUMN IF NOT EXISTS quoted_minor BIGINT NULL, ' +
			'ADD COLUMN IF NOT EXISTS accepted TINYINT(1) NULL'
	);
	await db.raw(
		`CREATE TABLE IF NOT EXISTS attempts (
			ticket_id BIGINT UNSIGNED NOT NULL,
			n SMALLINT UNSIGNED NOT NULL,
			operation VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
			technician VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL,
			minutes DOUBLE NULL,
			hourly_minor BIGINT NULL,
			resolved TINYINT(1) NOT NULL,
			at DATETIME(3) NULL,
			PRIMARY KEY (ticket_id, n),
			KEY attempts_operation (operation)
		) ENGINE=InnoDB`
	);
	await db.raw(
		`CREATE TABLE IF NOT EXISTS part_uses (
			ticket_id BIGINT UNSIGNED NOT NULL,
			n SMALLINT UNSIGNED NOT NULL,
			sku VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
			quantity DOUBLE NOT NULL,
			unit_minor BIGINT NULL,
			at DATETIME(3) NULL,
			PRIMARY KEY (ticket_id, n),
			KEY part_uses_sku (sku)
		) ENGINE=InnoDB`
	);
	await db.raw(
		`UPDATE tickets SET
			quoted_minor = ROUND(JSON_VALUE(record, '$.quoted') * 100),
			accepted = CASE JSON_VALUE(record, '$.accepted') WHEN 'true' THEN 1 WHEN '1' THEN 1
				WHEN 'false' THEN 0 WHEN '0' THEN 0 ELSE NULL END`
	);
	// cut off in between, it begins again
	await db.raw('DELETE FROM attempts');
	await db.raw('DELETE FROM part_uses');
	await db.raw(`${ATTEMPTS_OF} FROM tickets, ${ATTEMPTS_IN}`);
	await db.raw(`${PARTS_OF} FROM tickets, ${PARTS_IN}`);
}

export async function down(db: Knex): Promise<void> {
	await db.raw('DROP TABLE IF EXISTS attempts');
	await db.raw('DROP TABLE IF EXISTS part_uses');
	await db.raw('ALTER TABLE tickets DROP COLUMN quoted_minor, DROP COLUMN accepted');
}

/** A moment of a record, always UTC, as the database writes it. */
const AT = "CAST(REPLACE(REPLACE(j.at, 'T', ' '), 'Z', '') AS DATETIME(3))";

/** As the program draws them today (`tickets/drawn-tables.ts`); a later change of that does not change what ran here. */
const ATTEMPTS_OF = `INSERT INTO attempts (ticket_id, n, operation, technician, minutes, hourly_minor, resolved, at)
	SELECT tickets.id, j.n, j.operation, j.technician, j.minutes, ROUND(j.hourly * 100), j.resolved IN ('true', '1'), ${AT}`;
const ATTEMPTS_IN = `JSON_TABLE(tickets.record, '$.attempts[*]' COLUMNS (
	n FOR ORDINALITY,
	operation VARCHAR(64) PATH '$.operation',
	technician VARCHAR(64) PATH '$.technician',
	minutes DOUBLE PATH '$.minutes',
	hourly DECIMAL(14,2) PATH '$.hourly_cost',
	resolved VARCHAR(5) PATH '$.resolved',
	at VARCHAR(40) PATH '$.at')) j`;
const PARTS_OF = `INSERT INTO part_uses (ticket_id, n, sku, quantity, unit_minor, at)
	SELECT tickets.id, j.n, j.sku, j.quantity, ROUND(j.unit * 100), ${AT}`;
const PARTS_IN = `JSON_TABLE(tickets.record, '$.parts[*]' COLUMNS (
	n FOR ORDINALITY,
	sku VARCHAR(64) PATH '$.sku',
	quantity DOUBLE PATH '$.quantity',
	unit DECIMAL(14,2) PATH '$.unit_cost',
	at VARCHAR(40) PATH '$.at')) j`;
