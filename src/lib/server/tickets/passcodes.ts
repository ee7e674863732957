import { createCipheriv, createDecipheriv, createHash, randomBytes } from 'node:crypto';
import { isTicketNumber } from '$lib/core/units/code';
import { recordAudit } from '../audit/commands';
import { inTransaction, type Database } from '../database/connection';
import type { Actor } from './actor';

/**
 * AES-256-GCM with a key that lives outside the database: in the environment (TAVREK_KEY) or in the
 * data folder, handed over by the start script. The ticket's number is bound in, so that a sealed
 * passcode cannot be moved to another ticket.
 */
function key(): Buffer {
	const secret = process.env.TAVREK_KEY;
	if (!secret) throw new Error('TAVREK_KEY is not set: passcodes can be neither sealed nor read');
	return createHash('sha256').update(secret).digest();
}

export function sealPasscode(passcode: string, ticketNumber: string): Buffer {
	const nonce = randomBytes(12);
	const cipher = createCipheriv('aes-256-gcm', key(), nonce).setAAD(Buffer.from(ticketNumber));
	const sealed = Buffer.concat([cipher.update(passcode, 'utf8'), cipher.final()]);
	return Buffer.concat([nonce, cipher.getAuthTag(), sealed]);
}

/** The passcode, or null where the key is another than it was sealed with. */
function openPasscode(sealed: Buffer, ticketNumber: string): string | null {
	try {
		const decipher = createDecipheriv('aes-256-gcm', key(), sealed.subarray(0, 12))
			.setAAD(Buffer.from(ticketNumber))
			.setAuthTag(sealed.subarray(12, 28));
		return Buffer.concat([decipher.update(sealed.subarray(28)), decipher.final()]).toString('utf8');
	} catch {
		return null;
	}
}

export type PasscodeAnswer =
	{ ok: true; passcode: string } | { ok: false; code: 'none' | 'unreadable' | 'not-yours' };

/**
 * Shows the passcode of an open ticket to who works on it, the technician who has the ticket, or to the
 * manager, and notes that it was shown.
 */
export async function showPasscode(
	db: Database,
	viewer: Actor & { technician: string | null },
	now: number,
	number: string
): Promise<PasscodeAnswer> {
	if (!isTicketNumber(number)) return { ok: false, code: 'none' };
	return inTransaction(db, async (trx): Promise<PasscodeAnswer> => {
		const row = await trx('tickets')
			.where({ number })
			.whereNull('closed_at')
			.first('passcode', 'version', 'assigned_to');
		if (!row?.passcode) return { ok: false, code: 'none' };
		const isAssigned = viewer.technician !== null && viewer.technician === row.assigned_to;
		if (viewer.role !== 'manager' && !isAssigned) return { ok: false, code: 'not-yours' };
		const passcode = openPasscode(row.passcode, number);
		await recordAudit(trx, {
			at: now,
			actor: viewer.name,
			subject: 'ticket',
			key: number,
			version: row.version,
			verb: 'show-passcode',
			detail: { readable: passcode !== null }
		});
		return passcode === null ? { ok: false, code: 'unreadable' } : { ok: true, passcode };
	});
}
