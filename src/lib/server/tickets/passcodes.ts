import { createCipheriv, createDecipheriv, createHash, randomBytes } from 'node:crypto';

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
export function openPasscode(sealed: Buffer, ticketNumber: string): string | null {
	try {
		const decipher = createDecipheriv('aes-256-gcm', key(), sealed.subarray(0, 12))
			.setAAD(Buffer.from(ticketNumber))
			.setAuthTag(sealed.subarray(12, 28));
		return Buffer.concat([decipher.update(sealed.subarray(28)), decipher.final()]).toString('utf8');
	} catch {
		return null;
	}
}
