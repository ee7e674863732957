import type { Queryable } from '../database/connection';
import { asJson } from '../database/json';
import type { Row } from '../database/tables';

export interface AuditLine {
	at: number;
	actor: string;
	subject: string;
	key: string;
	version: number | null;
	verb: string;
	detail: Record<string, unknown>;
}

const toLine = (row: Row<'audit'>): AuditLine => ({
	at: row.at.getTime(),
	actor: row.actor,
	subject: row.subject,
	key: row.subject_key,
	version: row.version,
	verb: row.verb,
	detail: asJson(row.detail)
});

/** What was done to a subject after the version that somebody has on the screen. */
export async function changesSince(
	db: Queryable,
	subject: string,
	key: string,
	version: number
): Promise<AuditLine[]> {
	const rows = await db('audit')
		.where({ subject, subject_key: key })
		.andWhere('version', '>', version)
		.orderBy('id')
		.limit(50);
	return rows.map(toLine);
}

/** The latest entries of the whole shop, newest first. */
export async function latestAudit(db: Queryable, limit = 200): Promise<AuditLine[]> {
	const rows = await db('audit').orderBy('id', 'desc').limit(limit);
	return rows.map(toLine);
}
