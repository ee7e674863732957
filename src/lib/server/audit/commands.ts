import type { Knex } from 'knex';

export interface AuditEntry {
	at: number;
	actor: string;
	subject: 'ticket' | 'catalog' | 'user' | 'token' | 'import' | 'reference';
	key: string;
	version?: number;
	verb: string;
	detail: Record<string, unknown>;
}

/** Adds to the trail of who changed what. The table is only ever added to: there is no other command. */
export async function recordAudit(trx: Knex.Transaction, entry: AuditEntry): Promise<void> {
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
