import type { Knex } from 'knex';
import { DAY_MS } from '$lib/core/units/instant';
import { recordAudit } from '../audit/commands';
import { inTransaction, type Database } from '../database/connection';
import { hashToken, newToken } from './secrets';

/** A secret address under which a calendar program reads one person's day. The store keeps its hash: it is shown once. */
const hashOf = (secret: string) => Buffer.from(hashToken(secret), 'hex');

export interface CalendarLink {
	technician: string;
	createdAt: number;
	/** null: made before links had an end */
	endsAt: number | null;
}

/** Days after which a link ends; the manager chooses. */
export const LINK_DAYS = [30, 90, 365] as const;

export const calendarLinks = async (db: Database): Promise<CalendarLink[]> => {
	const rows = await db('calendar_links').orderBy('id').select('technician', 'created_at', 'ends_at');
	return rows.map(({ technician, created_at, ends_at }) => ({
		technician,
		createdAt: created_at.getTime(),
		endsAt: ends_at?.getTime() ?? null
	}));
};

/** Makes a link for one person; the one before ends. @returns the secret, which nobody can read again */
export async function makeCalendarLink(
	db: Database,
	actor: string,
	now: number,
	technician: string,
	days: (typeof LINK_DAYS)[number] = 365
): Promise<string> {
	const secret = newToken();
	await inTransaction(db, async (trx) => {
		await trx('calendar_links').where({ technician }).delete();
		await trx('calendar_links').insert({
			technician,
			secret_hash: hashOf(secret),
			created_at: new Date(now),
			ends_at: new Date(now + days * DAY_MS),
			created_by: actor
		});
		await recordAudit(trx, {
			at: now,
			actor,
			subject: 'calendar',
			key: technician,
			version: 1,
			verb: 'make-link',
			detail: {}
		});
	});
	return secret;
}

/** Ends a link: whoever has it reads nothing any more. */
export async function endCalendarLink(
	db: Database,
	actor: string,
	now: number,
	technician: string
): Promise<void> {
	await inTransaction(db, async (trx) => {
		const ended = await trx('calendar_links').where({ technician }).delete();
		if (ended === 0) return;
		await recordAudit(trx, {
			at: now,
			actor,
			subject: 'calendar',
			key: technician,
			version: 1,
			verb: 'end-link',
			detail: {}
		});
	});
}

/** Ends the links of somebody who works here no more, in the transaction that says so. */
export const endLinksOf = (trx: Knex.Transaction, technician: string): Promise<number> =>
	trx('calendar_links').where({ technician }).delete();

/** Whose day a secret shows; null where it has ended or never was. */
export async function technicianOfLink(db: Database, secret: string, now: number): Promise<string | null> {
	if (!/^[A-Za-z0-9_-]{40,60}$/.test(secret)) return null;
	const row = await db('calendar_links')
		.where({ secret_hash: hashOf(secret) })
		.andWhere((ends) => ends.whereNull('ends_at').orWhere('ends_at', '>', new Date(now)))
		.first('technician');
	return row?.technician ?? null;
}
