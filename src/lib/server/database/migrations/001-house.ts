import type { Knex } from 'knex';

/**
 * `record` columns hold the record of the exchange format; the columns beside it are drawn from it at
 * every save, to be searched and summed. Codes and numbers compare by bytes, names as people read.
 */
const TABLES: [name: string, sql: string][] = [
	[
		'catalog',
		`id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
		kind VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
		code VARCHAR(200) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
		record LONGTEXT NOT NULL CHECK (JSON_VALID(record)),
		version INT UNSIGNED NOT NULL DEFAULT 1,
		UNIQUE KEY catalog_key (kind, code)`
	],
	[
		'reference_readings',
		`id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
		model VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
		digest CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
		occurrence INT UNSIGNED NOT NULL,
		record LONGTEXT NOT NULL CHECK (JSON_VALID(record)),
		UNIQUE KEY reference_key (digest, occurrence),
		KEY reference_model (model)`
	],
	[
		'customers',
		`id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
		name VARCHAR(200) NOT NULL,
		kind VARCHAR(16) CHARACTER SET ascii NOT NULL,
		phone VARCHAR(64) NULL,
		email VARCHAR(200) NULL,
		digest CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
		UNIQUE KEY customer_key (digest),
		KEY customer_name (name)`
	],
	[
		'tickets',
		`id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
		number VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
		customer_id BIGINT UNSIGNED NULL,
		model VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
		serial VARCHAR(64) NULL,
		opened_at DATETIME(3) NOT NULL,
		closed_at DATETIME(3) NULL,
		promised_at DATETIME(3) NULL,
		outcome VARCHAR(16) CHARACTER SET ascii NULL,
		assigned_to VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL,
		waiting_for VARCHAR(16) CHARACTER SET ascii NULL,
		comeback_of VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NULL,
		paid_minor BIGINT NULL,
		parts_minor BIGINT NOT NULL DEFAULT 0,
		labour_minor BIGINT NOT NULL DEFAULT 0,
		minutes DECIMAL(12,2) NOT NULL DEFAULT 0,
		record LONGTEXT NOT NULL CHECK (JSON_VALID(record)),
		passcode VARBINARY(512) NULL,
		version INT UNSIGNED NOT NULL DEFAULT 1,
		history_seq BIGINT UNSIGNED NOT NULL DEFAULT 0,
		UNIQUE KEY ticket_number (number),
		KEY ticket_open (closed_at, promised_at),
		KEY ticket_opened (opened_at),
		KEY ticket_serial (serial),
		KEY ticket_customer (customer_id),
		KEY ticket_comeback (comeback_of),
		KEY ticket_history (history_seq),
		CONSTRAINT ticket_customer_fk FOREIGN KEY (customer_id) REFERENCES customers (id)`
	],
	[
		'counters',
		`name VARCHAR(16) CHARACTER SET ascii NOT NULL PRIMARY KEY,
		value BIGINT UNSIGNED NOT NULL`
	],
	[
		'users',
		`id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
		sign_in VARCHAR(64) NOT NULL,
		name VARCHAR(200) NOT NULL,
		role VARCHAR(16) CHARACTER SET ascii NOT NULL,
		technician VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL,
		password_hash VARCHAR(255) CHARACTER SET ascii NOT NULL,
		active TINYINT(1) NOT NULL DEFAULT 1,
		created_at DATETIME(3) NOT NULL,
		version INT UNSIGNED NOT NULL DEFAULT 1,
		UNIQUE KEY user_sign_in (sign_in)`
	],
	[
		'sessions',
		`id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
		user_id BIGINT UNSIGNED NOT NULL,
		token_hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
		previous_hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL,
		created_at DATETIME(3) NOT NULL,
		rotated_at DATETIME(3) NOT NULL,
		seen_at DATETIME(3) NOT NULL,
		UNIQUE KEY session_token (token_hash),
		KEY session_previous (previous_hash),
		CONSTRAINT session_user_fk FOREIGN KEY (user_id) REFERENCES users (id) ON DELETE CASCADE`
	],
	[
		'sign_in_failures',
		`id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
		subject CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
		at DATETIME(3) NOT NULL,
		KEY failure_subject (subject, at)`
	],
	[
		'api_tokens',
		`id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
		label VARCHAR(200) NOT NULL,
		role VARCHAR(16) CHARACTER SET ascii NOT NULL,
		token_hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
		created_at DATETIME(3) NOT NULL,
		revoked_at DATETIME(3) NULL,
		UNIQUE KEY api_token (token_hash)`
	],
	[
		'submissions',
		`once CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
		at DATETIME(3) NOT NULL,
		answer VARCHAR(200) NOT NULL`
	],
	[
		'audit',
		`id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
		at DATETIME(3) NOT NULL,
		actor VARCHAR(200) NOT NULL,
		subject VARCHAR(16) CHARACTER SET ascii NOT NULL,
		subject_key VARCHAR(200) NOT NULL,
		version INT UNSIGNED NULL,
		verb VARCHAR(32) CHARACTER SET ascii NOT NULL,
		detail LONGTEXT NOT NULL CHECK (JSON_VALID(detail)),
		KEY audit_subject (subject, subject_key, version)`
	]
];

export async function up(db: Knex): Promise<void> {
	for (const [name, columns] of TABLES) {
		await db.raw(
			`CREATE TABLE IF NOT EXISTS ${name} (${columns}) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci`
		);
	}
	for (const counter of ['ticket', 'history', 'catalog', 'relearn', 'reference']) {
		await db.raw('INSERT IGNORE INTO counters (name, value) VALUES (?, 0)', [counter]);
	}
}

export async function down(db: Knex): Promise<void> {
	for (const [name] of [...TABLES].reverse()) await db.raw(`DROP TABLE IF EXISTS ${name}`);
}
