import { createHash } from 'node:crypto';
import { DAY_MS, HOUR_MS, MINUTE_MS } from '$lib/core/units/instant';
import type { Database } from '../database/connection';
import { hashToken, newToken, verifyNobody, verifyPassword } from './secrets';
import { toUser, type User, type UserRow } from './users';

/** A session ends after half a day without a sign of life, and after a week in any case. */
const IDLE_MS = 12 * HOUR_MS;
const LONGEST_MS = 7 * DAY_MS;
/** Its token is changed every hour; the old one still opens for a minute, for requests under way. */
const ROTATE_MS = HOUR_MS;
const GRACE_MS = MINUTE_MS;

const WINDOW_MS = 15 * MINUTE_MS;
const MOST_PER_NAME = 6;
const MOST_PER_ADDRESS = 40;

export type SignInAnswer =
	{ ok: true; token: string; user: User } | { ok: false; field: string; message: string };

/**
 * Signs in by name and password. Failures are counted in the database by name with address and by
 * address, so a second process counts along.
 */
export async function signIn(
	db: Database,
	now: number,
	request: { signIn: string; password: string; address: string }
): Promise<SignInAnswer> {
	const name = request.signIn.trim().toLowerCase();
	const subjects = [subject(`${name}@${request.address}`), subject(request.address)] as const;
	await db('sign_in_failures')
		.where('at', '<', new Date(now - WINDOW_MS))
		.delete();
	if (await tooMany(db, now, subjects)) {
		return {
			ok: false,
			field: 'password',
			message: 'too many attempts; wait a quarter of an hour or ask the manager'
		};
	}
	const row = (await db('users').where({ sign_in: name, active: 1 }).first()) as
		(UserRow & { password_hash: string }) | undefined;
	const right = row
		? await verifyPassword(row.password_hash, request.password)
		: await verifyNobody(request.password);
	if (!row || !right) {
		await db('sign_in_failures').insert(subjects.map((subject) => ({ subject, at: new Date(now) })));
		return { ok: false, field: 'password', message: 'name and password do not match; check both' };
	}
	await db('sign_in_failures').where({ subject: subjects[0] }).delete();
	return { ok: true, token: await openSession(db, now, row.id), user: toUser(row) };
}

const subject = (words: string) => createHash('sha256').update(words).digest('hex');

async function tooMany(
	db: Database,
	now: number,
	[byName, byAddress]: readonly [string, string]
): Promise<boolean> {
	const count = async (who: string) => {
		const row = (await db('sign_in_failures')
			.where({ subject: who })
			.andWhere('at', '>=', new Date(now - WINDOW_MS))
			.count({ n: '*' })
			.first()) as { n: number | string };
		return Number(row.n);
	};
	return (await count(byName)) >= MOST_PER_NAME || (await count(byAddress)) >= MOST_PER_ADDRESS;
}

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

interface SessionRow extends UserRow {
	session_id: number;
	token_hash: string;
	created_at: Date;
	rotated_at: Date;
	seen_at: Date;
}

/** Who a session token belongs to, and a new token where it was time to change it. */
export async function readSession(
	db: Database,
	now: number,
	token: string
): Promise<{ user: User; newToken: string | null } | null> {
	const hash = hashToken(token);
	const row = (await db('sessions')
		.join('users', 'users.id', 'sessions.user_id')
		.where('users.active', 1)
		.andWhere((any) => any.where('sessions.token_hash', hash).orWhere('sessions.previous_hash', hash))
		.first(
			'users.*',
			'sessions.id as session_id',
			'sessions.token_hash',
			'sessions.created_at as created_at',
			'sessions.rotated_at',
			'sessions.seen_at'
		)) as SessionRow | undefined;
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
		.delete();
}
