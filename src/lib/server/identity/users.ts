import type { Knex } from 'knex';
import { z } from 'zod';
import { codeSchema } from '$lib/core/units/code';
import { roleSchema, type Role } from '$lib/core/units/role';
import { DAY_MS } from '$lib/core/units/instant';
import { endLinksOf } from './calendar-links';
import { recordAudit } from '../audit/commands';
import { inTransaction, type Database, type Queryable } from '../database/connection';
import type { Row } from '../database/tables';
import { holdCounter } from '../database/counters';
import { passwordSchema } from './passwords';
import { hashPassword, newOneTimePassword, verifyPassword } from './secrets';

export interface User {
	id: number;
	signIn: string;
	name: string;
	role: Role;
	technician: string | null;
	active: boolean;
	/** signed in with a one-time password: a new one comes before anything else */
	mustChange: boolean;
	version: number;
}

type UserRow = Omit<Row<'users'>, 'password_hash' | 'created_at' | 'password_until'>;

export const toUser = (row: UserRow): User => ({
	id: row.id,
	signIn: row.sign_in,
	name: row.name,
	role: row.role,
	technician: row.technician,
	active: row.active,
	mustChange: row.must_change,
	version: row.version
});

/** How names to sign in with are written and stored. */
export const SIGN_IN = /^[a-z0-9][a-z0-9._-]{1,63}$/;

export const newUserBody = z.strictObject({
	signIn: z.string().trim().toLowerCase().regex(SIGN_IN, 'is not usable; write 2 to 64 of a-z 0-9 . _ -'),
	name: z.string().trim().min(1, 'is empty').max(200),
	role: roleSchema,
	technician: codeSchema.nullable(),
	password: passwordSchema
});
export type NewUser = z.output<typeof newUserBody>;

export async function listUsers(db: Queryable): Promise<User[]> {
	return (await db('users').orderBy('id')).map(toUser);
}

export async function hasUsers(db: Queryable): Promise<boolean> {
	return Boolean(await db('users').first('id'));
}

export type UserAnswer = { ok: true } | { ok: false; field: string; message: string };

async function insertUser(trx: Knex.Transaction, user: NewUser, now: number): Promise<void> {
	await trx('users').insert({
		sign_in: user.signIn,
		name: user.name,
		role: user.role,
		technician: user.technician,
		password_hash: await hashPassword(user.password),
		created_at: new Date(now)
	});
}

/** The first account of an empty shop, a manager's. Refused as soon as there is any account. */
export async function makeFirstManager(
	db: Database,
	now: number,
	user: Omit<NewUser, 'role' | 'technician'>
): Promise<UserAnswer> {
	return inTransaction(db, async (trx): Promise<UserAnswer> => {
		await holdCounter(trx, 'ticket'); // two first visits at once take turns
		if (await hasUsers(trx)) {
			return { ok: false, field: 'signIn', message: 'the shop has a manager already; sign in' };
		}
		await insertUser(trx, { ...user, role: 'manager', technician: null }, now);
		await recordAudit(trx, {
			at: now,
			actor: user.name,
			subject: 'user',
			key: user.signIn,
			verb: 'add',
			detail: { role: 'manager', first: true }
		});
		return { ok: true };
	});
}

export async function addUser(db: Database, actor: string, now: number, user: NewUser): Promise<UserAnswer> {
	const nameTaken: UserAnswer = {
		ok: false,
		field: 'signIn',
		message: `is ${user.signIn}, which is taken; choose another`
	};
	return inTransaction(db, async (trx): Promise<UserAnswer> => {
		// those who add people take turns: the second of one name is told
		await holdCounter(trx, 'ticket');
		if (await trx('users').where({ sign_in: user.signIn }).first('id')) return nameTaken;
		await insertUser(trx, user, now);
		await recordAudit(trx, {
			at: now,
			actor,
			subject: 'user',
			key: user.signIn,
			verb: 'add',
			detail: { role: user.role, technician: user.technician }
		});
		return { ok: true };
	});
}

