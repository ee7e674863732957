import { setTimeout as sleep } from 'node:timers/promises';
import { DAY_MS, HOUR_MS, MINUTE_MS } from '$lib/core/units/instant';
import { recordAudit } from '../audit/commands';
import { inTransaction, type Database, type Queryable } from '../database/connection';
import { countAttempt, forgetAttempts, knownDevice, networkOf, newDevice } from './attempts';
import { hashToken, newToken, verifyNobody, verifyPassword } from './secrets';
import { SIGN_IN, toUser, type User } from './users';

/** A session ends after half a day without a sign of life, and after a week in any case. */
export const IDLE_HOURS = 12;
export const LONGEST_DAYS = 7;
const IDLE_MS = IDLE_HOURS * HOUR_MS;
const LONGEST_MS = LONGEST_DAYS * DAY_MS;
/** Its token is changed every hour; the old one still opens for a minute, for requests under way. */
const ROTATE_MS = HOUR_MS;
const GRACE_MS = MINUTE_MS;

/** Passwords looked at at once, and attempts that may stand in line: what is beyond is asked to come again. */
const LOOKED_AT_ONCE = 2;
const IN_LINE = 60;

export type SignInAnswer =
	| { ok: true; token: string; user: User; device: string }
	| { ok: false; field: string; message: string; waitSeconds?: number };

let inLine = 0;

/**
 * Signs in by name and password. Every attempt is counted first, by account (or by the device that has signed in to it
 * before) and by network; what is too many is slowed down, never locked out.
 */
export async function signIn(
	db: Database,
	now: number,
	request: { signIn: string; password: string; address: string; device?: string | undefined }
): Promise<SignInAnswer> {
	if (inLine >= IN_LINE) return wait(3, 'many sign in at this moment');
	inLine += 1;
	try {
		return await tryToSignIn(db, now, request);
	} finally {
		inLine -= 1;
	}
}

const wait = (waitSeconds: number, reason: string): SignInAnswer => ({
	ok: false,
	field: 'password',
	message: `${reason}; wait ${waitSeconds} ${waitSeconds === 1 ? 'second' : 'seconds'} and try again`,
	waitSeconds
});

async function tryToSignIn(
	db: Database,
	now: number,
	request: { signIn: string; password: string; address: string; device?: string | undefined }
): Promise<SignInAnswer> {
	// as it is stored: spellings that look alike are one name, or none
	const name = request.signIn.normalize('NFKC').trim().toLowerCase();
	const account = SIGN_IN.test(name) ? name : null;
	const key = account === null ? 'no name' : (knownDevice(request.device, account) ?? `account ${account}`);
	const network = networkOf(request.address).slice(0, 100);
	const attempt = await countAttempt(db, account === null ? `${key} ${network}` : key, network);
	if (!attempt.allowed) return wait(attempt.waitSeconds, 'too many attempts');
	if (attempt.slowMs > 0) await sleep(attempt.slowMs);
	const row =
		account === null ? undefined : await db('users').where({ sign_in: account, active: true }).first();
	const right = await lookedAt(() =>
		row ? verifyPassword(row.password_hash, request.password) : verifyNobody(request.password)
	);
	const late = row?.password_until && row.password_until.getTime() < now;
	if (!row || !right || late) {
		// of a flood from one network not every drop is written down
		if (!attempt.many) await noteDoor(db, now, row ? row.name : 'nobody known', 'sign-in-refused', network);
		return {
			ok: false,
			field: 'password',
			message:
				row && right
					? 'the one-time password has run out; ask the manager for another'
					: 'name and password do not match; check both'
		};
	}
	await forgetAttempts(db, key, network);
	await noteDoor(db, now, row.name, 'sign-in', network);
	return {
		ok: true,
		token: await openSession(db, now, row.id),
		user: toUser(row),
		device: newDevice(row.sign_in)
	};
}

let looking = 0;
const waitingToLook: (() => void)[] = [];

/** Looks at passwords few at a time: hashing is dear on purpose, and others want to work meanwhile. */
async function lookedAt(look: () => Promise<boolean>): Promise<boolean> {
	if (looking >= LOOKED_AT_ONCE) await new Promise<void>((resolve) => waitingToLook.push(resolve));
	looking += 1;
	try {
		return await look();
	} finally {
		looking -= 1;
		waitingToLook.shift()?.();
	}
}

const noteDoor = (db: Database, at: number, actor: string, verb: string, network: string) =>
	inTransaction(db, (trx) =>
		recordAudit(trx, { at, actor, subject: 'door', key: network, verb, detail: {} })
	);

export async function openSession(db: Database, now: number, userId: number): Promise<string> {
	const token = newToken();
	const at = new Date(now);
	await db('sessions').insert({
		user_id: userId,
		token_hash: hashToken(token),
		created_at: at,
		rotated_at: at,
		seen_at: at
	});
	await db('sessions')
		.where('seen_at', '<', new Date(now - IDLE_MS))
		.orWhere('created_at', '<', new Date(now - LONGEST_MS))
		.delete();
	return token;
}

/** Who a session token belongs to, and a new token where it was time to change it. */
export async function readSession(
	db: Database,
	now: number,
	token: string
): Promise<{ user: User; newToken: string | null } | null> {
	const hash = hashToken(token);
	const row = await db('sessions')
		.join('users', 'users.id', 'sessions.user_id')
		.where('users.active', 1)
		.andWhere((either) => either.where('sessions.token_hash', hash).orWhere('sessions.previous_hash', hash))
		.first(
			'users.*',
			'sessions.id as session_id',
			'sessions.token_hash',
			'sessions.created_at as created_at',
			'sessions.rotated_at',
			'sessions.seen_at'
		);
	if (!row) return null;
	const age = (at: Date) => now - at.getTime();
	if (age(row.seen_at) > IDLE_MS || age(row.created_at) > LONGEST_MS) return null;
	const old = row.token_hash !== hash;
	if (old && age(row.rotated_at) > GRACE_MS) return null;
	if (!old && age(row.rotated_at) > ROTATE_MS) {
		const next = newToken();
		const changed = await db('sessions')
			.where({ id: row.session_id, token_hash: hash })
			.update({
				token_hash: hashToken(next),
				previous_hash: hash,
				rotated_at: new Date(now),
				seen_at: new Date(now)
			});
		return { user: toUser(row), newToken: changed === 1 ? next : null };
	}
	if (age(row.seen_at) > MINUTE_MS) {
		await db('sessions')
			.where({ id: row.session_id })
			.update({ seen_at: new Date(now) });
	}
	return { user: toUser(row), newToken: null };
}

export async function endSession(db: Database, token: string): Promise<void> {
	await db('sessions')
		.where({ token_hash: hashToken(token) })
		.orWhere({ previous_hash: hashToken(token) })
		.delete();
}

/** Ends every session of a user but one, as after a change of password. */
export async function endOtherSessions(db: Queryable, userId: number, keep: string | null): Promise<void> {
	await db('sessions')
		.where({ user_id: userId })
		.andWhereNot('token_hash', keep === null ? '' : hashToken(keep))
		.delete();
}
