import type { Knex } from 'knex';
import { z } from 'zod';
import { codeSchema } from '$lib/core/units/code';
import { roleSchema, type Role } from '$lib/core/units/role';
import { recordAudit } from '../audit/commands';
import { inTransaction, type Database, type Queryable } from '../database/connection';
import { holdCounter } from '../database/counters';
import { hashPassword } from './secrets';

export interface User {
	id: number;
	signIn: string;
	name: string;
	role: Role;
	technician: string | null;
	active: boolean;
	version: number;
}

export interface UserRow {
	id: number;
	sign_in: string;
	name: string;
	role: Role;
	technician: string | null;
	active: boolean | number;
	version: number;
}

export const toUser = (row: UserRow): User => ({
	id: row.id,
	signIn: row.sign_in,
	name: row.name,
	role: row.role,
	technician: row.technician,
	active: Boolean(row.active),
	version: row.version
});

export const passwordSchema = z
	.string()
	.min(10, 'is too short; use at least 10 characters')
	.max(200, 'is too long; use at most 200 characters');

export const newUserBody = z.strictObject({
	signIn: z
		.string()
		.trim()
		.toLowerCase()
		.regex(/^[a-z0-9][a-z0-9._-]{1,63}$/, 'is not usable; write 2 to 64 of a-z 0-9 . _ -'),
	name: z.string().trim().min(1, 'is empty').max(200),
	role: roleSchema,
	technician: codeSchema.nullable(),
	password: passwordSchema
});
export type NewUser = z.output<typeof newUserBody>;

export async function listUsers(db: Queryable): Promise<User[]> {
	return ((await db('users').orderBy('id')) as UserRow[]).map(toUser);
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
	return inTransaction(db, async (trx): Promise<UserAnswer> => {
		if (await trx('users').where({ sign_in: user.signIn }).first('id')) {
			return { ok: false, field: 'signIn', message: `is ${user.signIn}, which is taken; choose another` };
		}
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
		const managers = (await trx('users').where({ role: 'manager', active: 1 }).forUpdate().select('id')) as {
			id: number;
		}[];
		const user = (await trx('users').where({ id: change.id }).forUpdate().first()) as UserRow | undefined;
		if (!user) return { ok: false, field: 'id', message: 'names nobody; reload the page' };
		if (user.version !== change.version) {
			return { ok: false, field: 'version', message: 'somebody changed this account; reload the page' };
		}
		if (!change.active && managers.length === 1 && managers[0]?.id === user.id) {
			return { ok: false, field: 'active', message: 'the last manager cannot be shut out' };
		}
		await trx('users')
			.where({ id: user.id })
			.update({ active: change.active ? 1 : 0, version: user.version + 1 });
		if (!change.active) await trx('sessions').where({ user_id: user.id }).delete();
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
