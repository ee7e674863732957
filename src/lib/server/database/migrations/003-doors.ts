import { createHash } from 'node:crypto';
import type { Knex } from 'knex';
import { asJson } from '../json';

/**
 * Doors: sign-in names compare by bytes (the database took some spellings for one name and the counting of attempts did
 * not), tokens have an owner, an end and a last use, attempts are counted in a table of their own, accounts can be asked to
 * choose a new password. Known-good readings are known by what they say without their withdrawal.
 */
export async function up(db: Knex): Promise<void> {
	await db.raw(
		'ALTER TABLE users MODIFY sign_in VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, ' +
			'ADD COLUMN IF NOT EXISTS must_change TINYINT(1) NOT NULL DEFAULT 0, ' +
			'ADD COLUMN IF NOT EXISTS password_until DATETIME(3) NULL'
	);
	await db.raw(
		'ALTER TABLE api_tokens ADD COLUMN IF NOT EXISTS owner_id BIGINT UNSIGNED NULL, ' +
			'ADD COLUMN IF NOT EXISTS expires_at DATETIME(3) NULL, ' +
			'ADD COLUMN IF NOT EXISTS used_at DATETIME(3) NULL'
	);
	// who made a token before it had an owner is in the trail by name; where that names nobody, the first manager answers for it
	await db.raw(
		`UPDATE api_tokens SET owner_id = COALESCE(
			(SELECT users.id FROM audit JOIN users ON users.name = audit.actor AND users.role = 'manager'
				WHERE audit.subject = 'token' AND audit.verb = 'make' AND audit.subject_key = api_tokens.label
				ORDER BY audit.id DESC LIMIT 1),
			(SELECT users.id FROM users WHERE users.role = 'manager' ORDER BY users.active DESC, users.id LIMIT 1))
		WHERE owner_id IS NULL`
	);
	await db.raw('DROP TABLE IF EXISTS sign_in_failures');
	await db.raw(
		`CREATE TABLE IF NOT EXISTS rate_limits (
			\`key\` VARCHAR(255) CHARACTER SET utf8 NOT NULL PRIMARY KEY,
			points INT NOT NULL DEFAULT 0,
			expire BIGINT UNSIGNED NULL
		) ENGINE=InnoDB`
	);
	await knownWithoutWithdrawal(db);
}

/** Withdrawn readings get the digest of what they say; equal ones are counted on. */
async function knownWithoutWithdrawal(db: Knex): Promise<void> {
	const rows = (await db('reference_readings')
		.whereRaw("JSON_CONTAINS_PATH(record, 'one', '$.withdrawn')")
		.orderBy('id')
		.select('id', 'record', 'digest')) as { id: number; record: unknown; digest: string }[];
	for (const { id, record, digest: oldDigest } of rows) {
		const { withdrawn: _, ...reading } = asJson(record) as Record<string, unknown>;
		const digest = createHash('sha256').update(JSON.stringify(reading)).digest('hex');
		if (digest === oldDigest) continue;
		const alike = (await db('reference_readings').where({ digest }).max({ most: 'occurrence' }).first()) as
			{ most: number | null } | undefined;
		await db('reference_readings')
			.where({ id })
			.update({ digest, occurrence: Number(alike?.most ?? 0) + 1 });
	}
}

export async function down(db: Knex): Promise<void> {
	await db.raw('DROP TABLE IF EXISTS rate_limits');
	await db.raw('ALTER TABLE api_tokens DROP COLUMN owner_id, DROP COLUMN expires_at, DROP COLUMN used_at');
	await db.raw('ALTER TABLE users DROP COLUMN must_change, DROP COLUMN password_until');
}
