import { createHash, randomBytes } from 'node:crypto';
import { hash, verify } from '@node-rs/argon2';

/** A secret that only its holder has; the store keeps its hash. 256 bits of chance. */
export const newToken = () => randomBytes(32).toString('base64url');
export const hashToken = (token: string) => createHash('sha256').update(token).digest('hex');

/** A password to read out once: four groups of five, without letters that look alike. 100 bits of chance. */
export function newOneTimePassword(): string {
	const letters = 'abcdefghjkmnpqrstuvwxyz23456789x';
	const signs = [...randomBytes(20)].map((byte) => letters[byte & 31]).join('');
	return (signs.match(/.{5}/g) ?? []).join('-');
}

/** Argon2id, 19 MiB, 2 passes, 1 lane: a recommended minimum of the OWASP cheat sheet, from memory. */
const ARGON = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };
export const hashPassword = (password: string) => hash(password, ARGON);
export const verifyPassword = (stored: string, password: string) => verify(stored, password);

/** A hash of nothing anybody knows: signing in as nobody takes as long as with a wrong password. */
let decoy: Promise<string> | undefined;
export async function verifyNobody(password: string): Promise<false> {
	decoy ??= hashPassword(newToken());
	await verifyPassword(await decoy, password);
	return false;
}