/** Lets a user in or shuts one out. Shutting out ends the user's sessions; the last manager stays. */
export async function setUserActive(
	db: Database,
	actor: string,
	now: number,
	change: { id: number; version: number; active: boolean }
): Promise<UserAnswer> {
	return inTransaction(db, async (trx): Promise<UserAnswer> => {
		const managers = await trx('users').where({ role: 'manager', active: true }).forUpdate().select('id');
		const user = await trx('users').where({ id: change.id }).forUpdate().first();
		if (!user) return { ok: false, field: 'id', message: 'names nobody; reload the page' };
		if (user.version !== change.version) {
			return { ok: false, field: 'version', message: 'somebody changed this account; reload the page' };
		}
		if (!change.active && managers.length === 1 && managers[0]?.id === user.id) {
			return { ok: false, field: 'active', message: 'the last manager cannot be shut out' };
		}
		await trx('users')
			.where({ id: user.id })
			.update({ active: change.active, version: user.version + 1 });
		if (!change.active) {
			await trx('sessions').where({ user_id: user.id }).delete();
			if (user.technician !== null) await endLinksOf(trx, user.technician);
		}
		await recordAudit(trx, {
			at: now,
			actor,
			subject: 'user',
			key: user.sign_in,
			verb: change.active ? 'let-in' : 'shut-out',
			detail: {}
		});
		return { ok: true };
	});
}

export const ownPasswordBody = z.strictObject({
	current: z.string().max(200),
	password: passwordSchema,
	again: z.string().max(200)
});

/** Changes one's own password. Who signs in with it elsewhere has to sign in anew. */
export async function changeOwnPassword(
	db: Database,
	now: number,
	userId: number,
	{ current, password, again: repeated }: z.output<typeof ownPasswordBody>
): Promise<UserAnswer> {
	if (password !== repeated)
		return { ok: false, field: 'again', message: 'is another than above; write it twice' };
	if (password === current)
		return { ok: false, field: 'password', message: 'is the old one; choose another' };
	const fresh = await hashPassword(password);
	return inTransaction(db, async (trx): Promise<UserAnswer> => {
		const row = await trx('users').where({ id: userId, active: true }).forUpdate().first();
		if (!row || !(await verifyPassword(row.password_hash, current))) {
			return {
				ok: false,
				field: 'current',
				message: 'is not your password; write the one you signed in with'
			};
		}
		await setPassword(trx, row, fresh, { mustChange: false, until: null });
		await recordAudit(trx, {
			at: now,
			actor: row.name,
			subject: 'user',
			key: row.sign_in,
			verb: 'change-password',
			detail: {}
		});
		return { ok: true };
	});
}

/** A one-time password is good for so long, and for one sign-in: a new one is chosen there and then. */
const ONE_TIME_MS = 2 * DAY_MS;

/**
 * Gives an account a one-time password, for a manager or for who sits at the machine itself. Its sessions end.
 * @returns the password, shown this once
 */
export async function resetPassword(
	db: Database,
	actor: string,
	now: number,
	target: { id: number } | { sign_in: string }
): Promise<{ ok: true; name: string; password: string } | { ok: false; message: string }> {
	const password = newOneTimePassword();
	const fresh = await hashPassword(password);
	return inTransaction(db, async (trx) => {
		const row = await trx('users').where(target).forUpdate().first();
		if (!row) return { ok: false, message: 'names nobody who can sign in here' };
		await setPassword(trx, row, fresh, { mustChange: true, until: new Date(now + ONE_TIME_MS) });
		await trx('sessions').where({ user_id: row.id }).delete();
		await recordAudit(trx, {
			at: now,
			actor,
			subject: 'user',
			key: row.sign_in,
			verb: 'reset-password',
			detail: {}
		});
		return { ok: true, name: row.name, password };
	});
}

const setPassword = (
	trx: Knex.Transaction,
	{ id, version }: UserRow,
	password_hash: string,
	{ mustChange, until }: { mustChange: boolean; until: Date | null }
) =>
	trx('users')
		.where({ id })
		.update({
			password_hash,
			must_change: mustChange,
			password_until: until,
			version: version + 1
		});
