import { asJson } from '../database/json';
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

/** Adds to the trail of who changed what. The table is only ever added to, but for what is erased on a customer's request. */
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

/** Takes out of the lines of a thing what says who somebody is; that they were written stays. */
export async function blotTrail(
	trx: Queryable,
	subject: AuditEntry['subject'],
	key: string,
	blot: (detail: Record<string, unknown>) => Record<string, unknown>
): Promise<void> {
	const lines = await trx('audit').where({ subject, subject_key: key }).select('id', 'detail');
	for (const { id, detail } of lines) {
		const entry = asJson(detail);
		const original = JSON.stringify(entry);
		const blotted = JSON.stringify(blot(structuredClone(entry)));
		if (blotted !== original) await trx('audit').where({ id }).update({ detail: blotted });
	}
}

/** Somebody who is known was refused at a door. */
export const noteRefusal = (db: Queryable, at: number, actor: string, key: string) =>
	recordAudit(db, { at, actor, subject: 'door', key: key.slice(0, 200), verb: 'refused', detail: {} });
