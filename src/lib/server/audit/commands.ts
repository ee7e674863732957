import type { Queryable } from '../database/connection';

export interface AuditEntry {
	at: number;
	actor: string;
	subject:
		| 'ticket'
		| 'catalog'
		| 'user'
		| 'token'
		| 'import'
		| 'reference'
		| 'door'
		| 'export'
		| 'shelf'
		| 'calendar'
		| 'message'
		| 'customer';
	key: string;
	version?: number;
	verb: string;
	detail: Record<string, unknown>;
}

/** Adds to the trail of who changed what. The table is only ever added to: there is no other command. */
export async function recordAudit(trx: Queryable, entry: AuditEntry): Promise<void> {
	await trx('audit').insert({
		at: new Date(entry.at),
		actor: entry.actor,
		subject: entry.subject,
		subject_key: entry.key,
		version: entry.version ?? null,
		verb: entry.verb,
		detail: JSON.stringify(entry.detail)
	});
}

/** Somebody who is known was refused at a door. */
export const noteRefusal = (db: Queryable, at: number, actor: string, key: string) =>
	recordAudit(db, { at, actor, subject: 'door', key: key.slice(0, 200), verb: 'refused', detail: {} });
